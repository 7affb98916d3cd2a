package servitor.connectors.model;

import java.net.URI;
import java.net.http.HttpRequest;
import java.time.Duration;
import java.util.List;
import servitor.connectors.Reply;
import servitor.connectors.http.JsonOverHttp;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Reaches a model over the chat-completions HTTP format that most model servers accept. */
public final class ChatModel {
    private static final Duration LIMIT = Duration.ofSeconds(60);

    private final JsonOverHttp http = new JsonOverHttp();

    /** One message of a conversation; {@code role} is {@code system}, {@code user} or {@code assistant}. */
    public record Message(String role, String content) {}

    /** What a model said, or why it said nothing. */
    public sealed interface Said {}

    /**
     * The model's words as JSON.
     *
     * @param raw the words as they came
     * @param model the name the server gives itself
     */
    public record Structured(JsonNode answer, String raw, String model, int tokens) implements Said {}

    /** The model's words, which aren't JSON. */
    public record Words(String raw, String why, String model, int tokens) implements Said {}

    /** No words came. */
    public record Nothing(Reply reply) implements Said {}

    /** Asks for an answer that fits {@code schema}. The answer is not checked here. */
    public Said ask(URI base, String model, List<Message> messages, JsonNode schema) throws InterruptedException {
        ObjectNode body = Json.object().put("model", model).put("temperature", 0);
        var list = body.putArray("messages");
        messages.forEach(message -> list.addObject().put("role", message.role()).put("content", message.content()));
        ObjectNode format = body.putObject("response_format").put("type", "json_schema");
        format.putObject("json_schema")
                .put("name", "answer")
                .put("strict", true)
                .set("schema", schema);
        HttpRequest request = JsonOverHttp.request(
                        URI.create(base.toString().replaceAll("/+$", "") + "/chat/completions"), LIMIT)
                .header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(Json.write(body)))
                .build();
        Reply reply = http.send(request);
        return reply instanceof Reply.Answered answered ? read(answered) : new Nothing(reply);
    }

    private static Said read(Reply.Answered answered) {
        JsonNode content =
                answered.body().path("choices").path(0).path("message").path("content");
        String model = answered.body().path("model").asString("");
        int tokens = answered.body().path("usage").path("total_tokens").asInt(0);
        if (!content.isString()) {
            return new Nothing(new Reply.Unreadable("the model server's answer has no words in it"));
        }
        try {
            return new Structured(Json.read(content.stringValue()), content.stringValue(), model, tokens);
        } catch (MalformedJson e) {
            return new Words(content.stringValue(), e.getMessage(), model, tokens);
        }
    }
}
