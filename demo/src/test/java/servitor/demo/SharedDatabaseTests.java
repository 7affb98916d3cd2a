package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.ServerSocket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Collectors;
import org.h2.tools.Server;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.cli.client.Client;
import servitor.cli.client.Profile;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/** Two services on one database server share the work; one dies, the other takes over, and nothing is done twice. */
class SharedDatabaseTests {
    private static int freePort() throws Exception {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    private static ServiceProcess start(Path data, int databasePort) throws Exception {
        ServiceProcess service = ServiceProcess.start(
                Trained.java(),
                freePort(),
                data,
                List.of(
                        "-Xmx384m",
                        "-Dservitor.lease=5s",
                        "-Dservitor.longest-call=4s",
                        "-Dservitor.keys=" + data.resolveSibling("keys"),
                        "-Dservitor.database=jdbc:h2:tcp://127.0.0.1:" + databasePort + "/ledger;LOCK_TIMEOUT=20000"));
        service.awaitReady(Household.PATIENCE);
        return service;
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

    @Test
    void workIsSharedAndTakenOver(@TempDir Path folder) throws Exception {
        Server database = Server.createTcpServer(
                        "-tcpPort",
                        "0",
                        "-ifNotExists",
                        "-baseDir",
                        folder.resolve("database").toString())
                .start();
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ServiceProcess one = start(folder.resolve("one"), database.getPort());
                ServiceProcess other = start(folder.resolve("other"), database.getPort())) {
            Path profiles = folder.resolve("profiles");
            new DemoSeeder(one.url(), folder.resolve("one"), profiles).furnish(Path.of("handbook"), standins);
            String token = DemoSeeder.profileOf(profiles, "ines").token();
            Client here = new Client(new Profile(one.url().toString(), token));
            Client there = new Client(new Profile(other.url().toString(), token));
            Client osei = new Client(new Profile(
                    other.url().toString(),
                    DemoSeeder.profileOf(profiles, "osei").token()));
            Client noor = new Client(new Profile(
                    other.url().toString(),
                    DemoSeeder.profileOf(profiles, "noor").token()));
            oneCaseOfTheSameMessageAtBoth(
                    one.url(),
                    other.url(),
                    new Client(new Profile(
                            one.url().toString(),
                            DemoSeeder.profileOf(profiles, "teun").token())));
            standins.fares().beSlow(200);
            List<String> cases = new ArrayList<>();
            for (int i = 0; i < 20; i++) {
                cases.add(open(i % 2 == 0 ? here : there, "SK-6900%02d".formatted(i)));
            }
            one.kill();
            standins.fares().beSlow(0);
            for (String id : cases) {
                String approval = Household.await("an approval of " + id, () -> {
                    for (JsonNode all : noor.get("/api/cases/" + id).path("approvals")) {
                        if (all.path("state").asString().equals("open")) {
                            return all.path("id").asString();
                        }
                    }
                    return null;
                });
                osei.post(
                        "/api/approvals/" + approval + "/answers",
                        Map.of(
                                "decision",
                                "approve",
                                "digest",
                                osei.get("/api/approvals/" + approval)
                                        .path("digest")
                                        .asString()));
            }
            for (String id : cases) {
                Household.await(
                        id + " to be resolved",
                        () -> noor.get("/api/cases/" + id)
                                .path("summary")
                                .path("state")
                                .asString()
                                .equals("resolved"));
            }
            assertThat(standins.fares().refunds().stream()
                            .collect(Collectors.groupingBy(
                                    refund -> refund.path("reference").asString(), Collectors.counting()))
                            .values())
                    .hasSize(cases.size())
                    .allMatch(times -> times == 1);
            assertThat(noor.get("/api/trail/verification").path("holds").asBoolean())
                    .isTrue();
            assertThat(Files.exists(folder.resolve("database/ledger.mv.db"))).isTrue();
        } finally {
            database.stop();
        }
    }

    /** A monitor that isn't sure sends each message to both services at the same time. */
    private static void oneCaseOfTheSameMessageAtBoth(URI one, URI other, Client teun) throws Exception {
        ExecutorService both = Executors.newFixedThreadPool(8);
        try {
            List<Callable<Monitor.Answer>> sent = new ArrayList<>();
            for (int kiosk = 1; kiosk <= 4; kiosk++) {
                String name = "sandholm-" + kiosk;
                for (URI service : List.of(one, other)) {
                    sent.add(() -> new Monitor(service).sees(name, "dark", "event-" + name));
                }
            }
            List<String> outcomes = new ArrayList<>();
            for (Future<Monitor.Answer> answer : both.invokeAll(sent)) {
                outcomes.add(answer.get().outcome());
            }
            assertThat(outcomes).filteredOn("opened"::equals).hasSize(4);
            assertThat(outcomes).filteredOn("known"::equals).hasSize(4);
        } finally {
            both.shutdownNow();
        }
        assertThat(teun.get("/api/cases?kind=kiosk-down").path("items")).hasSize(4);
    }
}
