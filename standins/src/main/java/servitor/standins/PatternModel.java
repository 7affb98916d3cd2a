package servitor.standins;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Gives typed answers, plans and tool calls by patterns: words of the request against the words of the schema. It
 * understands nothing, and says so in every reason.
 */
final class PatternModel {
    private static final Pattern DATE = Pattern.compile("\\b\\d{4}-\\d{2}-\\d{2}\\b");
    private static final Pattern NUMBER = Pattern.compile("\\b\\d+(?:[.,]\\d+)?\\b");
    /** Words by which the stand-in knows an option or a yes. */
    private static final Map<String, List<String>> SIGNS = Map.ofEntries(
            Map.entry("angry", List.of("unacceptable", "angry", "never again", "shame", "!!", "worst", "unerhört")),
            Map.entry("upset", List.of("disappoint", "upset", "sad", "pity", "enttäuscht")),
            Map.entry("calm", List.of("please", "thank", "bitte", "danke", "hello")),
            Map.entry("delay", List.of("late", "delay", "waited", "verspät")),
            Map.entry("staff", List.of("rude", "crew", "staff", "unfriendly", "steward")),
            Map.entry("comfort", List.of("dirty", "cold", "seat", "noise", "smell", "schmutzig")),
            Map.entry("question", List.of("?", "how ", "when ", "where ", "which ", "may i")),
            Map.entry("complaint", List.of("complain", "unacceptable", "disappoint")),
            Map.entry("wish", List.of("please give", "i need", "i want", "could you", "order")),
            Map.entry("broken", List.of("broken", "defect", "does not work", "doesn't work", "leak", "dark")),
            Map.entry("request", List.of("please", "need", "could you")),
            Map.entry("fault", List.of("broken", "defect", "leak", "dark", "fault", "dead")),
            Map.entry("place", List.of("deck", "bridge", "cabin", "engine room", "mast")),
            Map.entry("isolation", List.of("isolat", "lock-out", "breaker")),
            Map.entry("photo", List.of("photo", "picture")),
            Map.entry("urgent", List.of("urgent", "danger", "at once", "hurt", "leak", "smoke", "nobody can")),
            Map.entry("scanner", List.of("scan")),
            Map.entry("jacket", List.of("jacket", "coat", "wet through")),
            Map.entry("a sea medical certificate", List.of("sea medical", "fit for duty", "seafarer")),
            Map.entry("a pay slip", List.of("pay slip", "payslip", "net pay")),
            Map.entry("a letter", List.of("dear ", "yours ")),
            Map.entry("a bill", List.of("invoice", "amount due")),
            Map.entry("people", List.of("colleague", "bully", "harass")));

    private final String prompt;
    private final String request;
    private final ObjectNode known = JsonServer.JSON.createObjectNode();
    private final JsonNode body;

    PatternModel(String prompt, JsonNode body) {
        this.prompt = prompt;
        this.body = body;
        JsonNode asked = fenced("request");
        String document = fenced("facts").path("document").asString("");
        this.request = !document.isEmpty()
                ? document.toLowerCase(Locale.ROOT)
                : (asked.path("subject").asString("") + " " + asked.path("text").asString("") + " "
                                + asked.path("fields"))
                        .toLowerCase(Locale.ROOT);
        flatten("", asked);
        flatten("", fenced("facts"));
        for (JsonNode message : body.path("messages")) {
            if (message.path("role").asString("").equals("tool")) {
                String content = message.path("content").asString("");
                if (content.startsWith("{")) {
                    flatten("", JsonServer.JSON.readTree(content));
                }
            }
        }
    }

    private JsonNode fenced(String name) {
        Matcher matcher = Pattern.compile("<<<outside (" + name + " \\w+)\n(.*?)\n>>>outside \\1", Pattern.DOTALL)
                .matcher(prompt);
        return matcher.find() ? JsonServer.JSON.readTree(matcher.group(2)) : JsonServer.JSON.createObjectNode();
    }

    /** Leaves by their last name; the first of a list counts, later ones don't. */
    private void flatten(String name, JsonNode node) {
        if (node.isObject()) {
            node.properties().forEach(e -> flatten(e.getKey(), e.getValue()));
        } else if (node.isArray()) {
            if (!node.isEmpty()) {
                flatten(name, node.get(0));
            }
        } else if (!name.isEmpty() && !node.isNull()) {
            known.set(name, node);
        }
    }

    /** The next tool to call; null when every tool has been called once, or there is none. */
    @Nullable
    ObjectNode nextCall() {
        List<String> called = new ArrayList<>();
        for (JsonNode message : body.path("messages")) {
            message.path("tool_calls")
                    .forEach(call ->
                            called.add(call.path("function").path("name").asString("")));
        }
        for (JsonNode tool : body.path("tools")) {
            String name = tool.path("function").path("name").asString("");
            if (!called.contains(name)) {
                ObjectNode call = JsonServer.JSON
                        .createObjectNode()
                        .put("id", "call-" + (called.size() + 1))
                        .put("type", "function");
                call.putObject("function")
                        .put("name", name)
                        .put(
                                "arguments",
                                JsonServer.JSON.writeValueAsString(
                                        inputs(tool.path("function").path("parameters"))));
                return call;
            }
        }
        return null;
    }

