package servitor.core.handbook;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;
import servitor.core.json.Json;
import servitor.core.origin.Formats;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * One operation a step or an agent can call.
 *
 * @param name {@code file.operation}, such as {@code fares.find-booking}
 * @param desk whose it is: an engineer there agrees to changes of it and to grants; {@link #HOUSE}, or empty where nobody has said
 * @param says what a call of it does, in one line over {@code args} and {@code source(args.x)}; null when that is made from its name
 * @param works how much whoever calls it is trusted with it
 * @param personal whether reading it reveals personal data
 * @param inputs JSON Schema of the inputs, always of type object
 * @param outputs JSON Schema of the answer; an empty schema when nothing is declared
 * @param identifies inputs that say whose or which record is meant
 * @param speaks inputs whose text reaches people outside
 * @param fixed inputs that always have this value, whoever calls
 * @param conceal dotted paths of answers' fields that models never see
 * @param freeText dotted paths of answers' fields that hold what people outside wrote
 * @param ownWords whether the texts of its answer are its own, and never made from a text that it was given
 * @param echoes dotted paths of answers' fields that repeat an input, each with that input: an answer that repeats another value is
 *     the answer to another call
 * @param examples inputs as somebody would give them
 * @param settleWith how to find out whether a call in doubt happened; null when only people can
 * @param job how to wait for what the call only starts; null when its answer is all there is
 * @param timeLimit how long one call may take
 * @param problems named problems by protocol status, such as {@code 404 → not-found}
 */
public record Tool(
        String name,
        String desk,
        String description,
        @Nullable Template says,
        Effect effect,
        WayOfWorking works,
        boolean personal,
        JsonNode inputs,
        JsonNode outputs,
        Set<String> identifies,
        Set<String> speaks,
        Map<String, JsonNode> fixed,
        Set<String> conceal,
        Set<String> freeText,
        boolean ownWords,
        Map<String, String> echoes,
        List<JsonNode> examples,
        Map<Integer, String> problems,
        @Nullable SettleWith settleWith,
        @Nullable Job job,
        Duration timeLimit,
        Binding binding,
        Place place) {

    /** What stands for a desk where a tool or connection belongs to none of them. */
    public static final String HOUSE = "house";

    /** How long one call may take where the tool doesn't say. */
    public static final Duration TIME_LIMIT = Duration.ofSeconds(10);

    /** Stands for the address to be called back at (a name that is never anybody's, RFC 2606) until the call leaves. */
    public static final String CALL_BACK = "https://call-back.invalid/";

    public Tool {
        identifies = Set.copyOf(identifies);
        speaks = Set.copyOf(speaks);
        fixed = Map.copyOf(fixed);
        conceal = Set.copyOf(conceal);
        freeText = Set.copyOf(freeText);
        echoes = Map.copyOf(echoes);
        examples = List.copyOf(examples);
        problems = Map.copyOf(problems);
    }

    /**
     * A lookup that says whether a call in doubt happened.
     *
     * @param tool a tool that only reads
     * @param inputs its inputs, over {@code args} of the doubtful call and its {@code key}
     * @param happened whether it happened, over the same and what was {@code found}
     * @param result what the call gave, over the same
     * @param after how long to wait before looking, so that a slow system has done what reached it
     * @param repeat whether the call is made again when it hasn't happened; otherwise people are asked
     */
    public record SettleWith(
            String tool, Template inputs, Expression happened, Template result, Duration after, boolean repeat) {}

    /**
     * Work that the outside system does after it has answered. Until it is done, nothing waits for it but a row.
     *
     * @param started JSON Schema of what the call answers at once
     * @param tool a tool that only reads and tells how far it is
     * @param inputs its inputs, over {@code args} of the call and its {@code answer}
     * @param done whether it is done, over the same and what was {@code found}
     * @param failed whether it has failed, over the same; null when that can't be told
     * @param result what it gave, over the same
     * @param every how long to wait between looks
     * @param within how long it may take
     * @param callsBack the input that takes the address to call when it is done, upon which it is looked at once; null for none
     */
    public record Job(
            JsonNode started,
            String tool,
            Template inputs,
            Expression done,
            @Nullable Expression failed,
            Template result,
            Duration every,
            Duration within,
            @Nullable String callsBack) {}

    /** JSON Schema of what a call answers at once; what it gives in the end is {@link #outputs}. */
    public JsonNode answers() {
        return job == null ? outputs : job.started();
    }

    /**
     * The inputs that nobody who calls gives: those that are fixed, and the address to be called back at, which stands for itself
     * until the call leaves.
     */
    public Map<String, JsonNode> house() {
        if (job == null || job.callsBack() == null) {
            return fixed;
        }
        Map<String, JsonNode> house = new LinkedHashMap<>(fixed);
        house.put(job.callsBack(), Json.of(CALL_BACK));
        return house;
    }

    /** The inputs that callers give: all but those that the {@link #house} gives. */
    public JsonNode given() {
        Map<String, JsonNode> house = house();
        if (house.isEmpty()) {
            return inputs;
        }
        ObjectNode given = (ObjectNode) inputs.deepCopy();
        ((ObjectNode) given.path("properties")).remove(house.keySet());
        given.set(
                "required",
                Json.of(given.path("required")
                        .valueStream()
                        .map(name -> name.asString(""))
                        .filter(name -> !house.containsKey(name))
                        .toList()));
        return given;
    }

    /** What it does in a word or two, as its name has it: {@code fares.pay-refund} becomes ‘Pay refund’. */
    public String title() {
        String operation = name.substring(name.lastIndexOf('.') + 1).replace('-', ' ');
        return operation.substring(0, 1).toUpperCase(Locale.ROOT) + operation.substring(1);
    }

    /** Whether {@link #says} may hold an input: its type says what it can be, so that nobody writes sentences into it. */
    public boolean canSay(String input) {
        JsonNode schema = inputs.path("properties").path(input);
        boolean typed = Set.of("number", "integer", "boolean")
                .contains(schema.path("type").asString(""));
        return !speaks.contains(input)
                && (typed
                        || schema.has("enum")
                        || schema.has("const")
                        || schema.has("pattern")
                        || Formats.of(schema).isPresent());
    }

    /** Whether it is just the same, wherever it stands. */
    public boolean sameAs(Tool other) {
        return equals(other.at(place));
    }

    private Tool at(Place elsewhere) {
        return new Tool(
                name,
                desk,
                description,
                says,
                effect,
                works,
                personal,
                inputs,
                outputs,
                identifies,
                speaks,
                fixed,
                conceal,
                freeText,
                ownWords,
                echoes,
                examples,
                problems,
                settleWith,
                job,
                timeLimit,
                binding,
                elsewhere);
    }

    /** The inputs that are amounts of money, in order. */
    public List<String> amounts() {
        return inputs.path("properties").properties().stream()
                .filter(e -> Formats.isAmount(e.getValue()))
                .map(Map.Entry::getKey)
                .toList();
    }

    /** Whether the tool is meant by a pattern such as {@code fares.*}. */
    public boolean matches(String pattern) {
        return matches(pattern, name);
    }

    public static boolean matches(String pattern, String name) {
        if (pattern.indexOf('*') < 0) {
            return name.equals(pattern);
        }
        StringBuilder regex = new StringBuilder();
        for (String piece : pattern.split("\\*", -1)) {
            regex.append(regex.isEmpty() ? "" : ".*").append(java.util.regex.Pattern.quote(piece));
        }
        return name.matches(regex.toString());
    }
}
