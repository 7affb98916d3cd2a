package servitor.core.document;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.document.Extraction.Doubtful;
import servitor.core.document.Extraction.Found;
import servitor.core.document.Extraction.Missing;
import servitor.core.document.Extraction.Value;
import servitor.core.document.ReadDocument.Page;
import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.WantedTable.Column;
import servitor.core.json.Json;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

/** Tables and values are found where they stand, or doubted. */
class ExtractionTests {
    private static final Shape CLASS = new Shape.OneOf(List.of("2", "3", "9"));
    private static final WantedTable GOODS = new WantedTable(
            "goods",
            "",
            List.of(
                    new Column("vehicle", Shape.TEXT, List.of("Vehicle", "Registration"), false),
                    new Column("class", CLASS, List.of("Class", "UN class"), false),
                    new Column("litres", Shape.NUMBER, List.of("Litres"), true)));
    private static final WantedValue EXPIRY =
            new WantedValue("expiry", Shape.DATE, List.of("Valid until", "Expires"), false);

    private static Row row(int number, Object... cells) {
        return new Row(number, Arrays.stream(cells).map(Json::of).toList());
    }

    private static Table sheet(String name, List<String> doubts, Row... rows) {
        return new Table(name, 0, List.of(rows), doubts);
    }

    private static Table goods(Row... rows) {
        List<Row> all = new ArrayList<>(List.of(row(1, "Declaration"), row(3, "Litres", "Registration", "UN CLASS:")));
        all.addAll(List.of(rows));
        return sheet("Goods", List.of(), all.toArray(new Row[0]));
    }

    private static Found table(Table... tables) {
        return extraction(List.of(), tables).table(GOODS);
    }

    private static Extraction extraction(List<Page> pages, Table... tables) {
        return new Extraction(
                "D-1",
                "d.xlsx",
                new ReadDocument(
                        ReadOutcome.TEXT, tables.length > 0 ? "text/csv" : "text/plain", "", pages, List.of(tables)));
    }

    private static Extraction text(String... pages) {
        return extraction(IntStream.range(0, pages.length)
                .mapToObj(i -> new Page(i + 1, pages[i]))
                .toList());
    }

    private static String doubt(Found found) {
        assertThat(found).isInstanceOf(Doubtful.class);
        return ((Doubtful) found).why();
    }

    @Test
    void aTableIsFoundByItsHeadingsInWhateverOrder() {
        Value found = (Value) table(goods(row(4, 20, "SK 1204", 3), row(6, null, "SK 77", "9")));
        assertThat(Json.write(found.value()))
                .isEqualTo("[{\"row\":4,\"vehicle\":\"SK 1204\",\"class\":\"3\",\"litres\":20.0},"
                        + "{\"row\":6,\"vehicle\":\"SK 77\",\"class\":\"9\"}]");
        assertThat(found.at().inside(List.of("1", "class"), found.value()).told())
                .isEqualTo("d.xlsx, Goods, C6");
        assertThat(found.at().inside(List.of("1"), found.value()).told()).isEqualTo("d.xlsx, Goods, row 6");
    }

    @Test
    void whatIsDoubtfulIsSaidAndNotGiven() {
        assertThat(doubt(table(goods(row(4, 20, "SK 1204", 4))))).contains("C4 holds ‘4’");
        assertThat(doubt(table(goods(row(4, "1,234", "SK 1204", 3))))).contains("A4 holds ‘1,234’");
        assertThat(doubt(table(goods(row(4, 20, "SK 1204", null))))).contains("C4 is empty");
        assertThat(doubt(table(goods(row(4, 20, "SK 1", 3), row(5, "Litres", "Vehicle", "Class"), row(6, 1, "b", 3)))))
                .contains("several rows could be the headings");
        assertThat(doubt(table(goods(row(4, 20, "SK 1", 3)), sheet("Other", List.of(Table.HIDDEN), row(1, "x")))))
                .contains("‘Other’ is hidden");
        assertThat(doubt(table(sheet(
                        "Goods",
                        List.of("it was cut off behind row 9"),
                        row(1, "Vehicle", "Class", "Litres"),
                        row(2, "a", 3, 1)))))
                .contains("cut off");
    }

    @Test
    void twoSheetsWithTheSameColumnsAreDoubtfulUnlessOneIsNamed() {
        Table other = sheet("Draft", List.of(), row(1, "Vehicle", "Class", "Litres"), row(2, "b", 9, 1));
        assertThat(doubt(table(goods(row(4, 20, "a", 3)), other))).contains("row 3 of Goods, row 1 of Draft");
        WantedTable named = new WantedTable("goods", "goods", GOODS.columns());
        assertThat(extraction(List.of(), goods(row(4, 20, "a", 3)), other).table(named))
                .isInstanceOf(Value.class);
    }

