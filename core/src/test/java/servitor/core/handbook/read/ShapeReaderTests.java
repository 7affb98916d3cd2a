package servitor.core.handbook.read;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.handbook.Place;
import servitor.core.handbook.Places;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;
import servitor.core.handbook.finding.Findings;
import servitor.core.shape.Answers;
import servitor.core.shape.Shape;

class ShapeReaderTests {
    private final Findings findings = new Findings();

    private Shape read(String yaml) {
        return new ShapeReader(findings)
                .read(Yaml.read("x.yaml", 1, "a: " + yaml, findings).get("a"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "text | text",
                "yes/no | yes/no",
                "number | number",
                "whole number | whole number",
                "date | date",
                "anything | anything",
                "list of text | list of text",
                "list of list of date | list of list of date",
                "one of [a, b c, \"d\"] | one of [a, b c, d]",
                "list of one of [a, b] | list of one of [a, b]",
                "[text] | list of text",
                "[{ item: text, price: number }] | list of { item: text, price: number }",
                "{ what: text, price: number } | { what: text, price: number }",
                "{ type: integer } | whole number",
                "{ type: string, enum: [x, y] } | one of [x, y]",
                "{ type: array, items: { type: boolean } } | list of yes/no",
                "{ type: string, format: date } | date",
            })
    void aShapeIsRead(String yaml, String words) {
        assertThat(read(yaml).words()).isEqualTo(words);
        assertThat(findings.sorted()).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "txt",
                "one of [a]",
                "one of a, b",
                "list of",
                "[text, number]",
                "{ 1a: text }",
                "{ a: list of txt }",
                "7"
            })
    void whatIsNoShapeIsAFinding(String yaml) {
        read(yaml);
        assertThat(findings.sorted())
                .isNotEmpty()
                .allSatisfy(f -> assertThat(f.code()).isEqualTo(Code.SHAPE));
    }

    @Test
    void aSchemaThatIsNoneIsAFinding() {
        read("{ type: object, required: yes }");
        assertThat(findings.sorted()).extracting(Finding::code).containsExactly(Code.SCHEMA);
    }

    @Test
    void everyAnswerCarriesAReasonAndHowSureItIs() {
        assertThat(Answers.shape(read("one of [a, b]")).words())
                .isEqualTo("{ answer: one of [a, b], reason: text, sure: number }");
        assertThat(Answers.schema(read("{ mood: text }")).path("required"))
                .extracting(name -> name.asString())
                .containsExactly("mood", "reason", "sure");
        assertThat(Answers.schema(Shape.TEXT)
                        .path("properties")
                        .path("sure")
                        .path("maximum")
                        .asInt())
                .isEqualTo(1);
    }

    @Test
    void placesOfValuesAreWhereTheirTextBegins() {
        Yaml yaml =
                Yaml.read("x.yaml", 10, "a: plain\nb: \"quoted\"\nc: >-\n  folded\nd: { e: [one, 'two'] }\n", findings);
        Places places = yaml.places(Place.top("x.yaml"));
        assertThat(List.of("a", "b", "c", "d.e.1", "d.f", "nothing"))
                .extracting(key -> places.of(key).line() + ":" + places.of(key).column())
                .containsExactly("10:4", "11:5", "13:1", "14:16", "14:4", "1:1");
    }
}
