package servitor.connectors.model;

import java.net.URI;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import servitor.connectors.access.Access;
import servitor.connectors.access.Deadline;
import servitor.connectors.http.HttpCall;
import servitor.connectors.signin.SignIn;
import servitor.core.engine.Reply;
import servitor.core.handbook.ModelSettings;
import servitor.core.handbook.ModelSettings.AnswerAs;
import servitor.core.json.Json;
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

    /** How often one question is asked in another way because the server said that it doesn't take it so. */
    private static final int MOST_LEARNT = 4;

    private static final int NOT_FOUND = 404;

    private final SignIn signIn = new SignIn();
    private final Learnt learnt = new Learnt();

    /** One message of a conversation; {@code role} is {@code system}, {@code user} or {@code assistant}. */
    public record Message(String role, String content) {}

    /**
     * What is said to a model.
     *
     * @param tools what it may ask to be called before it answers
     * @param exchanges the calls it has asked for so far, with what came of them
     * @param after what is said after those: its own broken answers, and what was wrong with them
     * @param pictures what it looks at, as PNG
     */
    public record Conversation(
            String system,
            String user,
            List<Offered> tools,
            List<Exchange> exchanges,
            List<Message> after,
            List<byte[]> pictures) {}

    /** What a model said, or why it said nothing. */
    public sealed interface Said {}

    /**
     * What an answer took.
     *
     * @param model the name the server gives itself
     * @param asked those of the tokens that what was asked has
     * @param estimated whether the server doesn't say how many tokens, so that they are estimated
     */
    public record Usage(String model, int tokens, int asked, boolean estimated) {
        /** Nothing was asked yet. */
        public static final Usage NONE = new Usage("", 0, 0, false);

        /** The tokens of what was answered. */
        public int answered() {
            return tokens - asked;
        }

        /** What both took together; the later model counts. */
        public Usage and(Usage later) {
            return new Usage(later.model, tokens + later.tokens, asked + later.asked, estimated || later.estimated);
        }
    }

    /**
     * The model's words as JSON.
     *
     * @param raw the words as they came
     */
    public record Structured(JsonNode answer, String raw, Usage usage) implements Said {}

    /** The model wants tools to be called. */
    public record Calls(List<Wanted> wanted, Usage usage) implements Said {}

    /** The model's words, which aren't what was asked for; {@code why} ends a sentence that begins with ‘it’. */
    public record Words(String raw, String why, Usage usage) implements Said {}

    /** The model, or its server, says that it won't answer. */
    public record Declined(String words, Usage usage) implements Said {}

    /** No words came. */
    public record Nothing(Reply reply) implements Said {}

    /** Asks for an answer that fits {@code schema}. The answer is not checked here. */
    public Said ask(
            Access access, String model, ModelSettings declared, Conversation said, JsonNode schema, Deadline deadline)
            throws InterruptedException {
        ModelSettings settings = learnt.of(access, model, declared);
        URI url = URI.create(access.address().toString().replaceAll("/+$", "") + "/chat/completions");
        Deadline limit = deadline.orIn(LIMIT);
        for (int i = 0; ; i++) {
            String body = Json.write(body(model, settings, said, schema));
            Reply reply = signIn.send(access, HttpCall.post(url, "application/json", body, limit));
            if (reply instanceof Reply.Answered answered) {
                return ChatAnswer.read(answered.body(), body.length());
            }
            Optional<ModelSettings> instead =
                    i < MOST_LEARNT ? learnt.from(access, model, declared, settings, reply) : Optional.empty();
            if (instead.isEmpty()) {
                return new Nothing(reply);
            }
            settings = instead.get();
        }
    }

    /** Asks for the list of models, which takes the credentials. Some servers have no such list. */
    public Reply test(Access access, Deadline deadline) throws InterruptedException {
        URI url = URI.create(access.address().toString().replaceAll("/+$", "") + "/models");
        Reply reply = signIn.send(access, HttpCall.get(url, deadline));
        if (reply instanceof Reply.Answered answered) {
            return new Reply.Answered(
                    200,
                    Json.object().put("models", answered.body().path("data").size()));
        }
        return reply instanceof Reply.Failed failed && failed.status() == NOT_FOUND
                ? new Reply.Answered(
                        200, Json.object().put("reached", access.address().getAuthority()))
                : reply;
    }

    private static ObjectNode body(String model, ModelSettings settings, Conversation said, JsonNode schema) {
        ObjectNode body = Json.object().put("model", model);
        if (settings.temperature() != null) {
            body.put("temperature", settings.temperature());
        }
        if (settings.longest() > 0) {
            body.put(settings.limitAs(), settings.longest());
        }
        String form = settings.answerAs() == AnswerAs.SCHEMA
                ? ""
                : "\n\nAnswer with one JSON object that fits this JSON Schema, and with nothing else:\n"
                        + Json.write(schema);
        messages(body.putArray("messages"), said, form);
        tools(body, said.tools());
        if (settings.answerAs() == AnswerAs.SCHEMA) {
            ObjectNode format = body.putObject("response_format").put("type", "json_schema");
            format.putObject("json_schema")
                    .put("name", "answer")
                    .put("strict", true)
                    .set("schema", schema);
        } else if (settings.answerAs() == AnswerAs.JSON) {
            body.putObject("response_format").put("type", "json_object");
        }
        return body;
    }

    private static void messages(ArrayNode list, Conversation said, String form) {
        list.addObject().put("role", "system").put("content", said.system() + form);
        if (said.pictures().isEmpty()) {
            list.addObject().put("role", "user").put("content", said.user());
        } else {
            pictured(list.addObject().put("role", "user").putArray("content"), said);
        }
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

    /** Text and pictures as parts of one message; the pictures stand in it themselves (data URLs, RFC 2397). */
    private static void pictured(ArrayNode parts, Conversation said) {
        parts.addObject().put("type", "text").put("text", said.user());
        for (byte[] png : said.pictures()) {
            parts.addObject()
                    .put("type", "image_url")
                    .putObject("image_url")
                    .put("url", "data:image/png;base64," + Base64.getEncoder().encodeToString(png));
        }
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
}
