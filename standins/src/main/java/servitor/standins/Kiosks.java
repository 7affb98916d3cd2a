package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import servitor.standins.JsonServer.Answer;
import tools.jackson.databind.JsonNode;

/**
 * The monitor of the ticket kiosks: says how each is, and restarts one, each idempotency key once. A frozen one is up after that; one
 * without power stays dark.
 */
public final class Kiosks implements AutoCloseable {
    /** What the monitor signs its messages with. */
    public static final String SECRET =
            "whsec_" + Base64.getEncoder().encodeToString("every kiosk is watched".getBytes(StandardCharsets.UTF_8));

    private static final Map<String, String> HARBOURS = Map.of(
            "varra-1", "Varra",
            "varra-2", "Varra",
            "sandholm-1", "Sandholm",
            "quillport-1", "Quillport",
            "stennis-1", "Stennis");
    private static final Pattern KIOSK = Pattern.compile("/kiosks/([a-z0-9-]{1,40})(/restarts)?");

    private final Map<String, String> states = new LinkedHashMap<>();
    private final Map<String, Integer> restarts = new HashMap<>();
    private final Set<String> keys = new HashSet<>();
    private final JsonServer server;

    Kiosks(int port) {
        HARBOURS.keySet().forEach(kiosk -> states.put(kiosk, "up"));
        this.server = new JsonServer(port, this::handle);
    }

    public URI url() {
        return server.url();
    }

    /** Has a kiosk be {@code up}, {@code frozen} or {@code dark}. */
    public synchronized void set(String kiosk, String state) {
        states.put(kiosk, state);
    }

    /** How each of them is. */
    public synchronized Map<String, String> states() {
        return new LinkedHashMap<>(states);
    }

    /** What isn't up, in words, in order. */
    private String down() {
        return states.entrySet().stream()
                .filter(kiosk -> !kiosk.getValue().equals("up"))
                .map(kiosk -> kiosk.getKey() + " (" + kiosk.getValue() + ")")
                .sorted()
                .collect(Collectors.joining(", "));
    }

    private synchronized Answer handle(HttpExchange exchange, JsonNode body) {
        if (exchange.getRequestURI().getPath().equals("/kiosks")) {
            return new Answer(200, Map.of("down", down()));
        }
        Matcher asked = KIOSK.matcher(exchange.getRequestURI().getPath());
        String kiosk = asked.matches() ? asked.group(1) : "";
        if (!states.containsKey(kiosk)) {
            return Answer.problem(404, "There is no such kiosk");
        }
        if (asked.group(2) != null
                && keys.add(String.valueOf(exchange.getRequestHeaders().getFirst("Idempotency-Key")))) {
            restarts.merge(kiosk, 1, Integer::sum);
            states.computeIfPresent(kiosk, (name, state) -> state.equals("frozen") ? "up" : state);
        }
        return new Answer(
                asked.group(2) == null ? 200 : 202,
                Map.of(
                        "kiosk", kiosk,
                        "harbour", HARBOURS.getOrDefault(kiosk, ""),
                        "state", states.getOrDefault(kiosk, ""),
                        "restarts", restarts.getOrDefault(kiosk, 0)));
    }

    @Override
    public void close() {
        server.close();
    }
}
