package servitor.standins.model;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What the model is asked, taken apart by the headings and the marked lines of the prompt. */
final class Asked {
    static final JsonMapper JSON = JsonMapper.builder()
            .enable(tools.jackson.databind.DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .build();

    private static final Pattern LANGUAGE = Pattern.compile("^language: ([^\\s,]+)", Pattern.MULTILINE);
    private static final Pattern TONE = Pattern.compile("^tone: (.+)$", Pattern.MULTILINE);
    private static final Pattern WORDS = Pattern.compile("^at most (\\d+) words$", Pattern.MULTILINE);
    private static final Pattern RULE = Pattern.compile("^- (.+)$", Pattern.MULTILINE);

    private final JsonNode body;
    private final String system;
    private final String user;

    /** A tool that may be called; its name as it is called here. */
    record Offer(String name, String description, JsonNode inputs) {
        /** Whether it only looks: its description begins by saying that it finds, shows or tells something. */
        boolean looks() {
            return description.matches("(?s)(Finds|Says|Looks|Reads|Lists|Shows|Tells|Counts|Checks)\\b.*");
        }

        boolean is(String own) {
            return name.equals(own);
        }
    }

    /** A call made so far, and what came of it. */
    record Turn(String tool, JsonNode args, String result) {
        /** What the tool answered; missing when it answered nothing that can be read. */
        JsonNode answer() {
            return result.startsWith("{") ? tree(result) : JSON.missingNode();
        }

        boolean worked() {
            return answer().isObject();
        }
    }

    Asked(JsonNode body) {
        this.body = body;
        String first = "";
        String instruction = "";
        for (JsonNode message : body.path("messages")) {
            JsonNode content = message.path("content");
            String text = content.isArray() ? content.path(0).path("text").asString("") : content.asString("");
            String role = message.path("role").asString("");
            if (role.equals("system")) {
                first = text;
            } else if (role.equals("user") && text.startsWith("# Instruction")) {
                instruction = text;
            }
        }
        this.system = first;
        this.user = instruction;
    }

    static JsonNode tree(String text) {
        try {
            return JSON.readTree(text);
        } catch (JacksonException e) {
            return JSON.missingNode();
        }
    }

    JsonNode body() {
        return body;
    }

    /** Everything the person asking has written, data from outside included. */
    String user() {
        return user;
    }

    /** What is to be done, without the form of the answer and the data. */
    String instruction() {
        int form = user.indexOf("\n# Form");
        return (form < 0 ? user : user.substring(0, form))
                .replaceFirst("^# Instruction\\n", "")
                .strip();
    }

    /** What stands between the marked lines of a name; an empty object when nothing does. */
    JsonNode fenced(String name) {
        Matcher matcher = Pattern.compile("<<<outside (" + name + " \\w+)\n(.*?)\n>>>outside \\1", Pattern.DOTALL)
                .matcher(user);
        return matcher.find() ? tree(matcher.group(2)) : JSON.createObjectNode();
    }

    JsonNode facts() {
        return fenced("facts");
    }

    JsonNode request() {
        return fenced("request");
    }

    /** What somebody wrote: the subject and the text of the request, or of the facts where the step is about those. */
    String words() {
        JsonNode facts = facts();
        String document = facts.path("document").asString("");
        if (!document.isEmpty()) {
            return document;
        }
        JsonNode request = facts.has("subject") && facts.has("text") ? facts : request();
        return (request.path("subject").asString("") + ". "
                        + request.path("text").asString(""))
                .strip();
    }

    /** Everything that was said or looked up, in lower case. */
    String everything() {
        StringBuilder all = new StringBuilder(words())
                .append(' ')
                .append(request().path("fields"))
                .append(' ')
                .append(facts());
        turns().forEach(turn -> all.append(' ').append(turn.result()));
        return all.toString().toLowerCase(Locale.ROOT);
    }

    /** The language asked for; that of the request where none is. */
    String language() {
        Matcher matcher = LANGUAGE.matcher(user);
        return matcher.find() ? matcher.group(1) : Tongue.of(words());
    }

    String tone() {
        Matcher matcher = TONE.matcher(user);
        return matcher.find() ? matcher.group(1).toLowerCase(Locale.ROOT) : "";
    }

    int mostWords() {
        Matcher matcher = WORDS.matcher(user);
        return matcher.find() ? Integer.parseInt(matcher.group(1)) : Integer.MAX_VALUE;
    }

    /** The rules of the house and of the brief, one by one. */
    List<String> rules() {
        int examples = system.indexOf("Examples of good work");
        String rules = examples < 0 ? system : system.substring(0, examples);
        List<String> all = new ArrayList<>();
        RULE.matcher(rules).results().forEach(rule -> all.add(rule.group(1)));
        return all;
    }

    /** What was asked in the examples of good work, with the answer to it. */
    List<String> examples() {
        int from = system.indexOf("Examples of good work");
        List<String> all = new ArrayList<>();
        if (from >= 0) {
            RULE.matcher(system.substring(from)).results().forEach(one -> all.add(one.group(1)));
        }
        return all;
    }

    JsonNode schema() {
        JsonNode declared = body.path("response_format").path("json_schema").path("schema");
        if (declared.isObject()) {
            return declared;
        }
        int told = system.indexOf("JSON Schema, and with nothing else:\n");
        return told < 0 ? JSON.createObjectNode() : tree(system.substring(system.indexOf('{', told)));
    }

    List<Offer> tools() {
        List<Offer> tools = new ArrayList<>();
        for (JsonNode tool : body.path("tools")) {
            JsonNode function = tool.path("function");
            tools.add(new Offer(
                    function.path("name").asString(""),
                    function.path("description").asString(""),
                    function.path("parameters")));
        }
        return tools;
    }

    Optional<Offer> tool(String name) {
        return tools().stream().filter(tool -> tool.is(name)).findFirst();
    }

    List<Turn> turns() {
        List<Turn> turns = new ArrayList<>();
        List<JsonNode> calls = new ArrayList<>();
        for (JsonNode message : body.path("messages")) {
            message.path("tool_calls").forEach(calls::add);
            if (message.path("role").asString("").equals("tool")) {
                String id = message.path("tool_call_id").asString("");
                calls.stream()
                        .filter(call -> call.path("id").asString("").equals(id))
                        .reduce((earlier, later) -> later)
                        .ifPresent(call -> turns.add(new Turn(
                                call.path("function").path("name").asString(""),
                                tree(call.path("function").path("arguments").asString("{}")),
                                message.path("content").asString(""))));
            }
        }
        return turns;
    }
}
