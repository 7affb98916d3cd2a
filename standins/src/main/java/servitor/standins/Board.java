package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.standins.JsonServer.Answer;
import tools.jackson.databind.JsonNode;

/** The works board: projects with queues, in which tasks are filed, each idempotency key once. */
public final class Board implements AutoCloseable {
    private static final Map<String, List<Map<String, String>>> QUEUES = Map.of(
            "vessels",
            List.of(of("deck", "On deck"), of("engine-room", "In the engine room"), of("survey", "Before the survey")),
            "terminals",
            List.of(of("kiosks", "Ticket kiosks"), of("gates", "Gates and ramps")));
    private static final List<Map<String, String>> PROJECTS =
            List.of(of("terminals", "Terminals and ramps"), of("vessels", "Vessels in service"));
    private static final Pattern IN_PROJECT =
            Pattern.compile("/projects/([a-z-]{1,40})/queues(?:/([a-z-]{1,40})/tasks)?");

    private final Map<String, Map<String, String>> tasks = new LinkedHashMap<>();
    private final JsonServer server;

    Board(int port) {
        this.server = new JsonServer(port, this::handle);
    }

    private static Map<String, String> of(String key, String title) {
        return Map.of("key", key, "title", title);
    }

    public URI url() {
        return server.url();
    }

    /** Every task that was filed, in order. */
    public synchronized List<Map<String, String>> tasks() {
        return new ArrayList<>(tasks.values());
    }

    private synchronized Answer handle(HttpExchange exchange, JsonNode body) {
        String path = exchange.getRequestURI().getPath();
        if (path.equals("/projects")) {
            return new Answer(200, Map.of("projects", PROJECTS));
        }
        Matcher within = IN_PROJECT.matcher(path);
        List<Map<String, String>> queues = within.matches() ? QUEUES.get(within.group(1)) : null;
        if (queues == null) {
            return Answer.problem(404, "There is nothing at " + path);
        }
        if (within.group(2) == null) {
            return new Answer(200, Map.of("queues", queues));
        }
        if (queues.stream().noneMatch(queue -> within.group(2).equals(queue.get("key")))) {
            return Answer.problem(404, "There is no queue " + within.group(2));
        }
        String key = String.valueOf(exchange.getRequestHeaders().getFirst("Idempotency-Key"));
        Map<String, String> task = tasks.computeIfAbsent(
                key,
                none -> Map.of(
                        "task",
                        "W-" + (301 + tasks.size()),
                        "project",
                        within.group(1),
                        "queue",
                        within.group(2),
                        "title",
                        body.path("title").asString(),
                        "text",
                        body.path("text").asString()));
        return new Answer(201, task);
    }

    @Override
    public void close() {
        server.close();
    }
}
