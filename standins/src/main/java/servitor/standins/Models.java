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
    private final JsonServer server;
    private static final int MOST_KEPT = 200;

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
            return new Answer(200, Map.of("data", List.of(Map.of("id", "stand-in-writer", "object", "model"))));
        }
        if (!path.equals("/v1/chat/completions")) {
            return Answer.problem(404, "nothing is here");
        }
        asked.add(JsonServer.JSON.writeValueAsString(body));
        if (asked.size() > MOST_KEPT) {
            asked.poll();
        }
        if (counted(failures)) {
            return Answer.problem(503, "there is too much to do");
        }
        waitWhileHeld();
        String user = "";
        for (JsonNode message : body.path("messages")) {
            String content = message.path("content").asString("");
            if (message.path("role").asString("").equals("user") && content.startsWith("# Instruction")) {
                user = content;
            }
        }
        if (counted(badAnswers)) {
            return new Answer(200, completion("I would rather chat.", null, user.length() / 4));
        }
        JsonNode schema = body.path("response_format").path("json_schema").path("schema");
        boolean writes = schema.path("properties").has("text")
                        && schema.path("properties").size() <= 4
                || schema.path("properties").has("texts");
        PatternModel thinker = new PatternModel(user, body);
        ObjectNode call = thinker.nextCall();
        if (call != null) {
            return new Answer(200, completion(null, call, user.length() / 4));
        }
        String content =
                JsonServer.JSON.writeValueAsString(writes ? new Writer(user, schema).write() : thinker.answer(schema));
        return new Answer(200, completion(content, null, user.length() / 4));
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

    private static ObjectNode completion(@Nullable String content, @Nullable ObjectNode call, int promptTokens) {
        ObjectNode answer = JsonServer.JSON
                .createObjectNode()
                .put("object", "chat.completion")
                .put("model", "stand-in-writer (a stand-in)");
        ObjectNode choice =
                answer.putArray("choices").addObject().put("index", 0).put("finish_reason", "stop");
        ObjectNode message =
                choice.putObject("message").put("role", "assistant").put("content", content);
        if (call != null) {
            choice.put("finish_reason", "tool_calls");
            message.putArray("tool_calls").add(call);
        }
        int tokens = content == null ? 20 : content.length() / 4;
        answer.putObject("usage")
                .put("prompt_tokens", promptTokens)
                .put("completion_tokens", tokens)
                .put("total_tokens", promptTokens + tokens);
        return answer;
    }

    @Override
    public void close() {
        server.close();
    }
}
