package servitor.demo;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.jdbc.core.JdbcTemplate;
import servitor.cli.command.HandbookFolder;
import servitor.connectors.access.Credentials;
import servitor.service.Precondition;
import servitor.service.connections.Connections;
import servitor.service.connections.SignInForm;
import servitor.service.editions.Editions;
import servitor.service.people.People;
import servitor.service.people.People.PersonDetails;
import servitor.service.people.Role;

/** Signed messages of systems into cases that start no page, beside bare requests of the same size; and what repeats leave behind. */
public final class EventBench {
    private static final String SECRET = "whsec_" + "AAAA".repeat(8);
    private static final Credentials.Signing SIGNING = new Credentials.Signing(SECRET);
    private static final int CLIENTS = 16;
    private static final int BATCH = 100;
    private static final int REPEATS = 10_000;
    private static final int ROUNDS = 5;
    private static final String INTAKE = """
            title: Events
            from: webhook
            connection: bench
            kind: complaint
            message: { about: text, words: text }
            requester: watch
            subject: "${message.about}"
            text: "${message.words}"
            relations: { item: "${message.about}" }
            belongs-to: message.about in case.relations.item
            count-within: PT1H
            """;

    private final URI service;
    private final URI bare;
    private final JdbcTemplate sql;
    private final HttpClient http = HttpClient.newHttpClient();
    private final ExecutorService clients = Executors.newFixedThreadPool(CLIENTS);
    private int sent;

    private EventBench(URI service, URI bare, JdbcTemplate sql) {
        this.service = service;
        this.bare = bare;
        this.sql = sql;
    }

    public static void main(String[] args) throws Exception {
        int events = args.length > 0 ? Integer.parseInt(args[0]) : 2_000;
        Path data = Files.createTempDirectory("servitor-events-");
        System.setProperty("servitor.cases-per-hour", "0");
        HttpServer floor = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 100);
        floor.setExecutor(Executors.newFixedThreadPool(CLIENTS));
        floor.createContext("/", exchange -> {
            try (exchange) {
                exchange.getRequestBody().readAllBytes();
                exchange.sendResponseHeaders(204, -1);
            }
        });
        floor.start();
        try (ConfigurableApplicationContext context = WholeService.start(data, Clock.systemUTC())) {
            furnish(context);
            new EventBench(
                            WholeService.url(context),
                            URI.create("http://127.0.0.1:" + floor.getAddress().getPort()),
                            context.getBean(JdbcTemplate.class))
                    .measure(events);
        }
        System.exit(0);
    }

    private static void furnish(ConfigurableApplicationContext context) throws IOException {
        context.getBean(People.class)
                .put(
                        new PersonDetails(
                                "watch",
                                "Watch",
                                "",
                                "",
                                "",
                                null,
                                Set.of(Role.REQUESTER),
                                Set.of(),
                                Set.of("colleagues")),
                        "admin",
                        Precondition.NONE);
        Map<String, String> files = HandbookFolder.read(Path.of("demo/handbook"));
        files.keySet().removeIf(path -> path.startsWith("runbooks/") || path.startsWith("intake/"));
        files.put("intake/bench.yaml", INTAKE);
        context.getBean(Editions.class).publish(files, "", "admin");
        context.getBean(Connections.class)
                .put(
                        "bench",
                        new Connections.Settings(
                                "hook:signed",
                                null,
                                new SignInForm("signature", null, SECRET, null, null, null, null, null, null),
                                null),
                        "admin",
                        Precondition.NONE);
    }

    private void measure(int events) throws Exception {
        double ratio = 0;
        for (int round = 1; round <= ROUNDS; round++) {
            double alone = events / seconds(() -> all(bare, events, 1, "floor"));
            int about = round;
            double single = events / seconds(() -> all(hook(), events, 1, "r" + about));
            double batched = events / seconds(() -> all(hook(), events, BATCH, "b" + about));
            ratio = single / alone;
            System.out.printf(
                    "round %d: %7.0f events a second into cases one by one, %7.0f in batches of %d, %7.0f bare requests%n",
                    round, single, batched, BATCH, alone);
        }
        System.out.printf("ratio                     %8.2f%n", ratio);
        long cases = count("case_record");
        long notes = count("note");
        long bytes = bytes();
        double took = seconds(() -> {
            for (int i = 0; i < REPEATS / BATCH; i++) {
                post(hook(), body(BATCH, "the same", false));
            }
        });
        System.out.printf(
                "%d repeats of one message in %.1f s: %d cases, %d notes, %.0f KB of the database%n",
                REPEATS, took, count("case_record") - cases, count("note") - notes, (bytes() - bytes) / 1024.0);
    }

    private URI hook() {
        return service.resolve("/api/hooks/bench");
    }

    private void all(URI to, int events, int each, String about) throws Exception {
        List<Callable<Void>> work = new ArrayList<>();
        for (int i = 0; i < events / each; i++) {
            String body = body(each, about + "-" + i, true);
            work.add(() -> {
                post(to, body);
                return null;
            });
        }
        for (Future<Void> one : clients.invokeAll(work)) {
            one.get();
        }
    }

    /** A batch of CloudEvents; each about something else, or all about the same. */
    private String body(int events, String about, boolean apart) {
        List<String> all = new ArrayList<>();
        for (int i = 0; i < events; i++) {
            all.add("{\"specversion\": \"1.0\", \"id\": \"" + sent++
                    + "\", \"source\": \"/bench\", \"type\": \"t\", \"data\": "
                    + "{\"about\": \"" + about + (apart ? "-" + i : "") + "\", \"words\": \""
                    + "It was cold. ".repeat(15)
                    + "\"}}");
        }
        return "[" + String.join(",", all) + "]";
    }

    private void post(URI to, String body) throws IOException, InterruptedException {
        String seconds = String.valueOf(Instant.now().getEpochSecond());
        byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
        int status = http.send(
                        HttpRequest.newBuilder(to)
                                .header("Content-Type", "application/cloudevents-batch+json")
                                .header("webhook-id", "m")
                                .header("webhook-timestamp", seconds)
                                .header("webhook-signature", "v1," + SIGNING.sign("m", seconds, bytes))
                                .POST(BodyPublishers.ofByteArray(bytes))
                                .build(),
                        BodyHandlers.ofString())
                .statusCode();
        if (status >= 300) {
            throw new IllegalStateException(to + " answered " + status);
        }
    }

    private long count(String table) {
        Long rows = sql.queryForObject("select count(*) from " + table, Long.class);
        return rows == null ? 0 : rows;
    }

    /** What the rows of events, repeats, notes and the trail take, as text. */
    private long bytes() {
        Long bytes = sql.queryForObject(
                "select (select coalesce(sum(length(id) + length(source) + length(named) + 150), 0) from outside_event) + (select "
                        + "coalesce(sum(length(payload)), 0) from event_payload) + (select coalesce(sum(length(text)), 0) from note) + "
                        + "(select coalesce(sum(length(data) + 300), 0) from trail_data)",
                Long.class);
        return bytes == null ? 0 : bytes;
    }

    private interface Work {
        void run() throws Exception;
    }

    private static double seconds(Work work) throws Exception {
        long start = System.nanoTime();
        work.run();
        return (System.nanoTime() - start) / 1e9;
    }
}
