package servitor.demo;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.cli.client.Client;
import servitor.service.cases.Cases;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/** A whole service in which very many approvals wait for one person, whose queue a browser then opens ({@code bench/queue}). */
public final class QueueBench {
    private static final int CLIENTS = 16;

    private QueueBench() {}

    public static void main(String[] args) throws Exception {
        int open = args.length > 0 ? Integer.parseInt(args[0]) : 2_000;
        Path folder = Files.createTempDirectory("servitor-queue-");
        Path data = Files.createDirectories(folder.resolve("data"));
        Path profiles = folder.resolve("profiles");
        System.setProperty("servitor.cases-per-hour", "0"); // one passenger stands for all
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext context =
                        WholeService.start(data, Clock.systemUTC(), Duration.ofMinutes(5))) {
            new DemoSeeder(WholeService.url(context), data, profiles).furnish(Path.of("demo/handbook"), standins);
            open(context, open);
            Client osei = new Client(DemoSeeder.profileOf(profiles, "osei"));
            while (!isWaiting(osei, open)) {
                TimeUnit.MILLISECONDS.sleep(500);
            }
            System.out.println("open approvals: " + open);
            new ProcessBuilder(
                            "node",
                            Path.of("bench/queue.mjs").toAbsolutePath().toString(),
                            WholeService.url(context).toString())
                    .directory(Path.of("console").toFile())
                    .inheritIO()
                    .start()
                    .waitFor();
        }
        System.exit(0);
    }

    private static void open(ConfigurableApplicationContext context, int count) {
        Cases cases = context.getBean(Cases.class);
        ExecutorService clients = Executors.newFixedThreadPool(CLIENTS);
        for (int i = 0; i < count; i++) {
            String booking = "SK-6%05d".formatted(i);
            clients.execute(() -> SmallService.open(cases, booking));
        }
        clients.shutdown();
    }

    private static boolean isWaiting(Client osei, int count) {
        int seen = 0;
        String cursor = null;
        do {
            JsonNode page = osei.get("/api/approvals"
                    + Client.query(cursor == null ? Map.of("limit", 200) : Map.of("limit", 200, "cursor", cursor)));
            seen += page.path("items").size();
            cursor = page.path("next").asString(null);
        } while (cursor != null);
        return seen >= count;
    }
}
