package servitor.documents;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;

/** What is read of files, in this process. */
class DocumentReaderTests {
    private static ReadDocument read(byte[] content, String name) {
        return new DocumentReader().read(content, name);
    }

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void aPdfIsReadPageByPageWhateverItIsCalled() {
        ReadDocument read = read(Samples.pdf("Fit for sea", "until 31 May 2027"), "photo.png");
        assertThat(read.outcome()).isEqualTo(ReadOutcome.TEXT);
        assertThat(read.type()).isEqualTo("application/pdf");
        assertThat(read.pages())
                .extracting(ReadDocument.Page::text)
                .containsExactly("Fit for sea", "until 31 May 2027");
    }

    @Test
    void aSheetHasItsHeaderTypedCellsAndWhatFormulasGave() {
        ReadDocument read = read(Samples.goods(true), "goods.xlsx");
        Table table = read.tables().get(0);
        assertThat(table.name()).isEqualTo("Goods");
        assertThat(table.header()).isEqualTo(3);
        assertThat(table.doubts()).isEmpty();
        assertThat(Json.write(table.rows()))
                .isEqualTo(
                        "[{\"number\":1,\"cells\":[\"Declaration\"]},{\"number\":3,\"cells\":[\"Vehicle\",\"Class\",\"Weight\",\"Loaded\"]},"
                                + "{\"number\":4,\"cells\":[\"Truck 0\",0.0,1.5,\"2026-05-31\"]},{\"number\":5,\"cells\":[\"Truck 1\",1.0,3.0,\"2026-05-31\"]},"
                                + "{\"number\":6,\"cells\":[\"Truck 1\",2.0,4.5,\"2026-05-31\"]}]");
        assertThat(read.text()).contains("Truck 0 | 0.0 | 1.5 | 2026-05-31");
    }

    @Test
    void aFormulaWithoutASavedValueIsADoubtAndNoZero() {
        Table table = read(Samples.goods(false), "goods.xlsx").tables().get(0);
        assertThat(table.doubts()).contains("the formula in C4 has no value that was saved");
        assertThat(table.rows().get(2).cells().get(2).isNull()).isTrue();
    }

    @Test
    void tooManyRowsAreCutOffAndThatIsSaid() {
        Table table =
                read(Samples.rows(Budget.MOST_ROWS + 10), "rows.xlsx").tables().get(0);
        assertThat(table.rows()).hasSize(Budget.MOST_ROWS);
        assertThat(table.doubts()).anyMatch(doubt -> doubt.startsWith("it was cut off"));
    }

    @Test
    void anOpenSheetHasTypedCellsToo() {
        Table table = read(Samples.openSheet(), "goods.ods").tables().get(0);
        assertThat(table.header()).isEqualTo(1);
        assertThat(table.doubts()).containsExactly("row 3 is hidden");
        assertThat(Json.write(table.rows()))
                .isEqualTo(
                        "[{\"number\":1,\"cells\":[\"Vehicle\",\"Class\",\"Loaded\"]},{\"number\":2,\"cells\":[\"Truck\",3.0,\"2026-05-31\"]},"
                                + "{\"number\":3,\"cells\":[\"Van\",1.0]}]");
    }

    @Test
    void aTableOfTextIsReadByTheSignBetweenItsCells() {
        Table table = read(bytes("Name;Betrag\n\"Möwe; grau\";84,50\nHeron;3\n"), "list.CSV")
                .tables()
                .get(0);
        assertThat(table.header()).isEqualTo(1);
        assertThat(Json.write(table.rows().get(1).cells())).isEqualTo("[\"Möwe; grau\",\"84,50\"]");
    }

    @Test
    void aRowThatCouldBeTheHeaderAsWellIsADoubt() {
        Table table = read(bytes("Name;Class\nHeron;Tern\n"), "a.csv").tables().get(0);
        assertThat(table.header()).isEqualTo(1);
        assertThat(table.doubts()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "<html><body><p>Dear <b>all</b></p><script>alert(1)</script></body></html> | a.html | Dear all",
                "Just words.                                                               | a.txt  | Just words.",
                "Just words.                                                               | a.pdf  | Just words."
            })
    void textIsReadWithoutWhatIsNoText(String content, String name, String text) {
        assertThat(read(bytes(content), name).text()).isEqualTo(text);
    }

    @ParameterizedTest
    @CsvSource({
        "empty, empty",
        "encrypted, encrypted",
        "cut off, corrupt",
        "picture, no-text",
        "blank pages, no-text",
        "program, not-supported"
    })
    void whereThereIsNoTextTheReasonIsNamed(String file, String outcome) {
        byte[] content = switch (file) {
            case "encrypted" -> Samples.encryptedPdf("secret");
            case "cut off" -> Arrays.copyOf(Samples.goods(true), 900);
            case "picture" -> Samples.png();
            case "blank pages" -> Samples.pdf(" ", " ");
            case "program" -> new byte[] {0x7f, 'E', 'L', 'F', 2, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 3, 0, 62, 0};
            default -> new byte[0];
        };
        assertThat(read(content, file).outcome().word()).isEqualTo(outcome);
    }

    @Test
    void aTableOfAPdfIsWhatStandsBelowItsHeadings() {
        ReadDocument read = read(
                Samples.columns(
                        List.of("Vehicle", "Class", "Litres"),
                        List.of("VA 310", "3", "120"),
                        List.of("VA 311", "", "600"),
                        List.of("VA 312", "none", "0")),
                "a.pdf");
        Table table = read.tables().get(0);
        assertThat(table.name()).isEqualTo("page 1");
        assertThat(table.rows().get(2).cells().toString()).isEqualTo("[\"VA 311\", null, \"600\"]");
        assertThat(table.rows()).hasSize(4);
        assertThat(table.doubts()).isEmpty();
        assertThat(read.pages()).hasSize(1);
    }

    @Test
    void aTableOfAPdfThatMayGoOnIsADoubt() {
        assertThat(read(
                                Samples.columns(
                                        List.of("Vehicle", "Class"),
                                        List.of("VA 310", "3"),
                                        List.of("VA 311", "9"),
                                        List.of("and more of these on board")),
                                "a.pdf")
                        .tables()
                        .get(0)
                        .doubts())
                .containsExactly("it may go on behind row 3");
    }

    @Test
    void wordsAreNoTable() {
        assertThat(read(Samples.pdf("Dear all, the boat is late", "and so is the next"), "a.pdf")
                        .tables())
                .isEmpty();
    }
}
