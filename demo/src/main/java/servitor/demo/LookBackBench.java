package servitor.demo;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import servitor.cli.client.Client;
import servitor.cli.command.HandbookFolder;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.rehearsal.Played;
import servitor.core.rehearsal.Rehearsals;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/**
 * Measures rehearsals a second, beside chaining the same entries of their trails; and cases looked back at a second by a whole service, with
 * what that costs a loaded one ({@code bench/look-back}).
 */
public final class LookBackBench {
    private static final int ROUNDS = 12;
    private static final Duration WARM_UP = Duration.ofSeconds(30);
    private static final Duration MEASURED = Duration.ofSeconds(20);
    private static final byte[] SALT = new byte[16];

    private LookBackBench() {}

    public static void main(String[] args) throws Exception {
        int runs = args.length > 0 ? Integer.parseInt(args[0]) : 400;
        rehearsals();
        Path folder = Files.createTempDirectory("servitor-bench-");
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ServiceProcess service = ServiceProcess.start(
                        Integer.getInteger("port", 8190),
                        folder.resolve("data"),
                        List.of("-Xmx1g", "-Dservitor.cases-per-hour=0"))) {
            service.awaitReady(Duration.ofMinutes(3));
            Path profiles = folder.resolve("profiles");
            new DemoSeeder(service.url(), folder.resolve("data"), profiles).furnish(Path.of("demo/handbook"), standins);
            RefundBench.finishedPerSecond(profiles, 0, runs); // warms up, and becomes the past
            Client maren = new Client(DemoSeeder.profileOf(profiles, "maren"));
            lookBack(maren, WARM_UP);
            double cases = lookBack(maren, MEASURED);
            double without = RefundBench.finishedPerSecond(profiles, runs, runs);
            AtomicBoolean over = new AtomicBoolean();
            CompletableFuture<Void> looking = CompletableFuture.runAsync(() -> {
                while (!over.get()) {
                    lookBack(maren, Duration.ZERO);
                }
            });
            double with = RefundBench.finishedPerSecond(profiles, 2 * runs, runs);
            over.set(true);
            looking.join();
            System.out.printf("cases looked back at:                      %.0f/s, the service idle otherwise%n", cases);
            System.out.printf("finished refund runs:                      %.1f/s%n", without);
            System.out.printf("the same while somebody looks back:        %.1f/s; ratio %.2f%n", with, with / without);
        }
        System.exit(0);
    }

    private static void rehearsals() {
        Handbook handbook = CheckedHandbook.of(HandbookFolder.read(Path.of("demo/handbook")))
                .handbook();
        List<Played> plays = Rehearsals.play(handbook);
        for (int round = 0; round < ROUNDS; round++) { // warms up
            plays = Rehearsals.play(handbook);
            chain(plays);
        }
        long start = System.nanoTime();
        for (int round = 0; round < ROUNDS; round++) {
            plays = Rehearsals.play(handbook);
        }
        double played = ROUNDS * plays.size() / seconds(start);
        start = System.nanoTime();
        for (int round = 0; round < ROUNDS; round++) {
            chain(plays);
        }
        double floor = ROUNDS * plays.size() / seconds(start);
        System.out.printf("rehearsals played:                         %.0f/s%n", played);
        System.out.printf("their entries digested and chained alone:  %.0f/s; ratio %.1f%n", floor, floor / played);
    }

    private static void chain(List<Played> plays) {
        for (Played play : plays) {
            String head = TrailEntry.GENESIS;
            long seq = 0;
            for (RecordedEntry entry : play.trail()) {
                TrailEvent event = new TrailEvent(
                        entry.entry().actor(),
                        TrailWord.of(entry.entry().what()).orElseThrow(),
                        entry.entry().step(),
                        Objects.requireNonNull(entry.data()));
                head = TrailEntry.append(
                                ++seq,
                                head,
                                entry.entry().at(),
                                entry.entry().caseId(),
                                entry.entry().runId(),
                                event,
                                TrailEntry.digest(SALT, event.data()))
                        .hash();
            }
        }
    }

    private static double seconds(long start) {
        return (System.nanoTime() - start) / 1e9;
    }

    /** Cases a second, over as many whole looks back as it takes to fill {@code atLeast}. */
    private static double lookBack(Client maren, Duration atLeast) {
        long start = System.nanoTime();
        int cases = 0;
        do {
            cases += lookBack(maren);
        } while (seconds(start) < atLeast.toSeconds());
        return cases / seconds(start);
    }

    private static int lookBack(Client maren) {
        JsonNode progress = maren.post("/api/handbook/look-back", Map.of("days", 3_650));
        while (progress.path("state").asString("").equals("working")) {
            try {
                TimeUnit.MILLISECONDS.sleep(20);
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
            progress = maren.get("/api/handbook/look-back");
        }
        return progress.path("done").asInt();
    }
}
