package servitor.standins.model;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import servitor.standins.model.Asked.Offer;
import servitor.standins.model.Asked.Turn;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Which tools to call next: those that look, then those that act, each once, with what is known as inputs. Among several candidates
 * and about what isn't there people are asked, where they can be.
 */
final class Calling {
    private static final String ASK = "case__ask";
    private static final String PLAN = "case__plan";
    private static final Pattern ONLY = Pattern.compile("(?:one|those|what) that (?:is|are) (\\w+)");
    private static final Pattern SUCH = Pattern.compile("such as ([^.;:]+)");
    private static final List<String> FREE = List.of("word", "words", "query", "text", "name", "thing", "what");
    private static final int MOST_TRIES = 3;

    private final Asked asked;
    private final Known known;
    private final String said;
    private final List<Turn> turns;

    /** A call to make. */
    record Call(String tool, ObjectNode args) {}

    Calling(Asked asked, Known known) {
        this.asked = asked;
        this.known = known;
        this.said = asked.everything();
        this.turns = asked.turns();
    }

    /** The calls to make now; none when there is nothing left to call. */
    List<Call> next() {
        List<Offer> offers = asked.tools().stream()
                .filter(tool -> !tool.is(ASK) && !tool.is(PLAN))
                .toList();
        if (offers.isEmpty()) {
            return List.of();
        }
        Optional<Call> mending = mending();
        if (mending.isPresent()) {
            return List.of(mending.get());
        }
        List<Call> looks = offers.stream()
                .filter(Offer::looks)
                .flatMap(tool -> look(tool).stream())
                .toList();
        if (!looks.isEmpty()) {
            return asked.body().path("parallel_tool_calls").asBoolean(true) ? looks : looks.subList(0, 1);
        }
        return offers.stream()
                .filter(tool -> !tool.looks())
                .flatMap(tool -> act(tool).stream())
                .limit(1)
                .toList();
    }

    /** What isn't there is asked about; once people say that it is, the same is looked up again. */
    private Optional<Call> mending() {
        if (turns.isEmpty()) {
            return Optional.empty();
        }
        Turn last = turns.get(turns.size() - 1);
        if (last.result().startsWith("not-found")
                && asked.tool(ASK).isPresent()
                && !last.tool().equals(ASK)) {
            String what = last.args().isEmpty() ? "What " + spoken(last.tool()) + " looks for" : list(last.args());
            return Optional.of(question(what + " isn't there. Is it there now?", List.of(), ""));
        }
        if (last.tool().equals(ASK) && turns.size() > 1) {
            Turn before = turns.get(turns.size() - 2);
            String answer = last.answer().path("answer").asString("").toLowerCase(Locale.ROOT);
            if (before.result().startsWith("not-found") && Lexicon.says("there now", answer)) {
                return Optional.of(new Call(before.tool(), (ObjectNode) before.args()));
            }
        }
        return Optional.empty();
    }

    private static String list(JsonNode args) {
        List<String> parts = new ArrayList<>();
        args.properties()
                .forEach(
                        e -> parts.add("The " + e.getKey() + " ‘" + e.getValue().asString("") + "’"));
        return String.join(", ", parts);
    }

    private static String spoken(String tool) {
        return tool.replace("__", ".");
    }

    private List<Turn> made(Offer tool) {
        return turns.stream().filter(turn -> tool.is(turn.tool())).toList();
    }

    private Optional<Call> look(Offer tool) {
        List<Turn> made = made(tool);
        if (made.isEmpty()) {
            return inputs(tool, 0).map(args -> new Call(tool.name(), args));
        }
        if (again(tool, made)) {
            return Optional.of(new Call(tool.name(), (ObjectNode) made.get(0).args()));
        }
        boolean nothing = made.stream().allMatch(turn -> turn.worked() && isEmpty(turn.answer()));
        return nothing && made.size() < MOST_TRIES
                ? inputs(tool, made.size())
                        .filter(args ->
                                made.stream().noneMatch(turn -> turn.args().equals(args)))
                        .map(args -> new Call(tool.name(), args))
                : Optional.empty();
    }

    /** Whether the instruction wants another look after something was done, and there was none yet. */
    private boolean again(Offer tool, List<Turn> made) {
        if (!asked.instruction().toLowerCase(Locale.ROOT).matches("(?s).*\\b(look|check) again\\b.*")) {
            return false;
        }
        Turn last = made.get(made.size() - 1);
        return turns.subList(turns.indexOf(last) + 1, turns.size()).stream()
                .anyMatch(turn -> turn.worked()
                        && asked.tool(turn.tool()).filter(one -> !one.looks()).isPresent()
                        && !tool.is(turn.tool())
                        && !turn.tool().equals(ASK));
    }

