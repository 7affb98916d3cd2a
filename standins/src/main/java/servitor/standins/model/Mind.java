package servitor.standins.model;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import servitor.standins.model.Asked.Offer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** What the stand-in says: calls of tools, a text, or a typed answer, from the body of a chat-completions request alone. */
public final class Mind {
    private static final Pattern NUMBER = Pattern.compile("(?<![\\w.-])\\d+(?:[.,]\\d+)?(?![\\w-])");
    private static final double SURE = 0.85;
    private static final double GUESSED = 0.35;
    private static final int MOST_KEYWORDS = 5;

    private final Asked asked;
    private final Known known;
    private double sure = SURE;

    /** What is said. */
    public sealed interface Said {}

    /** The words of an answer, which are JSON. */
    public record Words(String text) implements Said {}

    /** Calls of tools, in the form of the chat-completions format. */
    public record Calls(List<ObjectNode> calls) implements Said {}

    private Mind(JsonNode body) {
        this.asked = new Asked(body);
        this.known = new Known(asked);
    }

    /** What is said to the body of a request. */
    public static Said say(JsonNode body) {
        Mind mind = new Mind(body);
        List<Calling.Call> calls = new Calling(mind.asked, mind.known).next();
        if (!calls.isEmpty()) {
            return new Calls(mind.numbered(calls));
        }
        return new Words(Asked.JSON.writeValueAsString(mind.answer()));
    }

    /** What the person asking has written, which counts as what was asked. */
    public static String user(JsonNode body) {
        return new Asked(body).user();
    }

    private List<ObjectNode> numbered(List<Calling.Call> calls) {
        List<ObjectNode> numbered = new ArrayList<>();
        int before = asked.turns().size();
        for (Calling.Call call : calls) {
            ObjectNode one = Asked.JSON
                    .createObjectNode()
                    .put("id", "call-" + (before + numbered.size() + 1))
                    .put("type", "function");
            one.putObject("function")
                    .put("name", call.tool())
                    .put("arguments", Asked.JSON.writeValueAsString(call.args()));
            numbered.add(one);
        }
        return numbered;
    }

    private ObjectNode answer() {
        JsonNode schema = asked.schema();
        JsonNode properties = schema.path("properties");
        String part = asked.fenced("part").path("text").asString("");
        if (!part.isEmpty()) {
            return new DocumentModel(part).statements(asked.instruction(), 5);
        }
        String document = asked.fenced("document").path("text").asString("");
        if (document.startsWith("Look at the ")) {
            return new Eyes(asked.body()).find(schema);
        } else if (!document.isEmpty()) {
            return new DocumentModel(document).find(schema);
        } else if (properties.has("plan")) {
            ObjectNode answer = Asked.JSON.createObjectNode();
            answer.set("plan", new Calling(asked, known).plan());
            return answer.put("reason", "A stand-in lists the tools it was given; it understands nothing.")
                    .put("sure", SURE);
        } else if (properties.has("text") && properties.size() <= 4 || properties.has("texts")) {
            return new Writer(asked, schema).write();
        }
        return typed(schema);
    }

    private ObjectNode typed(JsonNode schema) {
        if (asked.words().length() <= 2
                && known.named("requester").isEmpty()
                && asked.turns().isEmpty()) {
            sure = 0;
        }
        ObjectNode answer = fields(schema);
        String why = sure == 0
                ? "A stand-in was told nothing it could go by."
                : "A stand-in's guess by the words of the request; it understands nothing.";
        return answer.put(
                        "reason",
                        asked.turns().isEmpty() ? why : "A stand-in goes by what the tools answered: " + told())
                .put("sure", sure);
    }

    private String told() {
        return asked.turns().stream()
                .map(turn -> turn.tool().replace("__", ".")
                        + (turn.worked() ? "" : " (" + turn.result().replaceFirst("(?s)[.:].*", "") + ")"))
                .distinct()
                .collect(Collectors.joining(", ", "", "."));
    }

    private ObjectNode fields(JsonNode schema) {
        ObjectNode answer = Asked.JSON.createObjectNode();
        Map<String, JsonNode> properties = new LinkedHashMap<>();
        schema.path("properties").properties().forEach(e -> properties.put(e.getKey(), e.getValue()));
        properties.remove("reason");
        properties.remove("sure");
        properties.forEach((name, shape) -> answer.set(name, value(name, shape)));
        return answer;
    }

    private JsonNode value(String name, JsonNode shape) {
        var nodes = Asked.JSON.getNodeFactory();
        if (shape.has("enum")) {
            return nodes.stringNode(option(name, shape.path("enum")));
        }
        return switch (shape.path("type").asString("string")) {
            case "boolean" -> nodes.booleanNode(yes(name));
            case "number", "integer" -> number(name, shape);
            case "array" -> list(name, shape.path("items"));
            case "object" -> fields(shape);
            default -> text(name, shape);
        };
    }

    private String option(String name, JsonNode options) {
        Optional<String> given = known.named(name)
                .map(value -> value.asString(""))
                .filter(value ->
                        options.valueStream().anyMatch(one -> one.asString("").equals(value)));
        Optional<String> chosen = given.isPresent() ? given : new Labels(asked).of(options);
        if (chosen.isEmpty()) {
            sure = Math.min(sure, GUESSED);
        }
        return chosen.orElseGet(() -> options.get(options.size() - 1).asString(""));
    }

