package servitor.connectors.model;

import java.net.URI;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.connectors.access.Access;
import servitor.connectors.access.Deadline;
import servitor.connectors.http.HttpCall;
import servitor.connectors.http.SignIn;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import servitor.core.prompt.Prompt.Exchange;
import servitor.core.prompt.Prompt.Offered;
import servitor.core.prompt.Prompt.Wanted;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Reaches a model over the chat-completions HTTP format that most model servers accept. */
public final class ChatModel {
    /** How long one answer may take. */
    public static final Duration LIMIT = Duration.ofSeconds(60);

    private static final Pattern FENCED = Pattern.compile("\\s*```[a-zA-Z]*\\s*\\n(.*)\\n\\s*```\\s*", Pattern.DOTALL);

    private final SignIn signIn = new SignIn();

    /** One message of a conversation; {@code role} is {@code system}, {@code user} or {@code assistant}. */
    public record Message(String role, String content) {}

    /**
     * What is said to a model.
     *
     * @param tools what it may ask to be called before it answers
     * @param exchanges the calls it has asked for so far, with what came of them
     * @param after what is said after those: its own broken answers, and what was wrong with them
     */
    public record Conversation(
            String system, String user, List<Offered> tools, List<Exchange> exchanges, List<Message> after) {}

    /** What a model said, or why it said nothing. */
    public sealed interface Said {}

    /**
     * The model's words as JSON.
     *
     * @param raw the words as they came
     * @param model the name the server gives itself
     */
    public record Structured(JsonNode answer, String raw, String model, int tokens) implements Said {}

    /** The model wants tools to be called. */
    public record Calls(List<Wanted> wanted, String model, int tokens) implements Said {}

    /** The model's words, which aren't JSON. */
    public record Words(String raw, String why, String model, int tokens) implements Said {}

    /** No words came. */
    public record Nothing(Reply reply) implements Said {}

    /** Asks for an answer that fits {@code schema}. The answer is not checked here. */
    public Said ask(Access access, String model, Conversation said, JsonNode schema, Deadline deadline)
            throws InterruptedException {
        ObjectNode body = Json.object().put("model", model).put("temperature", 0);
        messages(body.putArray("messages"), said);
        tools(body, said.tools());
        ObjectNode format = body.putObject("response_format").put("type", "json_schema");
        format.putObject("json_schema")
                .put("name", "answer")
                .put("strict", true)
                .set("schema", schema);
        HttpCall request = HttpCall.post(
                URI.create(access.address().toString().replaceAll("/+$", "") + "/chat/completions"),
                "application/json",
                Json.write(body),
                deadline.orIn(LIMIT));
        Reply reply = signIn.send(access, request);
        return reply instanceof Reply.Answered answered ? read(answered) : new Nothing(reply);
    }

    private static void messages(ArrayNode list, Conversation said) {
        list.addObject().put("role", "system").put("content", said.system());
        list.addObject().put("role", "user").put("content", said.user());
        for (Exchange exchange : said.exchanges()) {
            ObjectNode call = list.addObject()
                    .put("role", "assistant")
                    .putNull("content")
                    .putArray("tool_calls")
                    .addObject()
                    .put("id", exchange.wanted().id())
                    .put("type", "function");
            call.putObject("function")
                    .put("name", outside(exchange.wanted().tool()))
                    .put("arguments", Json.write(exchange.wanted().args()));
            list.addObject()
                    .put("role", "tool")
                    .put("tool_call_id", exchange.wanted().id())
                    .put("content", exchange.result());
        }
        said.after()
                .forEach(message -> list.addObject().put("role", message.role()).put("content", message.content()));
    }

    private static void tools(ObjectNode body, List<Offered> tools) {
        if (!tools.isEmpty()) {
            ArrayNode list = body.putArray("tools");
            tools.forEach(tool -> list.addObject()
                    .put("type", "function")
                    .putObject("function")
                    .put("name", outside(tool.name()))
                    .put("description", tool.description())
                    .set("parameters", tool.inputs()));
        }
    }

    /** Names of functions may hold no dots in this format. */
    private static String outside(String tool) {
        return tool.replace(".", "__");
    }

    private static Said calls(JsonNode calls, String model, int tokens) {
        List<Wanted> wanted = new ArrayList<>();
        for (JsonNode call : calls) {
            String name = call.path("function").path("name").asString("").replace("__", ".");
            try {
                JsonNode args =
                        Outside.read(call.path("function").path("arguments").asString("{}"));
                if (!args.isObject()) {
                    throw new MalformedJson("the arguments of " + name + " are no object", null);
                }
                wanted.add(new Wanted(call.path("id").asString(""), name, args));
            } catch (MalformedJson e) {
                return new Words(Json.write(call), "the call's arguments: " + e.getMessage(), model, tokens);
            }
        }
        return new Calls(wanted, model, tokens);
    }

    /** What stands between code fences, where a model has put its whole answer there. */
    private static String unfenced(String words) {
        Matcher fenced = FENCED.matcher(words);
        return fenced.matches() ? fenced.group(1) : words;
    }

    private static Said read(Reply.Answered answered) {
        JsonNode message = answered.body().path("choices").path(0).path("message");
        JsonNode content = message.path("content");
        String model = answered.body().path("model").asString("");
        int tokens = answered.body().path("usage").path("total_tokens").asInt(0);
        if (message.path("tool_calls").isArray() && !message.path("tool_calls").isEmpty()) {
            return calls(message.path("tool_calls"), model, tokens);
        }
        if (!content.isString()) {
            return new Nothing(new Reply.Unreadable("the model server's answer has no words in it"));
        }
        try {
            return new Structured(Outside.read(unfenced(content.stringValue())), content.stringValue(), model, tokens);
        } catch (MalformedJson e) {
            return new Words(content.stringValue(), String.valueOf(e.getMessage()), model, tokens);
        }
    }
}
