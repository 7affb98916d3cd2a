package servitor.core.expression;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.expression.Typing.Fault;
import servitor.core.json.Json;
import servitor.core.shape.Shape;
import servitor.core.shape.Shape.Field;
import tools.jackson.databind.JsonNode;

class TypingTests {
    private static final Shape BOOKING = new Shape.Fields(Map.of(
            "paid", new Field(Shape.NUMBER, true),
            "days", new Field(Shape.WHOLE, true),
            "note", new Field(Shape.TEXT, false),
            "sails-on", new Field(Shape.TEXT, true),
            "state", new Field(new Shape.OneOf(List.of("planned", "cancelled")), true),
            "items",
                    new Field(
                            new Shape.ListOf(Shape.Fields.of(Map.of("what", Shape.TEXT, "price", Shape.NUMBER))),
                            true)));

    private static Typing.Typed check(String text) throws BadExpression {
        return Typing.check(Expression.parse(text), Map.of("booking", BOOKING));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "booking.paid > 1.0 | yes/no",
                "booking.paid > booking.days | yes/no",
                "booking.paid * 2.0 | number",
                "booking.days + 1 | whole number",
                "booking.items.size() | whole number",
                "booking.items.filter(i, i.price > 3.0) | list of { what: text, price: number }",
                "booking.items[0].what | text",
                "has(booking.note) && booking.note == \"x\" | yes/no",
                "booking.`sails-on` | text",
                "booking.`sails-on`.size() > booking.days | yes/no",
                "anything.at.all | anything",
            })
    void theShapeOfAValueIsTold(String text, String shape) throws Exception {
        Typing.Typed typed = check(text);
        assertThat(typed.faults()).isEmpty();
        assertThat(sorted(typed.shape().words())).isEqualTo(sorted(shape));
    }

    private static List<String> sorted(String words) {
        return java.util.Arrays.stream(words.split("\\W+")).sorted().toList();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "booking.payd > 1.0 | FIELD | there is no field ‘payd’ in ‘booking’ | 1",
                "booking.state.x == 1 | FIELD | ‘booking.state’ is one of [planned, cancelled] and has no fields | 1",
                "1.0 < booking.paid.x | FIELD | ‘booking.paid’ is number | 7",
                "booking.state == \"canceled\" | OPTION | ‘booking.state’ is never ‘canceled’ | 18",
                "booking.state in [\"plannd\"] | OPTION | never ‘plannd’ | 19",
                "booking.note == \"x\" | MAY_BE_MISSING | ‘booking.note’ may be missing | 1",
                "booking.paid * 2 | TYPE | ‘*’ doesn't go with number and whole number | 14",
                "booking.items.exists(i, i.wat == \"x\") | FIELD | no field ‘wat’ | 26",
            })
    void aFaultIsFoundAtItsColumn(String text, String kind, String what, int column) throws Exception {
        assertThat(check(text).faults()).anySatisfy(fault -> {
            assertThat(fault.kind()).isEqualTo(Fault.Kind.valueOf(kind));
            assertThat(fault.what()).contains(what);
            assertThat(fault.column()).isEqualTo(column);
        });
    }

    @Test
    void wholeNumbersWhereDecimalsAreDeclaredAreMadeDecimals() throws Exception {
        JsonNode answer =
                Json.read("{\"paid\": 80, \"days\": 3, \"items\": [{\"what\": \"a\", \"price\": 2}]}", JsonNode.class);
        JsonNode fitted = BOOKING.fit(answer);
        Map<String, JsonNode> scope = Map.of("booking", Json.read(Json.write(fitted), JsonNode.class));
        assertThat(Expression.parse("booking.paid * 1.5").evaluate(scope).doubleValue())
                .isEqualTo(120.0);
        assertThat(Expression.parse("booking.items[0].price / 4.0")
                        .evaluate(scope)
                        .doubleValue())
                .isEqualTo(0.5);
        assertThat(Expression.parse("booking.days + 1").evaluate(scope).intValue())
                .isEqualTo(4);
    }

    @Test
    void aSchemaAndItsShapeSayTheSame() {
        assertThat(Shape.ofSchema(BOOKING.schema())).isEqualTo(BOOKING);
    }
}