    /** Something is done when a tool that acts has done it; anything else is so when its signs are there, and aren't denied. */
    private boolean yes(String name) {
        Optional<JsonNode> given = known.named(name).filter(JsonNode::isBoolean);
        if (given.isPresent()) {
            return given.get().booleanValue();
        }
        List<Offer> acts = asked.tools().stream()
                .filter(tool -> !tool.looks() && !tool.name().startsWith("case__"))
                .toList();
        if (name.equals("done") && acts.isEmpty()) {
            return true; // there was nothing to do but look
        }
        if (!acts.isEmpty() && (name.equals("done") || !Lexicon.knows(name))) {
            return asked.turns().stream()
                    .anyMatch(turn -> turn.worked() && acts.stream().anyMatch(tool -> tool.is(turn.tool())));
        }
        return Lexicon.says(name, asked.everything());
    }

    private JsonNode number(String name, JsonNode shape) {
        Optional<JsonNode> given = known.named(name).filter(JsonNode::isNumber);
        if (given.isPresent()) {
            return given.get();
        }
        String text = asked.words();
        Matcher near = Pattern.compile("(?i)" + Pattern.quote(name) + "\\W{0,3}(?:\\w+\\W+)?(\\d+(?:[.,]\\d+)?)")
                .matcher(text);
        Matcher any = NUMBER.matcher(text);
        String found = near.find() ? near.group(1) : any.find() ? any.group() : "";
        boolean whole = shape.path("type").asString("").equals("integer");
        if (found.isEmpty() || whole && found.matches(".*[.,].*")) {
            sure = Math.min(sure, GUESSED);
            return Asked.JSON.getNodeFactory().numberNode(1);
        }
        return Asked.JSON.getNodeFactory().numberNode(new BigDecimal(found.replace(',', '.')));
    }

    private JsonNode text(String name, JsonNode shape) {
        Optional<JsonNode> given = known.named(name).filter(JsonNode::isString);
        Optional<JsonNode> found = given.isPresent() ? given : known.fitting(shape);
        if (found.isPresent()) {
            return found.get();
        }
        var nodes = Asked.JSON.getNodeFactory();
        if (shape.path("format").asString("").equals("date")) {
            Optional<String> date = DocumentModel.date(asked.words());
            if (date.isEmpty()) {
                sure = Math.min(sure, GUESSED);
            }
            return nodes.stringNode(date.orElse("2026-12-31"));
        }
        String subject = asked.request().path("subject").asString("");
        return nodes.stringNode(
                switch (name) {
                    case "language" -> Tongue.of(asked.words());
                    case "summary" ->
                        new DocumentModel(asked.words().replaceAll("(?<=[.!?])\\s+", "\n"))
                                .sentences(asked.instruction(), 2);
                    case "thing", "word" -> thing().orElse(subject.isBlank() ? "nothing" : subject);
                    default -> asked.turns().isEmpty() && !subject.isBlank() ? subject : "nothing";
                });
    }

    private Optional<String> thing() {
        return asked.turns().stream()
                .filter(turn -> turn.args().has("word"))
                .map(turn -> turn.args().path("word").asString(""))
                .reduce((earlier, later) -> later);
    }

    private JsonNode list(String name, JsonNode items) {
        JsonNode given = known.list(name);
        ArrayNode list = Asked.JSON.createArrayNode();
        if (given != null) {
            given.valueStream()
                    .filter(entry -> !entry.isObject() || Calling.fits(entry, known))
                    .forEach(entry -> list.add(only(entry, items)));
        } else if (items.has("enum")) {
            items.path("enum")
                    .valueStream()
                    .filter(label -> Lexicon.says(label.asString(""), asked.everything()))
                    .forEach(list::add);
        } else if (name.equals("keywords")) {
            keywords().forEach(list::add);
        } else if (name.contains("missing")) {
            missing().forEach(list::add);
        }
        return list;
    }

    /** An entry with the fields that are asked for. */
    private static JsonNode only(JsonNode entry, JsonNode shape) {
        if (!entry.isObject() || !shape.path("properties").isObject()) {
            return entry;
        }
        ObjectNode some = Asked.JSON.createObjectNode();
        shape.path("properties").propertyNames().forEach(name -> some.set(name, entry.path(name)));
        return some;
    }

    private List<String> keywords() {
        Map<String, Long> counts = Lexicon.telling(asked.words()).stream()
                .collect(Collectors.groupingBy(word -> word, LinkedHashMap::new, Collectors.counting()));
        return counts.entrySet().stream()
                .sorted(Map.Entry.<String, Long>comparingByValue().reversed())
                .map(Map.Entry::getKey)
                .limit(MOST_KEYWORDS)
                .toList();
    }

    /** What the instruction asks to be told and neither the request nor a reply says, as far as words tell. */
    private List<String> missing() {
        String instruction = asked.instruction().toLowerCase(Locale.ROOT);
        return List.of("colour", "the day").stream()
                .filter(instruction::contains)
                .filter(what -> Lexicon.count(what, asked.everything()) == 0)
                .toList();
    }
}