    @Test
    void moreRowsThanAreDecidedOnAreDoubtful() {
        Row[] rows = IntStream.range(4, 4 + Extraction.MOST_ROWS + 1)
                .mapToObj(number -> row(number, 1, "v" + number, 3))
                .toArray(Row[]::new);
        assertThat(doubt(table(goods(rows)))).contains("1001 rows");
        assertThat(table(goods(Arrays.copyOf(rows, Extraction.MOST_ROWS)))).isInstanceOf(Value.class);
    }

    @Test
    void aTableThatIsntThereIsMissing() {
        assertThat(table(sheet("Goods", List.of(), row(1, "Vehicle", "Litres"), row(2, "a", 1))))
                .isEqualTo(new Missing("no table has the columns ‘Vehicle’, ‘Class’, ‘Litres’"));
        assertThat(table(goods())).isInstanceOf(Missing.class);
        assertThat(table()).isInstanceOf(Missing.class);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "Valid until: 14 March 2027",
                "valid until 14.03.2027.",
                "Name: Ewan Mirza    Expires: 2027-03-14",
                "Valid until\n14 March 2027",
                "EXPIRES ........ 14/03/2027"
            })
    void aValueIsFoundBehindItsLabel(String text) {
        Value found = (Value) text("Certificate", text).labelled(EXPIRY);
        assertThat(found.value()).isEqualTo(Json.of("2027-03-14"));
        assertThat(found.at().told()).isEqualTo("d.xlsx, page 2");
    }

    @Test
    void aLabelWithoutAValueOrWithTwoIsntTaken() {
        assertThat(text("Valid until further notice").labelled(EXPIRY)).isInstanceOf(Missing.class);
        assertThat(text("Validuntil 2027-03-14").labelled(EXPIRY)).isInstanceOf(Missing.class);
        assertThat(doubt(text("Valid until: 2027-03-14", "Expires: 2030-01-01").labelled(EXPIRY)))
                .contains("2027-03-14 (d.xlsx, page 1), 2030-01-01 (d.xlsx, page 2)");
        assertThat(text("Valid until: 2027-03-14", "Expires: 14 March 2027").labelled(EXPIRY))
                .isInstanceOf(Value.class);
    }

    @Test
    void inATableAValueStandsBesideItsLabel() {
        Value found = (Value) extraction(
                        List.of(), sheet("Cover", List.of(), row(1, null, "Expires", "2027-03-14"), row(2, "x", "y")))
                .labelled(EXPIRY);
        assertThat(found.at().told()).isEqualTo("d.xlsx, Cover, C1");
    }

    private static JsonNode said(Object value, int page, String words) {
        return Json.object().put("page", page).put("words", words).set("value", Json.of(value));
    }

    @Test
    void whatAModelReadsCountsWhenItsWordsStandThere() {
        WantedValue name = new WantedValue("holder", Shape.TEXT, List.of(), false);
        Extraction text = text("Medical certificate", "Holder EWAN MIRZA, fit for sea until 14 March 2027");
        assertThat(text.quoted(name, said("Ewan Mirza", 2, "Holder Ewan Mirza")))
                .isInstanceOf(Value.class);
        assertThat(text.quoted(EXPIRY, said("2027-03-14", 2, "fit for sea until 14 March 2027")))
                .isInstanceOf(Value.class);
        assertThat(doubt(text.quoted(EXPIRY, said("2029-03-14", 2, "fit for sea until 14 March 2027"))))
                .contains("isn't what the words it quotes say");
        assertThat(doubt(text.quoted(EXPIRY, said("2027-03-14", 1, "fit for sea until 14 March 2027"))))
                .contains("don't stand on page 1");
        assertThat(doubt(text.quoted(name, said("Ewan Mirza", 2, "")))).contains("don't stand");
        assertThat(text.quoted(name, said(null, 0, ""))).isInstanceOf(Missing.class);
    }

    @Test
    void aNumberThatStandsInALongerOneIsntQuoted() {
        WantedValue amount = new WantedValue("amount", Shape.NUMBER, List.of(), false);
        Extraction text = text("To pay: 1310,50 EUR by May");
        assertThat(text.quoted(amount, said(1310.5, 1, "To pay: 1310,50 EUR"))).isInstanceOf(Value.class);
        assertThat(doubt(text.quoted(amount, said(310.5, 1, "To pay: 1310,50 EUR"))))
                .contains("isn't what the words");
        assertThat(doubt(text.quoted(amount, said(-1310.5, 1, "1310,50 EUR")))).contains("isn't what the words");
        assertThat(doubt(text.quoted(amount, said(310, 1, "310")))).contains("don't stand");
    }
}