    private ObjectNode inputs(JsonNode schema) {
        ObjectNode inputs = JsonServer.JSON.createObjectNode();
        schema.path("required").forEach(name -> {
            String input = name.asString("");
            JsonNode found = known.get(input);
            JsonNode shape = schema.path("properties").path(input);
            inputs.set(input, found != null ? found : byPattern(shape).orElseGet(() -> value(input, shape)));
        });
        return inputs;
    }

    /** What fits the pattern of an input among everything that is known, such as a booking's reference. */
    private Optional<JsonNode> byPattern(JsonNode shape) {
        String pattern = shape.path("pattern").asString("").replaceAll("^\\^|\\$$", "");
        if (pattern.isEmpty()) {
            return Optional.empty();
        }
        Matcher fits = Pattern.compile("(?<![A-Za-z0-9])(?:" + pattern + ")(?![A-Za-z0-9])")
                .matcher(fenced("request") + " " + known);
        return fits.find() ? Optional.of(JsonServer.JSON.getNodeFactory().stringNode(fits.group())) : Optional.empty();
    }

    /** A typed answer to the schema. */
    ObjectNode answer(JsonNode schema) {
        String part = fenced("part").path("text").asString("");
        if (!part.isEmpty()) {
            return new DocumentModel(part).statements(prompt.substring(0, prompt.indexOf("# Form")), 5);
        }
        String document = fenced("document").path("text").asString("");
        if (document.startsWith("Look at the ")) {
            return new Eyes(body).find(schema);
        } else if (!document.isEmpty()) {
            return new DocumentModel(document).find(schema);
        }
        double[] sure = {0.85};
        ObjectNode answer = JsonServer.JSON.createObjectNode();
        Map<String, JsonNode> properties = new LinkedHashMap<>();
        schema.path("properties").properties().forEach(e -> properties.put(e.getKey(), e.getValue()));
        properties.remove("reason");
        properties.remove("sure");
        properties.forEach((name, property) -> {
            if (name.equals("plan")) {
                answer.set(name, plan());
            } else {
                answer.set(name, value(name, property));
                if (property.has("enum") && option(property.path("enum")) == null) {
                    sure[0] = 0.35;
                }
            }
        });
        return answer.put("reason", "A stand-in's guess by the words of the request; it understands nothing.")
                .put("sure", sure[0]);
    }

    private ArrayNode plan() {
        ArrayNode plan = JsonServer.JSON.createArrayNode();
        Matcher tools = Pattern.compile("^- (\\S+): (.*)$", Pattern.MULTILINE).matcher(prompt);
        while (tools.find()) {
            plan.add("Call " + tools.group(1) + ": " + tools.group(2));
        }
        return plan.add("Say what came of it.");
    }

    private JsonNode value(String name, JsonNode schema) {
        if (schema.has("enum")) {
            String option = option(schema.path("enum"));
            return JsonServer.JSON.getNodeFactory().stringNode(option != null ? option : last(schema.path("enum")));
        }
        var nodes = JsonServer.JSON.getNodeFactory();
        switch (schema.path("type").asString("string")) {
            case "boolean":
                return nodes.booleanNode(yes(name));
            case "number", "integer":
                Matcher number = NUMBER.matcher(request);
                return number.find() && schema.path("type").asString("").equals("number")
                        ? nodes.numberNode(
                                new java.math.BigDecimal(number.group().replace(',', '.')))
                        : nodes.numberNode(1);
            case "array":
                return missing(name);
            case "object":
                return answer(schema);
            default:
                Matcher date = DATE.matcher(request);
                if (schema.path("format").asString("").equals("date")) {
                    return nodes.stringNode(date.find() ? date.group() : "2026-12-31");
                }
                String subject = fenced("request").path("subject").asString("");
                return nodes.stringNode(subject.isBlank() ? "nothing" : subject);
        }
    }

    private boolean yes(String name) {
        if (name.equals("ordered") || name.equals("done")) {
            return !body.path("tools").isEmpty();
        }
        List<String> signs = SIGNS.getOrDefault(name, List.of(name.toLowerCase(Locale.ROOT)));
        String said = request + " " + fenced("facts").toString().toLowerCase(Locale.ROOT);
        return signs.stream().anyMatch(said::contains);
    }

    private @Nullable String option(JsonNode options) {
        for (JsonNode option : options) {
            String word = option.asString("");
            List<String> signs = SIGNS.getOrDefault(word, List.of(word.toLowerCase(Locale.ROOT)));
            if (signs.stream().anyMatch(request::contains)) {
                return word;
            }
        }
        return null;
    }

    private static String last(JsonNode options) {
        return options.get(options.size() - 1).asString("");
    }

    /** What the instruction asks to be told and the request and replies don't say, as far as words tell. */
    private ArrayNode missing(String name) {
        ArrayNode list = JsonServer.JSON.createArrayNode();
        if (!name.contains("missing")) {
            return list;
        }
        String said =
                request + " " + prompt.substring(prompt.indexOf("# Facts")).toLowerCase(Locale.ROOT);
        Map.of(
                        "colour",
                        List.of("red", "blue", "green", "black", "grey", "yellow", "colour", "color", "white"),
                        "the day",
                        List.of(
                                "yesterday",
                                "today",
                                "monday",
                                "tuesday",
                                "wednesday",
                                "thursday",
                                "friday",
                                "saturday",
                                "sunday",
                                "november",
                                "2026-"))
                .forEach((what, signs) -> {
                    if (prompt.substring(0, prompt.indexOf("# Facts")).contains(what)
                            && signs.stream().noneMatch(said::contains)) {
                        list.add(what);
                    }
                });
        return list;
    }
}
