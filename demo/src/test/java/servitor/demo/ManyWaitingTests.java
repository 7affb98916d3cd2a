package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.util.FileSystemUtils;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.runs.RunStore;
import servitor.service.runs.WorkStore;
import servitor.standins.Standins;

/** A thousand runs wait for a model that takes its time, and nothing of the machine is held for them. */
class ManyWaitingTests {
    private static final int RUNS = 1_000;
    private static final int MOST_THREADS = 64;
    private static final long MOST_HEAP = 400L << 20;
    private static final String PAGE = """
            ---
            title: Sort a refund
            desk: passengers
            agent: purser
            starts:
              - on: case-opened
                kind: refund
            ---
            ## What is it about?
            Say what the request is about. "other" when it is none of these.
            ```step
            assess: case
            answer: { topic: "one of [delay, staff, other]" }
            save: seen
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;

    private static Path handbook(Path folder) throws Exception {
        Path handbook = folder.resolve("handbook");
        FileSystemUtils.copyRecursively(Path.of("handbook"), handbook);
        Files.writeString(handbook.resolve("runbooks/cancelled-sailing-refund.md"), PAGE);
        return handbook;
    }

    /** The threads of the service: those of stand-ins, and of the Java machine, aside. */
    private static long threads() {
        return Thread.getAllStackTraces().keySet().stream()
                .filter(thread -> thread.getThreadGroup() != null
                        && !thread.getThreadGroup().getName().equals("system")
                        && !thread.getName().startsWith("ForkJoinPool.commonPool")
                        && !thread.getName().startsWith("stand-in"))
                .count();
    }

    @Test
    void aThousandRunsWaitForAModelThatTakesItsTime(@TempDir Path folder) throws Exception {
        long before = threads();
        try (Standins standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
                ConfigurableApplicationContext context = SmallService.start(
                        Files.createDirectories(folder.resolve("data")),
                        handbook(folder),
                        standins.fares().url().toString(),
                        standins.models().url().toString())) {
            standins.models().hold(true);
            Cases cases = context.getBean(Cases.class);
            List<String> opened = IntStream.range(0, RUNS)
                    .mapToObj(i -> SmallService.open(cases, "SK-64%04d".formatted(i)))
                    .toList();
            RunStore runStore = context.getBean(RunStore.class);
            WorkStore workStore = context.getBean(WorkStore.class);
            assertThat(opened)
                    .allSatisfy(id -> assertThat(
                                    workStore.ofRun(runStore.ofCase(id).get(0).id()))
                            .as(id + " waits for the model")
                            .singleElement()
                            .satisfies(work -> assertThat(work.state()).isIn("pending", "taken")));
            assertThat(threads() - before)
                    .as(() -> Thread.getAllStackTraces().keySet().stream()
                            .map(Thread::getName)
                            .sorted()
                            .toList()
                            .toString())
                    .isLessThanOrEqualTo(MOST_THREADS);
            System.gc();
            assertThat(Runtime.getRuntime().totalMemory() - Runtime.getRuntime().freeMemory())
                    .isLessThan(MOST_HEAP);

            standins.models().hold(false);
            CaseStore caseStore = context.getBean(CaseStore.class);
            Household.await(
                    "all to be done",
                    () -> caseStore.all(Set.copyOf(opened)).values().stream()
                            .allMatch(row -> row.state().equals("resolved")));
        }
    }
}
