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
import servitor.service.cases.CaseFilter;
import servitor.service.cases.CaseRow;
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

    private static final String LATE = """
            ---
            title: It is late
            desk: passengers
            agent: purser
            starts: [{ on: case-changed, kind: refund, to: late, when: 'case.subject == "SK-699001"' }]
            ---
            ## Leave it with people
            ```step
            hand-over: duty-managers
            why: It is late.
            ```
            """;

    private static final String AT_ONCE = """
            ## At once?
            ```step
            decide:
              - { when: 'case.subject == "SK-699003"', go: done }
              - { otherwise: until-the-day-the-clocks-go-back }
            ```

            """;

    @Test
    void aCaseThatIsOpenForTooLongIsLateOnceAndStartsItsPage(@TempDir Path folder) throws Exception {
        SimulatedClock clock = new SimulatedClock(Instant.parse("2026-10-20T12:00:00Z"));
        Path handbook = handbook(folder.resolve("handbook"));
        Path kind = handbook.resolve("kinds/refund.yaml");
        Files.writeString(kind, Files.readString(kind) + "resolve-within: P2D\n");
        Files.writeString(handbook.resolve("runbooks/late.md"), LATE);
        Path page = handbook.resolve("runbooks/cancelled-sailing-refund.md");
        Files.writeString(page, Files.readString(page).replace("## Until the day", AT_ONCE + "## Until the day"));
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext context = SmallService.start(
                        Files.createDirectories(folder.resolve("data")),
                        handbook,
                        standins.fares().url().toString(),
                        standins.models().url().toString(),
                        clock)) {
            RunStore runStore = context.getBean(RunStore.class);
            CaseStore caseStore = context.getBean(CaseStore.class);
            Cases cases = context.getBean(Cases.class);
            String late = SmallService.open(cases, "SK-699001");
            String withoutPage = SmallService.open(cases, "SK-699002");
            String done = SmallService.open(cases, "SK-699003");
            clock.pass(Duration.ofHours(49));
            Household.await(
                    "the page to have begun", () -> runStore.ofCase(late).size() == 2);
            Household.await("the other to be late", () -> lateEntries(context, withoutPage) == 1);
            assertThat(caseStore.list(
                            "", List.of("passengers"), CaseFilter.ALL.lateAt(clock.instant()), Long.MAX_VALUE, 10))
                    .extracting(CaseRow::id)
                    .containsExactly(withoutPage, late);
            clock.pass(Duration.ofDays(10));
            Household.await(
                    "the other to go on",
                    () -> runStore.ofCase(withoutPage).get(0).step().startsWith("two"));
            assertThat(List.of(late, withoutPage, done))
                    .extracting(id -> lateEntries(context, id))
                    .containsExactly(1L, 1L, 0L);
        }
    }

    private static long lateEntries(ConfigurableApplicationContext context, String id) {
        return context.getBean(TrailStore.class).after(0, 1_000).stream()
                .filter(entry -> entry.entry().caseId().equals(id)
                        && entry.entry().what().equals("case-late"))
                .count();
    }
}
