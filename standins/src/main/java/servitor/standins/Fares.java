package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import servitor.standins.JsonServer.Answer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The fares system: bookings and sailings as data, refunds that one idempotency key pays once. Refunds are kept in a
 * file, so that they outlive the process like those of a real fares system would.
 */
public final class Fares implements AutoCloseable {
    /** A file in the stand-ins' folder with more sailings and bookings, in the shape of those that come along. */
    public static final String MORE = "fares.json";

    private final ObjectNode data;
    private final Path book;
    private final Map<String, ObjectNode> refunds = new LinkedHashMap<>();
    private final Set<String> refunded = new HashSet<>();
    private final Map<String, JsonNode> deck = new LinkedHashMap<>();
    private final ScheduledExecutorService clock = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "fares-clock");
        thread.setDaemon(true);
        return thread;
    });
    private final JsonServer server;
    private volatile long slowMillis;
    private volatile boolean failing;

    Fares(int port, Path folder) {
        try (InputStream in = Fares.class.getResourceAsStream("fares.json")) {
            this.data = (ObjectNode) JsonServer.JSON.readTree(in);
            addTo(data, folder.resolve(MORE));
            this.book = Files.createDirectories(folder).resolve("refunds.jsonl");
            if (Files.exists(book)) {
                for (String line : Files.readAllLines(book)) {
                    ObjectNode refund = (ObjectNode) JsonServer.JSON.readTree(line);
                    keep(refund);
                }
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        this.server = new JsonServer(port, this::handle);
    }

    private static void addTo(ObjectNode data, Path more) throws IOException {
        if (Files.exists(more)) {
            JsonServer.JSON
                    .readTree(Files.readString(more))
                    .properties()
                    .forEach(part -> ((ObjectNode) data.get(part.getKey())).setAll((ObjectNode) part.getValue()));
        }
    }

    public URI url() {
        return server.url();
    }

    /** Every refund that was paid, in order. */
    public synchronized List<JsonNode> refunds() {
        return new ArrayList<>(refunds.values());
    }

    /** Answers only after this long. */
    public void beSlow(long millis) {
        slowMillis = millis;
    }

    /** Answers every request with 503. */
    public void fail(boolean on) {
        failing = on;
    }

    /** Refuses connections for a while, as a system does that is being restarted. */
    public void goAwayFor(long seconds) {
        server.goAway();
        clock.schedule(server::comeBack, seconds, TimeUnit.SECONDS);
    }

    private Answer handle(HttpExchange exchange, JsonNode body) throws IOException {
        if (slowMillis > 0) {
            pause(slowMillis);
        }
        if (failing) {
            return Answer.problem(503, "told to fail");
        }
        String path = exchange.getRequestURI().getPath();
        if (path.startsWith("/bookings/")) {
            return booking(path.substring("/bookings/".length()));
        }
        if (path.startsWith("/sailings/") && path.contains("/vehicles/")) {
            return note(path.split("/")[2], path.split("/")[4], body);
        }
        if (path.startsWith("/sailings/")) {
            JsonNode sailing = data.path("sailings").get(path.substring("/sailings/".length()));
            return sailing == null ? Answer.problem(404, "no such sailing") : new Answer(200, sailing);
        }
        if (path.equals("/found")) {
            return found(exchange.getRequestURI().getQuery());
        }
        if (path.startsWith("/payments/")) {
            return payment(path.substring("/payments/".length()));
        }
        if (path.equals("/refunds")) {
            return exchange.getRequestMethod().equals("POST")
                    ? pay(exchange.getRequestHeaders().getFirst("Idempotency-Key"), body)
                    : new Answer(200, refunds());
        }
        return Answer.problem(404, "nothing is here");
    }

    /** Notes what a declaration brings onto the deck; the last word on a declaration counts. */
    private synchronized Answer note(String number, String declaration, JsonNode body) {
        if (!data.path("sailings").has(number)) {
            return Answer.problem(404, "no such sailing");
        }
        ObjectNode note = JsonServer.JSON
                .createObjectNode()
                .put("number", number)
                .put("declaration", declaration)
                .put("vehicles", body.path("vehicles").asInt(0))
                .put("class", body.path("class").asString(""));
        deck.put(declaration, note);
        return new Answer(200, note);
    }

    /** What was noted for the decks, by declaration. */
    public synchronized Map<String, JsonNode> deck() {
        return new LinkedHashMap<>(deck);
    }

    /** What has been found on board and fits any of the words. */
    private Answer found(@Nullable String query) {
        String words = query == null ? "" : query.replaceFirst("^words=", "").toLowerCase(java.util.Locale.ROOT);
        var answer = JsonServer.JSON.createObjectNode();
        var items = answer.putArray("items");
        for (JsonNode item : data.path("found")) {
            String title = item.path("what").asString("").toLowerCase(java.util.Locale.ROOT);
            for (String word : title.split("\\W+")) {
                if (word.length() > 3 && words.contains(word)) {
                    items.add(item);
                    break;
                }
            }
        }
        return new Answer(200, answer);
    }

    private static void pause(long millis) {
        try {
            TimeUnit.MILLISECONDS.sleep(millis);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private Answer booking(String reference) {
        JsonNode found = find(reference);
        if (found == null) {
            return Answer.problem(404, "no booking " + reference);
        }
        ObjectNode booking = ((ObjectNode) found).deepCopy();
        booking.set("sailing", data.path("sailings").path(found.get("sailing").stringValue()));
        booking.put("refunded", isRefunded(reference));
        return new Answer(200, booking);
    }

    /** A booking of the data, or one of the many made up for load: SK-600000 to SK-699999, all of one cancelled sailing. */
    private @Nullable JsonNode find(String reference) {
        if (!reference.matches("SK-6[0-9]{5}")) {
            return data.path("bookings").get(reference);
        }
        return JsonServer.JSON
                .createObjectNode()
                .put("reference", reference)
                .put("owner", "P-1042")
                .put("passenger", "Ines Halloran")
                .put("paid", BigDecimal.valueOf(20 + Integer.parseInt(reference.substring(4)) % 80))
                .put("currency", "EUR")
                .put("sailing", "S-311");
    }

    private synchronized boolean isRefunded(String reference) {
        return refunded.contains(reference);
    }

    private void keep(ObjectNode refund) {
        refunds.put(refund.get("key").stringValue(), refund);
        refunded.add(refund.get("reference").stringValue());
    }

    /** What was paid under a key; the way to find out whether a call that broke off has happened. */
    private synchronized Answer payment(String key) {
        ObjectNode answer = JsonServer.JSON.createObjectNode().put("paid", refunds.containsKey(key));
        if (refunds.containsKey(key)) {
            answer.set("refund", refunds.get(key));
        }
        return new Answer(200, answer);
    }

    private synchronized Answer pay(String key, JsonNode body) throws IOException {
        if (key == null || key.isBlank()) {
            return Answer.problem(422, "an Idempotency-Key is needed");
        }
        ObjectNode earlier = refunds.get(key);
        if (earlier != null) {
            return new Answer(201, earlier);
        }
        String reference = body.path("reference").asString("");
        JsonNode booking = find(reference);
        if (booking == null) {
            return Answer.problem(404, "no booking " + reference);
        }
        BigDecimal amount = body.path("amount").decimalValue(BigDecimal.ZERO);
        if (amount.signum() <= 0 || amount.compareTo(booking.get("paid").decimalValue()) > 0) {
            return Answer.problem(422, "more than was paid, or nothing");
        }
        if (isRefunded(reference)) {
            return Answer.problem(409, "booking " + reference + " was refunded already");
        }
        ObjectNode refund = JsonServer.JSON
                .createObjectNode()
                .put("refund", "RF-" + (7001 + refunds.size()))
                .put("reference", reference)
                .put("amount", amount)
                .put("currency", booking.get("currency").stringValue())
                .put("key", key);
        Files.writeString(
                book,
                JsonServer.JSON.writeValueAsString(refund) + "\n",
                StandardOpenOption.CREATE,
                StandardOpenOption.APPEND);
        keep(refund);
        return new Answer(201, refund);
    }

    @Override
    public void close() {
        clock.shutdownNow();
        server.close();
    }
}
