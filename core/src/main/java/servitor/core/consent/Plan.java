package servitor.core.consent;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import servitor.core.json.Json;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What somebody means to do: which tools, with which inputs, and how often. People are shown exactly this, and a call that no line of it
 * covers isn't part of what they agreed to.
 *
 * @param lines in their order; at least one, and no more than people can read
 */
public record Plan(List<Line> lines) {
    /** What a line names as its tool that takes none. */
    public static final String NO_TOOL = "none";

    private static final int MOST_LINES = 40;
    private static final int MOST_TIMES = 100;
    private static final int MOST_INPUTS = 20;
    private static final int LONGEST = 2_000;
    /** How earlier versions wrote a line: what is done, and in brackets with which tool. */
    private static final Pattern IN_WORDS = Pattern.compile("(?s)(.*) \\(([^()]*)\\)");

    /**
     * One thing that is meant to be done.
     *
     * @param does in words
     * @param tool the tool it takes, or {@link #NO_TOOL}
     * @param with the inputs that it fixes, as texts; others are chosen when it comes to it
     * @param atMost how often
     */
    public record Line(String does, String tool, Map<String, String> with, int atMost) {
        public Line {
            with = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(with));
            if (does.isBlank() || does.length() > LONGEST) {
                throw new IllegalArgumentException(
                        "each step of a plan says what it does, in at most " + LONGEST + " characters");
            }
            if (atMost < 1 || atMost > MOST_TIMES) {
                throw new IllegalArgumentException(
                        "‘" + tool + "’ is meant " + atMost + " times, and may be 1 to " + MOST_TIMES);
            }
            if (with.size() > MOST_INPUTS || with.values().stream().anyMatch(value -> value.length() > LONGEST)) {
                throw new IllegalArgumentException(
                        "‘" + tool + "’ is given more or longer inputs than people can read");
            }
        }

        public boolean takesTool() {
            return !tool.equals(NO_TOOL);
        }

        private boolean covers(String called, Map<String, String> inputs) {
            return tool.equals(called)
                    && with.entrySet().stream()
                            .allMatch(fixed -> fixed.getValue().equals(inputs.get(fixed.getKey())));
        }
    }

    public Plan {
        lines = List.copyOf(lines);
        if (lines.isEmpty()) {
            throw new IllegalArgumentException("a plan has at least one step");
        }
        if (lines.size() > MOST_LINES) {
            throw new IllegalArgumentException("a plan has at most " + MOST_LINES + " steps");
        }
    }

    /** What a model that is asked for a plan answers, where it may name {@code tools}. */
    public static Shape.ListOf shape(List<String> tools) {
        List<String> named = new ArrayList<>(tools);
        named.add(NO_TOOL);
        Map<String, Shape> input = new LinkedHashMap<>();
        input.put("input", Shape.TEXT);
        input.put("is", Shape.TEXT);
        Map<String, Shape> line = new LinkedHashMap<>();
        line.put("does", Shape.TEXT);
        line.put("tool", new Shape.OneOf(named));
        line.put("with", new Shape.ListOf(Shape.Fields.of(input)));
        line.put("at-most", Shape.WHOLE);
        return new Shape.ListOf(Shape.Fields.of(line));
    }

    /**
     * Reads a plan as a model gave it or as it was kept; of one that earlier versions kept in words each step counts once.
     *
     * @throws IllegalArgumentException says what is wrong with it
     */
    @JsonCreator
    public static Plan of(JsonNode lines) {
        boolean inWords =
                lines.path(0).isString(); // those had no bounds, and what doesn't stand in a plan isn't agreed to
        return new Plan(lines.valueStream()
                .limit(inWords ? MOST_LINES : Long.MAX_VALUE)
                .map(inWords ? Plan::inWords : Plan::line)
                .toList());
    }

    private static Line inWords(JsonNode line) {
        Matcher matcher = IN_WORDS.matcher(line.asString(""));
        String does = matcher.matches() ? matcher.group(1) : line.asString("");
        String some = does.isBlank() ? "…" : does.substring(0, Math.min(does.length(), LONGEST));
        return new Line(some, matcher.matches() ? matcher.group(2) : NO_TOOL, Map.of(), 1);
    }

    private static Line line(JsonNode line) {
        Map<String, String> with = new LinkedHashMap<>();
        line.path("with")
                .forEach(one ->
                        with.put(one.path("input").asString(""), one.path("is").asString("")));
        return new Line(
                line.path("does").asString("").strip(),
                line.path("tool").asString(NO_TOOL),
                with,
                line.path("at-most").asInt(1));
    }

    /** The plan as it is kept, and as a model gives it. */
    @JsonValue
    public JsonNode json() {
        ArrayNode all = Json.mapper().createArrayNode();
        for (Line line : lines) {
            ObjectNode one = all.addObject().put("does", line.does()).put("tool", line.tool());
            ArrayNode with = one.putArray("with");
            line.with()
                    .forEach((input, is) -> with.addObject().put("input", input).put("is", is));
            one.put("at-most", line.atMost());
        }
        return all;
    }

    /** The same with one more line. */
    public Plan and(Line more) {
        List<Line> all = new ArrayList<>(lines);
        all.add(more);
        return new Plan(all);
    }

    /**
     * The line that covers a call, the one that fixes most first; empty when it is beyond the plan.
     *
     * @param inputs of the call, as {@link #text} writes them
     * @param taken the lines that calls have taken so far, each as often as it was
     */
    public Optional<Integer> covering(String tool, Map<String, String> inputs, List<Integer> taken) {
        return IntStream.range(0, lines.size())
                .boxed()
                .filter(at -> lines.get(at).covers(tool, inputs))
                .filter(at -> taken.stream().filter(at::equals).count()
                        < lines.get(at).atMost())
                .max(Comparator.comparing((Integer at) -> lines.get(at).with().size())
                        .thenComparing(Comparator.reverseOrder()));
    }

    /** A value as plans write it: numbers without an exponent or zeros behind, whatever is no text or number as JSON. */
    public static String text(JsonNode value) {
        if (value.isNumber()) {
            return value.decimalValue().stripTrailingZeros().toPlainString();
        }
        return value.isString() ? value.stringValue() : Json.write(value);
    }

    /** The tools that it means to call. */
    public Set<String> tools() {
        return lines.stream().filter(Line::takesTool).map(Line::tool).collect(java.util.stream.Collectors.toSet());
    }
}
