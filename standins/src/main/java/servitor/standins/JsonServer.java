package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A small JSON server on loopback that can be taken off the network for a while and come back on the same port. */
final class JsonServer implements AutoCloseable {
    static final JsonMapper JSON = JsonMapper.builder()
            .enable(tools.jackson.databind.DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .build();

    static {
        // Without this the JDK's server answers only once the client has acknowledged the headers, 40 ms later.
        System.setProperty("sun.net.httpserver.nodelay", "true");
    }

    private final ExecutorService threads = Executors.newCachedThreadPool(task -> {
        Thread thread = new Thread(task, "stand-in");
        thread.setDaemon(true);
        return thread;
    });
    private final Handler handler;
    private final int port;
    private HttpServer server;

    /** Answers one request. */
    interface Handler {
        Answer handle(HttpExchange exchange, JsonNode body) throws IOException;
    }

    /** What is answered; a text goes as a stream of events, anything else as JSON. */
    record Answer(int status, Object body) {
        static Answer problem(int status, String detail) {
            return new Answer(status, java.util.Map.of("title", "Stand-in", "detail", detail));
        }
    }

    JsonServer(int port, Handler handler) {
        this.handler = handler;
        this.server = listen(port);
        this.port = server.getAddress().getPort();
    }

    URI url() {
        return URI.create("http://127.0.0.1:" + port);
    }

    private HttpServer listen(int wanted) {
        try {
            HttpServer started =
                    HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), wanted), 100);
            started.setExecutor(threads);
            started.createContext("/", this::answer);
            started.start();
            return started;
        } catch (IOException e) {
            throw new UncheckedIOException("port " + wanted + " can't be listened on", e);
        }
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            byte[] request = exchange.getRequestBody().readNBytes(30_000_000);
            Answer answer;
            try {
                answer = handler.handle(
                        exchange, request.length == 0 ? JSON.createObjectNode() : JSON.readTree(request));
            } catch (RuntimeException e) {
                answer = Answer.problem(400, "this can't be read: " + e.getMessage());
            }
            boolean events = answer.body() instanceof String;
            String body = events ? answer.body().toString() : JSON.writeValueAsString(answer.body());
            byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().set("Content-Type", events ? "text/event-stream" : "application/json");
            exchange.sendResponseHeaders(answer.status(), bytes.length);
            exchange.getResponseBody().write(bytes);
        }
    }

    /** Stops listening: connections are refused until {@link #comeBack()}. */
    synchronized void goAway() {
        server.stop(0);
    }

    synchronized void comeBack() {
        server = listen(port);
    }

    @Override
    public synchronized void close() {
        server.stop(0);
        threads.shutdownNow();
    }
}
