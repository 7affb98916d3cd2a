package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import tools.jackson.databind.JsonNode;

/** A room of a chat server with an incoming hook: it takes what is signed as agreed (Standard Webhooks), once each. */
public final class ChatRoom implements AutoCloseable {
    /** What messages are signed with. */
    public static final String SECRET =
            "whsec_" + Base64.getEncoder().encodeToString("the harbour hears all".getBytes(StandardCharsets.UTF_8));

    private final HttpServer server;
    private final Set<String> ids = new HashSet<>();
    private final List<String> said = new ArrayList<>();

    ChatRoom(int port) {
        try {
            server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 20);
        } catch (IOException e) {
            throw new UncheckedIOException("port " + port + " can't be listened on", e);
        }
        server.createContext("/hook", this::take);
        server.start();
    }

    public URI url() {
        return URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/hook");
    }

    /** What was said in the room, the oldest first. */
    public synchronized List<String> said() {
        return List.copyOf(said);
    }

    private void take(HttpExchange exchange) throws IOException {
        try (exchange) {
            byte[] body = exchange.getRequestBody().readNBytes(100_000);
            int status = isSigned(exchange, body) ? 200 : 401;
            if (status == 200) {
                keep(header(exchange, "webhook-id"), JsonServer.JSON.readTree(body));
            }
            byte[] answer = (status == 200 ? "ok" : "not signed").getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(status, answer.length);
            exchange.getResponseBody().write(answer);
        }
    }

    private synchronized void keep(String id, JsonNode message) {
        if (ids.add(id)) {
            said.add(message.path("text").asString(message.toString()));
        }
    }

    private static String header(HttpExchange exchange, String name) {
        String value = exchange.getRequestHeaders().getFirst(name);
        return value == null ? "" : value;
    }

    private static boolean isSigned(HttpExchange exchange, byte[] body) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(Base64.getDecoder().decode(SECRET.substring("whsec_".length())), "HmacSHA256"));
            mac.update((header(exchange, "webhook-id") + "." + header(exchange, "webhook-timestamp") + ".")
                    .getBytes(StandardCharsets.UTF_8));
            String wanted = "v1," + Base64.getEncoder().encodeToString(mac.doFinal(body));
            return MessageDigest.isEqual(
                    wanted.getBytes(StandardCharsets.UTF_8),
                    header(exchange, "webhook-signature").getBytes(StandardCharsets.UTF_8));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has HmacSHA256", e);
        }
    }

    @Override
    public void close() {
        server.stop(0);
    }
}
