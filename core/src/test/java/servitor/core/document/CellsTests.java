package servitor.core.document;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.json.Json;
import servitor.core.shape.Shape;

/** What cells mean, and what means nothing because it could mean two things. */
class CellsTests {

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "12.5|12.5",
                "12,5|12.5",
                "1.234,50|1234.50",
                "1,234.50|1234.50",
                "1 234,5|1234.5",
                "1'234'567|1234567",
                "1.234.567|1234567",
                "0,125|0.125",
                "-3|-3",
                "12,3456|12.3456"
            })
    void numbersAreReadAsTheyAreWritten(String text, String number) {
        assertThat(Cells.as(Shape.NUMBER, Json.of(text)))
                .get()
                .satisfies(value -> assertThat(value.decimalValue()).isEqualByComparingTo(number));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {"1,234", "1.234", "12,34,56", "1.2.3", "about 12", "12 kg", "''", "1,234,5", "1e400", "٣"})
    void aNumberThatCouldBeAnotherIsNone(String text) {
        assertThat(Cells.as(Shape.NUMBER, Json.of(text))).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "2027-03-14|2027-03-14",
                "14.03.2027|2027-03-14",
                "14/03/2027|2027-03-14",
                "03/14/2027|2027-03-14",
                "05/05/2027|2027-05-05",
                "14 March 2027|2027-03-14",
                "14 mar 2027|2027-03-14",
                "March 14, 2027|2027-03-14",
                "14. März 2027|2027-03-14"
            })
    void datesAreReadAsTheyAreWritten(String text, String date) {
        assertThat(Cells.as(Shape.DATE, Json.of(text))).contains(Json.of(date));
    }

    @ParameterizedTest
    @CsvSource({"03/04/2027", "31.02.2027", "2027-13-01", "14/03/27", "tomorrow", "30 February 2027"})
    void aDateThatCouldBeAnotherIsNone(String text) {
        assertThat(Cells.as(Shape.DATE, Json.of(text))).isEmpty();
    }

    @Test
    void aNumberMayBeAWordOfAFew() {
        Shape classes = new Shape.OneOf(List.of("2", "3", "9"));
        assertThat(Cells.as(classes, Json.of(3.0))).contains(Json.of("3"));
        assertThat(Cells.as(classes, Json.of("4"))).isEmpty();
        assertThat(Cells.as(new Shape.OneOf(List.of("Van", "Lorry")), Json.of("LORRY")))
                .contains(Json.of("Lorry"));
    }

    @Test
    void wholeNumbersHaveNoDecimals() {
        assertThat(Cells.as(Shape.WHOLE, Json.of(3.0))).contains(Json.of(3L));
        assertThat(Cells.as(Shape.WHOLE, Json.of(3.2))).isEmpty();
        assertThat(Cells.as(Shape.WHOLE, Json.of("99999999999999999999999"))).isEmpty();
    }

    @Test
    void yesAndNoAreSaidInSomeWays() {
        assertThat(Cells.as(Shape.YES_NO, Json.of("Ja"))).contains(Json.of(true));
        assertThat(Cells.as(Shape.YES_NO, Json.of("no"))).contains(Json.of(false));
        assertThat(Cells.as(Shape.YES_NO, Json.of("maybe"))).isEmpty();
    }

    @Test
    void aValueEndsWhereItsShapeEnds() {
        assertThat(Cells.beginning(Shape.DATE, "14 March 2027, unless revoked")).contains(Json.of("2027-03-14"));
        assertThat(Cells.beginning(Shape.NUMBER, "310,50 EUR"))
                .get()
                .satisfies(value -> assertThat(value.decimalValue()).isEqualByComparingTo("310.5"));
        assertThat(Cells.beginning(Shape.DATE, "unlimited")).isEmpty();
    }
}
