package servitor.cli.output;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.cli.client.Client;
import tools.jackson.databind.JsonNode;

class OutputTests {
    private static JsonNode json(String text) {
        return Client.JSON.readTree(text);
    }

    private static String table(List<String> headings, List<List<String>> rows) {
        StringWriter text = new StringWriter();
        PrintWriter out = new PrintWriter(text);
        Output.table(out, headings, rows);
        out.flush();
        return text.toString().replace(System.lineSeparator(), "\n");
    }

    @Test
    void columnsAreAligned() {
        assertThat(table(List.of("case", "about"), List.of(List.of("C-1", "Refund"), List.of("C-1000", "Lost bag"))))
                .isEqualTo("case    about\nC-1     Refund\nC-1000  Lost bag\n");
    }

    @Test
    void onlyTheLastColumnMayBeLong() {
        String line = table(List.of("a", "b"), List.of(List.of("x".repeat(90), "y".repeat(90))))
                .lines()
                .skip(1)
                .findFirst()
                .orElseThrow();
        assertThat(line).contains("x".repeat(47) + "…").endsWith("y".repeat(90));
    }

    @Test
    void aTableOfNothingIsItsHeadings() {
        assertThat(table(List.of("case", "about"), List.of())).isEqualTo("case  about\n");
    }

    @Test
    void linesOfATextBecomeOne() {
        assertThat(Output.shorten("one\n\ttwo", 20)).isEqualTo("one two");
        assertThat(Output.shorten("abcdef", 4)).isEqualTo("abc…");
        assertThat(Output.shorten("abcd", 4)).isEqualTo("abcd");
    }

    @ParameterizedTest
    @CsvSource({"-5, overdue", "90, 1 min", "7260, 2 h", "180000, 2 days"})
    void timeLeftIsRounded(long seconds, String words) {
        // Half a minute to spare, so that the time the test takes rounds nothing away.
        Instant at = Instant.now().plus(Duration.ofSeconds(seconds < 0 ? seconds : seconds + 25));
        assertThat(Output.until(json("\"" + at + "\"").stringValue())).isEqualTo(words);
    }

    @Test
    void noTimeIsNoWord() {
        assertThat(Output.until(null)).isEmpty();
        assertThat(Output.time(json("null"))).isEmpty();
    }

    @Test
    void aFindingStandsBehindItsPlaceAsCompilersWriteIt() {
        assertThat(Output.finding(json("{\"place\":{\"file\":\"runbooks/a.md\",\"line\":3,\"column\":7},"
                        + "\"severity\":\"error\",\"what\":\"No tool.\",\"remedy\":\"Name one.\"}")))
                .isEqualTo("runbooks/a.md:3:7: error: No tool. Name one.");
    }

    @Test
    void valuesOfAnyShapeAreReadable() {
        assertThat("sailing" + Output.value(json("{\"state\":\"cancelled\",\"berths\":[1,2],\"note\":null}"), "  "))
                .isEqualTo("sailing\n  state: cancelled\n  berths\n    - 1\n    - 2\n  note: none");
    }

    @Test
    void textsAreSetIn() {
        assertThat(Output.indent("one\ntwo")).isEqualTo("  one\n  two");
    }
}
