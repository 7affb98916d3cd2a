package servitor.documents;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;

/** Documents read by processes of their own, whatever is in them. */
class ReadingTests {
    private static final Reading READING = Reading.within(Duration.ofSeconds(30));

    @AfterAll
    static void close() {
        READING.close();
    }

    private static ReadOutcome outcome(byte[] content, String name) throws InterruptedException {
        return READING.read(content, name).outcome();
    }

    @Test
    void aDocumentIsReadAndTheNextOneByAnotherProcess() throws InterruptedException {
        assertThat(READING.read(Samples.pdf("Fit for sea"), "a.pdf").text()).isEqualTo("Fit for sea");
        assertThat(READING.read(Samples.goods(true), "b.xlsx").tables()).hasSize(1);
    }

    @Test
    void aSheetOfAMillionRowsCostsThatReadingAlone() throws InterruptedException {
        assertThat(outcome(Samples.rows(1_000_000), "million.xlsx")).isEqualTo(ReadOutcome.TOO_LARGE);
        assertThat(READING.read(Samples.pdf("Still here"), "a.pdf").text()).isEqualTo("Still here");
    }

    @Test
    void anXmlThatGrowsIsRefusedAndAnEntityReadsNoFile() throws InterruptedException {
        StringBuilder bomb =
                new StringBuilder("<!DOCTYPE s [<!ENTITY a \"aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa\">");
        for (char c = 'b'; c < 'l'; c++) {
            bomb.append("<!ENTITY ")
                    .append(c)
                    .append(" \"")
                    .append(("&" + (char) (c - 1) + ";").repeat(20))
                    .append("\">");
        }
        assertThat(outcome(Samples.zipped(bomb + "]><worksheet>&k;</worksheet>"), "bomb.xlsx"))
                .isIn(ReadOutcome.CORRUPT, ReadOutcome.TOO_LARGE, ReadOutcome.EMPTY);
        ReadDocument read = READING.read(
                Samples.zipped("<!DOCTYPE s [<!ENTITY x SYSTEM \"file:///etc/passwd\">]><worksheet "
                        + "xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"><sheetData><row r=\"1\"><c r=\"A1\" "
                        + "t=\"inlineStr\"><is><t>&x;</t></is></c></row></sheetData></worksheet>"),
                "entity.xlsx");
        assertThat(read.text()).doesNotContain("root:");
    }

    @Test
    void aZipThatGrowsIsRefused() throws InterruptedException {
        String sheet = "<worksheet xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"><sheetData>"
                + " ".repeat(150_000_000) + "</sheetData></worksheet>";
        assertThat(outcome(Samples.zipped(sheet), "zip.xlsx"))
                .isIn(ReadOutcome.CORRUPT, ReadOutcome.TOO_LARGE, ReadOutcome.EMPTY);
    }

    @Test
    void whatTakesTooLongIsGivenUp() throws InterruptedException {
        try (Reading hasty = Reading.within(Duration.ofMillis(1))) {
            assertThat(hasty.read(Samples.pdf("Fit for sea"), "a.pdf").outcome())
                    .isEqualTo(ReadOutcome.TOOK_TOO_LONG);
        }
    }

    /** Laid out classes don't fit for long: a file of the service's was put in its place anew, or the disk was full. */
    @Test
    void classesThatWereLaidOutAndNoLongerFitSpoilNoReading(@TempDir Path folder) throws Exception {
        Path laidOut = folder.resolve("cut-off.jsa");
        new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-XX:ArchiveClassesAtExit=" + laidOut,
                        "com.sun.tools.javac.Main",
                        "-version")
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start()
                .waitFor();
        Path cutOff = Files.write(folder.resolve("half.jsa"), Arrays.copyOf(Files.readAllBytes(laidOut), 200_000));
        Sandbox sandbox = new Sandbox(Sandbox.ofThisMachine().contained(), cutOff);
        try (Reading reading = new Reading(sandbox, Duration.ofSeconds(30))) {
            assertThat(reading.read(Samples.pdf("Fit for sea"), "a.pdf").text()).isEqualTo("Fit for sea");
            assertThat(reading.read(Samples.pdf("Still here"), "b.pdf").text()).isEqualTo("Still here");
        }
    }

    @Test
    void whatReadsSeesNeitherFilesNorNetworkNorEnvironment(@TempDir Path house) throws Exception {
        Path secret = Files.writeString(house.resolve("secret"), "secret");
        Sandbox sandbox = Sandbox.ofThisMachine();
        assumeTrue(sandbox.contained(), "bubblewrap isn't there");
        Process worker = sandbox.start();
        try {
            Path process = Path.of("/proc/" + inside(worker) + "/");
            assertThat(Files.readString(process.resolve("environ")).replace("\0", ""))
                    .isEqualTo("PWD=/tmp");
            assertThat(process.resolve("root" + secret))
                    .as("a file of the house")
                    .doesNotExist();
            assertThat(process.resolve("root/usr")).exists();
            assertThat(process.resolve("root/var")).doesNotExist();
            assertThat(Files.readString(process.resolve("net/dev"))
                            .lines()
                            .skip(2)
                            .map(line -> line.strip().split(":")[0]))
                    .containsExactly("lo");
        } finally {
            worker.destroyForcibly();
        }
    }

    /** The process that Java is in, once bubblewrap has started it. */
    private static long inside(Process worker) {
        while (worker.isAlive()) {
            Optional<ProcessHandle> java = worker.toHandle()
                    .descendants()
                    .filter(one -> one.info()
                            .command()
                            .filter(name -> name.endsWith("/java"))
                            .isPresent())
                    .findFirst();
            if (java.isPresent()) {
                return java.get().pid();
            }
            Thread.onSpinWait();
        }
        throw new IllegalStateException("it has ended");
    }

    /** Of the collection's office files, PDFs, mails and pictures some, or with {@code -Ddocuments.all=true} all. */
    @Test
    void everySampleOfTheCollectionEndsInTextOrANamedOutcome() throws Exception {
        List<String> wanted = List.of(
                ".pdf", ".xls", ".xlsx", ".xlsm", ".csv", ".doc", ".docx", ".odt", ".ods", ".rtf", ".html", ".txt",
                ".eml", ".msg", ".jpg", ".png");
        URI jar = URI.create("jar:"
                + Objects.requireNonNull(getClass().getResource("/test-documents/testPDF.pdf"))
                        .toString()
                        .replaceFirst("^jar:", "")
                        .replaceFirst("!.*", ""));
        Map<String, ReadOutcome> outcomes = new TreeMap<>();
        try (FileSystem samples = FileSystems.newFileSystem(jar, Map.of());
                Stream<Path> all = Files.list(samples.getPath("/test-documents"))) {
            List<Path> files = all.filter(path -> wanted.stream().anyMatch(path.toString()::endsWith))
                    .sorted()
                    .toList();
            int every = Boolean.getBoolean("documents.all") ? 1 : files.size() / 12;
            for (int i = 0; i < files.size(); i += every) {
                outcomes.put(
                        files.get(i).getFileName().toString(),
                        outcome(content(files.get(i)), files.get(i).toString()));
            }
        }
        assertThat(outcomes.values())
                .hasSizeGreaterThan(10)
                .doesNotContain(ReadOutcome.NOT_READ, ReadOutcome.TOOK_TOO_LONG);
        long read = outcomes.values().stream().filter(ReadOutcome.TEXT::equals).count();
        assertThat(read).as("%s", outcomes).isGreaterThan(outcomes.size() / 2);
    }

    private static byte[] content(Path file) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            return in.readAllBytes();
        }
    }
}
