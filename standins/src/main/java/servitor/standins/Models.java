package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import java.net.URI;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;
import servitor.standins.JsonServer.Answer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The model server: speaks the chat-completions format and writes by pattern rules. It is no language model, and calls
 * itself a stand-in in every answer.
 */
public final class Models implements AutoCloseable {
    static final String NAME = "stand-in-writer";
    private static final Map<String, Object> MODEL =
            Map.of("id", NAME, "object", "model", "created", 1_767_225_600, "owned_by", "stand-in");
    private static final int MOST_KEPT = 200;

    private final JsonServer server;

    private final Deque<String> asked = new ConcurrentLinkedDeque<>();
    private final AtomicInteger badAnswers = new AtomicInteger();
    private final AtomicInteger failures = new AtomicInteger();
    private volatile CountDownLatch held = new CountDownLatch(0);

    Models(int port) {
        this.server = new JsonServer(port, this::handle);
    }

    public URI url() {
        return URI.create(server.url() + "/v1");
    }

    /** Breaks the contract in the next {@code count} answers. */
    public void answerBadly(int count) {
        badAnswers.set(count);
    }

    /** Says {@code count} times from now on that it has too much to do. */
    public void fail(int count) {
        failures.set(count);
    }

    /** Keeps whoever asks waiting, until it is told not to. */
    public void hold(boolean waiting) {
        held.countDown();
        held = new CountDownLatch(waiting ? 1 : 0);
    }

    /** What it was asked of late, word for word. */
    public List<String> asked() {
        return List.copyOf(asked);
    }

    private Answer handle(HttpExchange exchange, JsonNode body) {
        String path = exchange.getRequestURI().getPath();
        if (path.equals("/v1/models")) {
            return new Answer(200, Map.of("object", "list", "data", List.of(MODEL)));
        }
        if (path.equals("/v1/models/" + NAME)) {
            return new Answer(200, MODEL);
        }
        if (!path.equals("/v1/chat/completions")) {
            return error(404, "nothing is here", null, "unknown_url");
        }
        if (!body.path("model").asString("").equals(NAME)) {
            return error(
                    404, "there is no model ‘" + body.path("model").asString("") + "’", "model", "model_not_found");
        }
        if (!body.path("messages").isArray() || body.path("messages").isEmpty()) {
            return error(400, "‘messages’ is missing", "messages", null);
        }
        asked.add(JsonServer.JSON.writeValueAsString(body));
        if (asked.size() > MOST_KEPT) {
            asked.poll();
        }
        if (counted(failures)) {
            return error(503, "there is too much to do", null, "overloaded");
        }
        waitWhileHeld();
        String user = "";
        for (JsonNode message : body.path("messages")) {
            JsonNode parts = message.path("content");
            String content = parts.isArray() ? parts.path(0).path("text").asString("") : parts.asString("");
            if (message.path("role").asString("").equals("user") && content.startsWith("# Instruction")) {
                user = content;
            }
        }
        if (counted(badAnswers)) {
            return said(body, "I would rather chat.", null, user);
        }
        JsonNode schema = body.path("response_format").path("json_schema").path("schema");
        boolean writes = schema.path("properties").has("text")
                        && schema.path("properties").size() <= 4
                || schema.path("properties").has("texts");
        PatternModel thinker = new PatternModel(user, body);
        ObjectNode call = thinker.nextCall();
        if (call != null) {
            return said(body, null, call, user);
        }
        String content =
                JsonServer.JSON.writeValueAsString(writes ? new Writer(user, schema).write() : thinker.answer(schema));
        return said(body, content, null, user);
    }

    private static Answer said(JsonNode asked, @Nullable String content, @Nullable ObjectNode call, String user) {
        ObjectNode whole = Completion.of(asked, content, call, user);
        return new Answer(200, asked.path("stream").asBoolean(false) ? Completion.events(asked, whole) : whole);
    }

    private static Answer error(int status, String message, @Nullable String about, @Nullable String code) {
        ObjectNode answer = JsonServer.JSON.createObjectNode();
        answer.putObject("error")
                .put("message", message)
                .put("type", status < 500 ? "invalid_request_error" : "server_error")
                .put("param", about)
                .put("code", code);
        return new Answer(status, answer);
    }

    private void waitWhileHeld() {
        try {
            held.await();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt(); // the server ends
        }
    }

    private static boolean counted(AtomicInteger left) {
        return left.getAndUpdate(count -> Math.max(0, count - 1)) > 0;
    }

    @Override
    public void close() {
        server.close();
    }
}
