package servitor.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import servitor.cli.client.Client;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/**
 * Measures finished refund runs per second, from the request over HTTP to the answer on the case, with an instant model
 * and instant tools, beside as many durable commits by plain JDBC into the same kind of database, in one go.
 */
public final class RefundBench {
    private static final int CLIENTS = 12; // with whoever lists what waits, fewer than one person may have in hand

    private RefundBench() {}

    public static void main(String[] args) throws Exception {
        int runs = args.length > 0 ? Integer.parseInt(args[0]) : 400;
        Path folder = Files.createTempDirectory("servitor-bench-");
        double floor = commitsPerSecond(folder, runs);
        double reached;
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ServiceProcess service = ServiceProcess.start(
                        Integer.getInteger("port", 8190), folder.resolve("data"), List.of("-Xmx1g"))) {
            service.awaitReady(Duration.ofMinutes(3));
            Path profiles = folder.resolve("profiles");
            new DemoSeeder(service.url(), folder.resolve("data"), profiles).furnish(Path.of("demo/handbook"), standins);
            finishedPerSecond(profiles, 0, runs / 4); // warms up both sides
            reached = finishedPerSecond(profiles, runs / 4, runs);
            int paid = standins.fares().refunds().size();
            if (paid != runs + runs / 4) {
                throw new IllegalStateException(paid + " payments for " + (runs + runs / 4) + " runs");
            }
        }
        System.out.printf("durable commits by plain JDBC, one by one: %.0f/s%n", floor);
        System.out.printf(
                "finished refund runs:                      %.1f/s (%d runs, each paid once)%n", reached, runs);
        System.out.printf("commits of the floor for one finished run: %.1f%n", floor / reached);
        System.exit(0);
    }

    private static double commitsPerSecond(Path folder, int commits) throws SQLException {
        try (Connection database =
                DriverManager.getConnection("jdbc:h2:async:" + folder.resolve("floor") + ";WRITE_DELAY=0", "sa", "")) {
            database.createStatement().execute("create table entry (seq bigint primary key, data varchar(2000))");
            database.setAutoCommit(false);
            try (PreparedStatement insert = database.prepareStatement("insert into entry values (?, ?)")) {
                insert(database, insert, 0, commits); // warms up
                long start = System.nanoTime();
                insert(database, insert, commits, commits);
                return commits / seconds(start);
            }
        }
    }

    private static void insert(Connection database, PreparedStatement insert, int from, int count) throws SQLException {
        for (int i = from; i < from + count; i++) {
            insert.setLong(1, i);
            insert.setString(2, "x".repeat(600));
            insert.executeUpdate();
            database.commit();
        }
    }

    private static double seconds(long start) {
        return (System.nanoTime() - start) / 1e9;
    }

    static double finishedPerSecond(Path profiles, int from, int runs) throws Exception {
        ExecutorService clients = Executors.newFixedThreadPool(CLIENTS);
        long start = System.nanoTime();
        List<Future<String>> opened = new ArrayList<>();
        Client ines = new Client(DemoSeeder.profileOf(profiles, "ines"));
        for (int i = from; i < from + runs; i++) {
            String booking = "SK-6%05d".formatted(i);
            opened.add(clients.submit(() -> open(ines, booking)));
        }
        Set<String> waiting = new HashSet<>();
        for (Future<String> one : opened) {
            waiting.add(one.get());
        }
        approveAll(profiles, clients, waiting);
        double reached = runs / seconds(start);
        clients.shutdown();
        return reached;
    }

    private static String open(Client client, String booking) {
        return client.post(
                        "/api/cases",
                        Map.of("kind", "refund", "subject", booking, "fields", Map.of("booking", booking)),
                        UUID.randomUUID().toString())
                .path("summary")
                .path("id")
                .asString();
    }

    /** Approves every wording as it comes up, until all cases are resolved. */
    private static void approveAll(Path profiles, ExecutorService clients, Set<String> cases)
            throws IOException, InterruptedException {
        Client osei = new Client(DemoSeeder.profileOf(profiles, "osei"));
        Set<String> answered = new HashSet<>();
        while (!cases.isEmpty()) {
            for (JsonNode approval :
                    osei.get("/api/approvals?asked=true&limit=200").path("items")) {
                String id = approval.path("id").asString();
                if (answered.add(id)) {
                    clients.execute(() -> osei.post(
                            "/api/approvals/" + id + "/answers",
                            Map.of(
                                    "decision",
                                    "approve",
                                    "digest",
                                    osei.get("/api/approvals/" + id)
                                            .path("digest")
                                            .asString())));
                }
            }
            for (JsonNode item : osei.get("/api/cases?state=resolved&limit=200").path("items")) {
                cases.remove(item.path("id").asString());
            }
            cases.removeIf(id -> answered.size() >= cases.size()
                    && osei.get("/api/cases/" + id)
                            .path("summary")
                            .path("state")
                            .asString()
                            .equals("resolved"));
            TimeUnit.MILLISECONDS.sleep(20);
        }
    }
}
