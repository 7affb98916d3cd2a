package servitor.demo;

import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import org.springframework.context.ConfigurableApplicationContext;
import servitor.cli.command.HandbookFolder;
import servitor.documents.Reading;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.Documents;
import servitor.service.cases.Documents.NewDocument;
import servitor.service.people.Person;
import servitor.service.people.Role;

/**
 * How long it takes from a document's arrival to its values in a run that waits for it, beside reading the same file alone; and what memory
 * the service has in use after many of them. Every file is another one, so that each is read.
 */
public final class ArrivalBench {
    private static final Person INES =
            new Person("ines", "Ines", "", "P-1042", Set.of(Role.REQUESTER), Set.of(), Set.of());
    private static final String PAGE = """
            ---
            title: What arrives
            desk: passengers
            agent: purser
            starts: [{ on: case-opened, kind: complaint }]
            limits: { time: P1D }
            ---
            ## Wait
            ```step
            await: document
            within: PT1H
            go: { arrived: which, expired: people }
            ```
            ## Which?
            ```step
            decide:
              - { when: "case.documents[0].name.endsWith('.pdf')", go: a paper }
              - otherwise: a sheet
            ```
            ## A paper
            ```step
            read: document
            values: { until: { is: date, labelled: Valid until } }
            save: paper
            go: done
            ```
            ## A sheet
            ```step
            read: document
            tables: { goods: { columns: { vehicle: text, goods: text, litres: number } } }
            save: sheet
            ```
            ## Done
            ```step
            finish: resolved
            ```
            ## People
            ```step
            hand-over: duty-managers
            why: "nothing came"
            ```
            """;

    private final Cases cases;
    private final CaseStore store;
    private final Documents documents;

    private ArrivalBench(ConfigurableApplicationContext service) {
        cases = service.getBean(Cases.class);
        store = service.getBean(CaseStore.class);
        documents = service.getBean(Documents.class);
    }

    /** {@code ArrivalBench TIMES}: so many files of each sort. */
    public static void main(String[] args) throws Exception {
        int times = Integer.parseInt(args[0]);
        Path folder = Files.createTempDirectory("servitor-arrivals-");
        try (ConfigurableApplicationContext service = SmallService.start(
                        Files.createDirectories(folder.resolve("data")),
                        handbook(folder.resolve("handbook")),
                        "http://127.0.0.1:9/",
                        "http://127.0.0.1:9/");
                Reading alone = Reading.within(Duration.ofMinutes(1)).startingSooner()) {
            ArrivalBench bench = new ArrivalBench(service);
            TimeUnit.SECONDS.sleep(10); // until both have laid out their classes
            bench.compare("PDF of 3 pages", "paper.pdf", number -> BenchFiles.paper(3, number), times, alone);
            bench.compare("sheet of 200 rows", "sheet.xlsx", number -> BenchFiles.goods(200, number), times, alone);
        }
        System.exit(0);
    }

    private static Path handbook(Path folder) throws IOException {
        Map<String, String> files = HandbookFolder.read(Path.of("demo/handbook"));
        files.keySet().removeIf(path -> path.startsWith("runbooks/") || path.startsWith("intake/"));
        files.put("runbooks/arrival.md", PAGE);
        for (Map.Entry<String, String> file : files.entrySet()) {
            Path to = folder.resolve(file.getKey());
            Files.createDirectories(to.getParent());
            Files.writeString(to, file.getValue());
        }
        return folder;
    }

    private interface Numbered {
        byte[] file(int number) throws IOException;
    }

    private void compare(String what, String name, Numbered files, int times, Reading alone) throws Exception {
        double bare = 0;
        double whole = 0;
        for (int i = 1; i <= times; i++) {
            byte[] file = files.file(i);
            TimeUnit.SECONDS.sleep(2); // as documents come: the next process has been started meanwhile
            long begun = System.nanoTime();
            alone.read(file, name);
            bare += (System.nanoTime() - begun) / 1e6 / times;
            String id = opened(i);
            TimeUnit.SECONDS.sleep(2);
            begun = System.nanoTime();
            documents.attach(INES, id, new NewDocument(name, "application/octet-stream", file));
            while (!store.seenBy(INES, id).state().equals("resolved")) {
                LockSupport.parkNanos(500_000);
            }
            whole += (System.nanoTime() - begun) / 1e6 / times;
        }
        System.gc();
        System.out.printf(
                Locale.ROOT,
                "%-18s %6.0f ms from its arrival to its values, reading it alone %6.0f ms: %.2f; then %d MB in use%n",
                what,
                whole,
                bare,
                bare / whole,
                ManagementFactory.getMemoryMXBean().getHeapMemoryUsage().getUsed() >> 20);
    }

    private String opened(int number) {
        NewCase wanted = new NewCase("complaint", "Paper " + number, "Please.", "en", null, Map.of());
        return cases.open(INES, wanted, null).id();
    }
}