    private static boolean isEmpty(JsonNode answer) {
        return !answer.isEmpty()
                && answer.properties().stream()
                        .allMatch(e -> e.getValue().isArray() && e.getValue().isEmpty());
    }

    private Optional<Call> act(Offer tool) {
        if (!made(tool).isEmpty() || !isMeant(tool)) {
            return Optional.empty();
        }
        for (JsonNode input : tool.inputs().path("required")) {
            String name = input.asString("");
            List<JsonNode> candidates = open(tool, name);
            if (candidates.size() > 1 && asked.tool(ASK).isPresent()) {
                boolean turnedDown = turns.stream()
                        .anyMatch(
                                turn -> turn.tool().equals(ASK) && turn.result().contains("\"declined\""));
                return turnedDown ? Optional.empty() : Optional.of(question("Which is meant?", candidates, name));
            }
        }
        return inputs(tool, 0).map(args -> new Call(tool.name(), args));
    }

    /** Whether what the tool is for is so: one that helps what is frozen isn't called for what is dark. */
    private boolean isMeant(Offer tool) {
        Matcher only = ONLY.matcher(tool.description());
        Optional<JsonNode> state = known.named("state");
        return !only.find() || state.isEmpty() || state.get().asString("").equals(only.group(1));
    }

    /** The candidates of an input that are still open: those that fit, and among them those whose words were said. */
    private List<JsonNode> open(Offer tool, String name) {
        List<JsonNode> all =
                known.candidates(name).stream().filter(this::canBeHad).toList();
        Optional<String> chosen = chosen();
        List<JsonNode> picked = all.stream()
                .filter(one -> chosen.filter(
                                answer -> one.path(name).asString("").equals(answer))
                        .isPresent())
                .toList();
        if (!picked.isEmpty() || all.size() < 2) {
            return picked.isEmpty() ? all : picked;
        }
        long most = all.stream().mapToLong(this::said).max().orElse(0);
        return most == 0 ? all : all.stream().filter(one -> said(one) == most).toList();
    }

    private Optional<String> chosen() {
        return turns.stream()
                .filter(turn -> turn.tool().equals(ASK))
                .map(turn -> turn.answer().path("answer").asString(""))
                .filter(answer -> !answer.isEmpty())
                .reduce((earlier, later) -> later);
    }

    /** How many words of a candidate the request holds, or signs of them. */
    private long said(JsonNode candidate) {
        String words = (asked.words() + " " + asked.request().path("fields")).toLowerCase(Locale.ROOT);
        StringBuilder text = new StringBuilder();
        candidate.forEach(value -> text.append(' ').append(value.asString("")));
        return Lexicon.telling(text.toString()).stream()
                .filter(word -> Lexicon.says(word, words))
                .count();
    }

    /** Whether some are left of it, and it costs no more than it may. */
    private boolean canBeHad(JsonNode candidate) {
        return fits(candidate, known);
    }

    static boolean fits(JsonNode candidate, Known known) {
        JsonNode left = candidate.path("left");
        JsonNode price = candidate.path("price");
        BigDecimal limit = known.named("limit")
                .filter(JsonNode::isNumber)
                .map(JsonNode::decimalValue)
                .orElse(null);
        return (!left.isNumber() || left.decimalValue().signum() > 0)
                && (limit == null || !price.isNumber() || price.decimalValue().compareTo(limit) <= 0);
    }

    private static Call question(String words, List<JsonNode> candidates, String name) {
        ObjectNode args = Asked.JSON.createObjectNode().put("question", words);
        if (!candidates.isEmpty()) {
            ArrayNode list = args.putArray("candidates");
            candidates.forEach(one ->
                    list.addObject().put("value", one.path(name).asString("")).put("title", title(one, name)));
        }
        return new Call(ASK, args);
    }

    private static String title(JsonNode candidate, String name) {
        List<String> parts = new ArrayList<>();
        candidate.properties().stream()
                .filter(e -> !e.getKey().equals(name) && e.getValue().isValueNode())
                .sorted(Comparator.comparing(e -> !e.getValue().isString()))
                .forEach(e -> parts.add(
                        e.getValue().isString()
                                ? e.getValue().asString("")
                                : e.getKey() + " " + e.getValue().asString("")));
        return parts.isEmpty() ? candidate.path(name).asString("") : String.join(", ", parts);
    }

