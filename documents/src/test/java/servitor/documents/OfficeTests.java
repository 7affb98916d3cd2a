package servitor.documents;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.ReadOutcome;

/** Files that another office program has written: LibreOffice of this machine, in the long round. */
@Tag("outside")
class OfficeTests {
    private static final String SHEET =
            "Vehicle;Goods;Class;Litres;Loaded\nVA 310;Paint;3;120,5;2026-05-31\nVA 311;Fuel;3;600;2026-06-01\n";
    private static final String LETTER =
            "<html><body><h1>Certificate</h1><p>Valid until: 14 March 2027</p><table><tr><td>a</td><td>b</td></tr></table></body></html>";

    @TempDir
    private static Path folder;

    @BeforeAll
    static void isThere() {
        assumeTrue(Boolean.getBoolean("peers.long"), "only in the long round");
        assumeTrue(Files.isExecutable(Path.of("/usr/bin/soffice")), "LibreOffice isn't there");
    }

    private static byte[] made(String name, String content, String format, String filter) throws Exception {
        Path source = Files.writeString(folder.resolve(name), content);
        Process office = new ProcessBuilder(List.of(
                        "soffice",
                        "-env:UserInstallation=file://" + folder.resolve("profile"),
                        "--headless",
                        "--infilter=" + filter,
                        "--convert-to",
                        format,
                        "--outdir",
                        folder.toString(),
                        source.toString()))
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
        assertThat(office.waitFor(2, TimeUnit.MINUTES)).isTrue();
        return Files.readAllBytes(folder.resolve(name.replaceFirst("\\..*", "." + format)));
    }

    @ParameterizedTest
    @CsvSource({"xlsx", "xls", "ods"})
    void itsSheetsAreRead(String format) throws Exception {
        ReadDocument read =
                new DocumentReader().read(made("goods.csv", SHEET, format, "CSV:59,34,76,1,,1031"), "goods." + format);
        assertThat(read.outcome()).isEqualTo(ReadOutcome.TEXT);
        Table table = read.tables().get(0);
        assertThat(table.header()).isEqualTo(1);
        assertThat(table.doubts()).isEmpty();
        assertThat(table.rows().get(1).cells().get(3).decimalValue()).isEqualByComparingTo("120.5");
        assertThat(table.rows().get(1).cells().get(4).asString()).isEqualTo("2026-05-31");
    }

    @ParameterizedTest
    @CsvSource({"docx", "odt", "pdf", "rtf", "doc"})
    void itsLettersAreRead(String format) throws IOException, Exception {
        ReadDocument read =
                new DocumentReader().read(made("letter.html", LETTER, format, "HTML (StarWriter)"), "letter." + format);
        assertThat(read.outcome()).isEqualTo(ReadOutcome.TEXT);
        assertThat(read.text()).contains("Valid until: 14 March 2027");
    }
}
