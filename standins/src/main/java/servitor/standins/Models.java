package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import java.net.URI;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;
import servitor.standins.JsonServer.Answer;
import servitor.standins.model.Mind;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The model server: speaks the chat-completions format, takes nothing that isn't of it, and writes by pattern rules. It is no language model, and calls
 * itself a stand-in in every answer.
 */
public final class Models implements AutoCloseable {
    static final String NAME = "stand-in-writer";
    private static final Map<String, Object> MODEL =
            Map.of("id", NAME, "object", "model", "created", 1_767_225_600, "owned_by", "stand-in");
    private static final int MOST_KEPT = 200;
    private static final long SLOW_MILLIS = 3_000;

    private final JsonServer server;

    private final Deque<String> asked = new ConcurrentLinkedDeque<>();
    private final Deque<String> refused = new ConcurrentLinkedDeque<>();
    private final Deque<Lapse> lapses = new ConcurrentLinkedDeque<>();
    private final AtomicInteger failures = new AtomicInteger();
    private volatile CountDownLatch held = new CountDownLatch(0);

    Models(int port) {
        this.server = new JsonServer(port, this::handle);
    }

    public URI url() {
        return URI.create(server.url() + "/v1");
    }

    /** Fails in these ways in its next answers, one after the other; in none, when none are given. */
    public void lapse(Lapse... next) {
        lapses.clear();
        lapses.addAll(List.of(next));
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

    /** What was wrong with requests that it didn't take. */
    public List<String> refused() {
        return List.copyOf(refused);
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
        Optional<String> fault = ChatForm.fault(body);
        if (fault.isPresent()) {
            refused.add(fault.get());
            return error(400, fault.get(), null, "invalid_request");
        }
        asked.add(JsonServer.JSON.writeValueAsString(body));
        if (asked.size() > MOST_KEPT) {
            asked.poll();
        }
        if (counted(failures)) {
            return error(503, "there is too much to do", null, "overloaded");
        }
        waitWhileHeld();
        Lapse lapse = lapses.poll();
        return lapse == null ? answered(body, Mind.say(body)) : lapsed(body, lapse);
    }

    private Answer lapsed(JsonNode body, Lapse lapse) {
        return switch (lapse) {
            case BUSY -> error(429, "there is too much to do; ask again later", null, "rate_limit_exceeded");
            case SLOW -> {
                pause();
                yield answered(body, Mind.say(body));
            }
            default -> {
                ObjectNode whole = lapse.applied(body, Completion.of(body, Mind.say(body)));
                yield new Answer(200, body.path("stream").asBoolean(false) ? Completion.events(body, whole) : whole);
            }
        };
    }

    private static void pause() {
        try {
            Thread.sleep(SLOW_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt(); // the server ends
        }
    }

    private static Answer answered(JsonNode body, Mind.Said said) {
        ObjectNode whole = Completion.of(body, said);
        return new Answer(200, body.path("stream").asBoolean(false) ? Completion.events(body, whole) : whole);
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