    /** The inputs of a tool by what is known; empty when one that has to be there isn't known. */
    private Optional<ObjectNode> inputs(Offer tool, int attempt) {
        ObjectNode inputs = Asked.JSON.createObjectNode();
        for (JsonNode required : tool.inputs().path("required")) {
            String name = required.asString("");
            Optional<JsonNode> value = input(tool, name, attempt);
            if (value.isEmpty()) {
                return Optional.empty();
            }
            inputs.set(name, value.get());
        }
        return Optional.of(inputs);
    }

    private Optional<JsonNode> input(Offer tool, String name, int attempt) {
        JsonNode shape = tool.inputs().path("properties").path(name);
        Optional<JsonNode> value = known.named(name);
        if (value.isPresent()) {
            return value;
        }
        List<JsonNode> candidates = open(tool, name);
        if (!candidates.isEmpty()) {
            return Optional.of(candidates.get(0).path(name));
        }
        if (shape.has("enum")) {
            JsonNode options = shape.path("enum");
            return Optional.of(new Labels(asked)
                    .of(options)
                    .<JsonNode>map(label -> Asked.JSON.getNodeFactory().stringNode(label))
                    .orElse(options.get(options.size() - 1)));
        }
        Optional<JsonNode> fitting = known.fitting(shape);
        return fitting.isPresent() || !shape.path("pattern").asString("").isEmpty() || !FREE.contains(name)
                ? fitting
                : words(attempt);
    }

    /** The words that the instruction gives to choose from: {@code such as a, b or c}. */
    private Stream<String> offered() {
        Matcher such = SUCH.matcher(asked.instruction());
        return such.find() ? Stream.of(such.group(1).split(",\\s*|\\s+(?:or|and)\\s+")) : Stream.empty();
    }

    /** What to look for: what was judged to be meant, or things that stand in the request, one after the other. */
    private Optional<JsonNode> words(int attempt) {
        List<String> things = new ArrayList<>();
        for (String other : FREE) {
            known.named(other)
                    .map(value -> value.asString(""))
                    .filter(value -> !value.isEmpty() && !value.contains(" "))
                    .ifPresent(things::add);
        }
        List<String> offered = offered().toList();
        offered.stream().filter(thing -> Lexicon.says(thing, said)).forEach(things::add);
        // where the instruction says what there is, other words only count as what the request is called by
        things.addAll(Lexicon.telling(
                offered.isEmpty()
                        ? asked.words()
                        : asked.request().path("subject").asString("")));
        List<String> distinct = things.stream().distinct().toList();
        return attempt < distinct.size()
                ? Optional.of(Asked.JSON.getNodeFactory().stringNode(distinct.get(attempt)))
                : Optional.empty();
    }

    /** What a tool does, as something one means to do: ‘Restarts a kiosk; …’ becomes ‘Restart a kiosk.’ */
    private static String told(Offer tool) {
        String first = tool.description().split("(?<=[.;])\\s")[0].replaceFirst("[.;]$", "");
        return first.replaceFirst("^(\\p{Lu}\\w+[^s\\W])s\\b", "$1") + ".";
    }

    /** What is meant to be done, step by step. */
    ArrayNode plan() {
        ArrayNode plan = Asked.JSON.createArrayNode();
        Pattern line = Pattern.compile("^- (\\S+): (.*)$", Pattern.MULTILINE);
        int form = Math.max(0, asked.user().indexOf("# Form"));
        int facts = asked.user().indexOf("\n# Facts");
        Matcher matcher = line.matcher(
                asked.user().substring(form, facts < form ? asked.user().length() : facts));
        List<ObjectNode> acts = new ArrayList<>();
        while (matcher.find()) {
            Offer tool = new Offer(matcher.group(1), matcher.group(2), Asked.JSON.createObjectNode());
            ObjectNode step = line(told(tool), tool.name());
            if (tool.looks()) {
                plan.add(step);
            } else {
                acts.add(step);
            }
        }
        acts.forEach(plan::add);
        return plan.add(line("Say what came of it.", "none"));
    }

    /** A step that fixes no input and is meant once. */
    private static ObjectNode line(String does, String tool) {
        ObjectNode line = Asked.JSON.createObjectNode().put("does", does).put("tool", tool);
        line.putArray("with");
        return line.put("at-most", 1);
    }
}
