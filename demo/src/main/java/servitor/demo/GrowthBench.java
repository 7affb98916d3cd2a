package servitor.demo;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import servitor.cli.client.Client;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/** How the database file grows under a steady load: refund runs at an even pace, with their approvals, minute by minute. */
public final class GrowthBench {
    private GrowthBench() {}

    public static void main(String[] args) throws Exception {
        int minutes = args.length > 0 ? Integer.parseInt(args[0]) : 30;
        int perMinute = args.length > 1 ? Integer.parseInt(args[1]) : 60;
        Path folder = Files.createTempDirectory("servitor-growth-");
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ServiceProcess service = ServiceProcess.start(
                        Integer.getInteger("port", 8191), folder.resolve("data"), List.of("-Xmx512m"))) {
            service.awaitReady(Duration.ofMinutes(3));
            Path profiles = folder.resolve("profiles");
            new DemoSeeder(service.url(), folder.resolve("data"), profiles).furnish(Path.of("demo/handbook"), standins);
            Client ines = new Client(DemoSeeder.profileOf(profiles, "ines"));
            Client osei = new Client(DemoSeeder.profileOf(profiles, "osei"));
            System.out.println("minute  runs opened  trail entries  file KiB  bytes per entry");
            int opened = 0;
            Set<String> answered = new HashSet<>();
            long start = System.nanoTime();
            for (int minute = 1; minute <= minutes; minute++) {
                for (int i = 0; i < perMinute; i++) {
                    String booking = "SK-6%05d".formatted(opened++);
                    ines.post(
                            "/api/cases",
                            Map.of("kind", "refund", "subject", booking, "fields", Map.of("booking", booking)),
                            UUID.randomUUID().toString());
                    approve(osei, answered);
                    long due = start
                            + TimeUnit.SECONDS.toNanos(60L * (minute - 1))
                            + TimeUnit.SECONDS.toNanos(60) * (i + 1) / perMinute;
                    TimeUnit.NANOSECONDS.sleep(Math.max(0, due - System.nanoTime()));
                }
                long entries = new Client(DemoSeeder.profileOf(profiles, "noor"))
                        .get("/api/trail?limit=1")
                        .path("items")
                        .path(0)
                        .path("seq")
                        .asLong();
                long bytes = Files.size(folder.resolve("data/ledger.mv.db"));
                System.out.printf(
                        "%6d %12d %14d %9d %16d%n",
                        minute, opened, entries, bytes / 1024, bytes / Math.max(1, entries));
            }
        }
        System.exit(0);
    }

    private static void approve(Client osei, Set<String> answered) {
        for (JsonNode approval : osei.get("/api/approvals?asked=true&limit=200").path("items")) {
            String id = approval.path("id").asString();
            if (answered.add(id)) {
                String digest = osei.get("/api/approvals/" + id).path("digest").asString();
                osei.post("/api/approvals/" + id + "/answers", Map.of("decision", "approve", "digest", digest));
            }
        }
    }
}
