package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.cli.command.HandbookFolder;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.ledger.TrailStore;
import servitor.service.runs.RunStore;
import servitor.service.runs.WorkStore;
import servitor.standins.Standins;

/** Time is what the one clock says: waits end when it passes, across a change of summer time, and entries never go back. */
class ClockTests {
    private static final String PAGE = """
            ---
            title: Wait
            desk: passengers
            agent: purser
            starts: [{ on: case-opened, kind: refund }]
            ---
            ## Until the day the clocks go back
            ```step
            await: time
            until: "2026-10-25"
            ```

            ## Two days more
            ```step
            await: reply
            within: P2D
            go: { arrived: done, expired: done }
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;

    private static Path handbook(Path folder) throws Exception {
        Map<String, String> files = HandbookFolder.read(Path.of("handbook"));
        for (Map.Entry<String, String> file : files.entrySet()) {
            Path to = folder.resolve(file.getKey());
            Files.createDirectories(to.getParent());
            Files.writeString(to, file.getValue());
        }
        Files.writeString(folder.resolve("runbooks/cancelled-sailing-refund.md"), PAGE);
        return folder;
    }

    @Test
    void waitsEndWhenTheClockSaysSoAndEntriesNeverGoBack(@TempDir Path folder) throws Exception {
        SimulatedClock clock = new SimulatedClock(Instant.parse("2026-10-20T12:00:00Z"));
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext context = SmallService.start(
                        Files.createDirectories(folder.resolve("data")),
                        handbook(folder.resolve("handbook")),
                        standins.fares().url().toString(),
                        standins.models().url().toString(),
                        clock)) {
            RunStore runStore = context.getBean(RunStore.class);
            WorkStore workStore = context.getBean(WorkStore.class);
            TrailStore trailStore = context.getBean(TrailStore.class);
            CaseStore caseStore = context.getBean(CaseStore.class);

            String id = SmallService.open(context.getBean(Cases.class), "SK-699001");
            String run = runStore.ofCase(id).get(0).id();
            assertThat(workStore.nextDue(clock.instant()))
                    .as("midnight in Dublin, which is still on summer time")
                    .contains(Instant.parse("2026-10-24T23:00:00Z"));
            clock.pass(Duration.ofDays(4));
            assertThat(runStore.find(run).orElseThrow().step()).startsWith("until");
            clock.pass(Duration.ofHours(11));
            Household.await(
                    "the day to have come",
                    () -> runStore.find(run).orElseThrow().step().startsWith("two"));
            clock.pass(Duration.ofHours(-3)); // somebody sets the machine's clock back
            SmallService.open(context.getBean(Cases.class), "SK-699002");
            List<Instant> times = trailStore.after(0, 1_000).stream()
                    .map(entry -> entry.entry().at())
                    .toList();
            assertThat(times).isSorted();
            clock.pass(Duration.ofHours(3 + 48));
            Household.await(
                    "the wait to end",
                    () -> caseStore.find(id).orElseThrow().state().equals("resolved"));
        }
    }
}
