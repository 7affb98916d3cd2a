package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import servitor.standins.JsonServer.Answer;
import tools.jackson.databind.JsonNode;

/**
 * The yard's tracker of repair orders: people there open orders, comment on them and move them on, and so does whoever signs in with the
 * house's token. Every change is posted to the house, whoever made it; each idempotency key comments once.
 */
public final class Tracker implements AutoCloseable {
    /** What the house signs in with; who does is called {@link #HOUSE} there. */
    public static final String TOKEN = "the-yard-knows-us";
    /** Whom changes by the house are by. */
    public static final String HOUSE = "skerry";
    /** What the tracker signs its messages with. */
    public static final String SECRET =
            "whsec_" + Base64.getEncoder().encodeToString("every order is told of".getBytes(StandardCharsets.UTF_8));

    private static final Pattern ORDER = Pattern.compile(
            "/orders/(?<order>Y-[0-9]{1,6})(?:/(?<part>comments|labels|state))?(?:/(?<name>[a-z-]{1,40}))?");
    private static final List<String> STATES = List.of("new", "ready", "done");

    private final Map<String, Order> orders = new LinkedHashMap<>();
    private final Set<String> keys = new HashSet<>();
    private final Hooks hooks = new Hooks(SECRET);
    private final JsonServer server;

    private static final class Order {
        final String id;
        final String ship;
        final String title;
        final String text;
        String state = "new";
        final Set<String> labels = new LinkedHashSet<>();
        final List<Map<String, String>> comments = new ArrayList<>();

        Order(String id, String ship, String title, String text) {
            this.id = id;
            this.ship = ship;
            this.title = title;
            this.text = text;
        }

        private String saidByOthers() {
            return comments.stream()
                    .filter(one -> !HOUSE.equals(one.get("by")))
                    .map(one -> one.get("text"))
                    .collect(Collectors.joining("\n"));
        }

        Map<String, Object> shown() {
            Map<String, Object> shown = new LinkedHashMap<>();
            shown.put("order", id);
            shown.put("ship", ship);
            shown.put("title", title);
            shown.put("text", text);
            shown.put("state", state);
            shown.put("labels", List.copyOf(labels));
            shown.put("comments", List.copyOf(comments));
            shown.put("said", saidByOthers());
            return shown;
        }
    }

    Tracker(int port) {
        this.server = new JsonServer(port, this::handle);
    }

    public URI url() {
        return server.url();
    }

    /** Where changes are posted to. */
    public void tell(URI address) {
        hooks.to(address);
    }

    /** An order as it is; empty when there is none. */
    public synchronized Map<String, Object> order(String id) {
        Order order = orders.get(id);
        return order == null ? Map.of() : order.shown();
    }

    private synchronized Answer handle(HttpExchange exchange, JsonNode body) {
        String path = exchange.getRequestURI().getPath();
        String method = exchange.getRequestMethod();
        boolean house = ("Bearer " + TOKEN).equals(exchange.getRequestHeaders().getFirst("Authorization"));
        String by = house ? HOUSE : body.path("by").asString("yard");
        if (path.equals("/orders") && method.equals("POST")) {
            return opened(body, by);
        }
        Matcher asked = ORDER.matcher(path);
        Order order = asked.matches() ? orders.get(asked.group("order")) : null;
        if (order == null) {
            return Answer.problem(404, "There is no such order");
        }
        String part = asked.group("part") == null ? "" : asked.group("part");
        String key = exchange.getRequestHeaders().getFirst("Idempotency-Key");
        return switch (part) {
            case "comments" -> commented(order, body.path("text").asString(""), by, key);
            case "labels" -> labelled(order, asked.group("name"), !method.equals("DELETE"), by);
            case "state" -> moved(order, body.path("state").asString(""), by);
            default -> new Answer(200, order.shown());
        };
    }

    private Answer opened(JsonNode body, String by) {
        Order order = new Order(
                "Y-" + (701 + orders.size()),
                body.path("ship").asString("Grey Heron"),
                body.path("title").asString("Something to repair"),
                body.path("text").asString(""));
        orders.put(order.id, order);
        changed(order, "opened", "", by);
        return new Answer(201, order.shown());
    }

    private Answer commented(Order order, String text, String by, String key) {
        if (text.isBlank()) {
            return Answer.problem(422, "A comment says something");
        }
        if (key == null || keys.add(key)) {
            order.comments.add(Map.of("by", by, "text", text));
            changed(order, "commented", text, by);
        }
        return new Answer(201, order.shown());
    }

    private Answer labelled(Order order, String label, boolean on, String by) {
        if (label == null) {
            return Answer.problem(404, "Which label?");
        }
        if (on ? order.labels.add(label) : order.labels.remove(label)) {
            changed(order, "labelled", label, by);
        }
        return new Answer(200, order.shown());
    }

    private Answer moved(Order order, String state, String by) {
        if (!STATES.contains(state)) {
            return Answer.problem(422, "An order is new, ready or done");
        }
        if (!order.state.equals(state)) {
            order.state = state;
            changed(order, "moved", state, by);
        }
        return new Answer(200, order.shown());
    }

    private void changed(Order order, String what, String said, String by) {
        Map<String, String> message = new LinkedHashMap<>();
        message.put("order", order.id);
        message.put("ship", order.ship);
        message.put("title", order.title);
        message.put("state", order.state);
        message.put("what", what);
        message.put("said", said);
        message.put("by", by);
        hooks.say(JsonServer.JSON.writeValueAsString(message));
    }

    @Override
    public void close() {
        server.close();
    }
}
