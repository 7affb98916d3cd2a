package servitor.core.expression;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;

class ExpressionTests {
    private static final JsonNode BOOKING = Json.read(
            "{\"paid\":84.50,\"words\":\"My SK-48213 from Varra, not SK-1\",\"sails-on\":\"Tue\",\"n\":80,\"sailing\":{\"state\":\"cancelled\"},\"tags\":[\"a\",\"b\"],\"none\":null}",
            JsonNode.class);

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "booking.paid <= 120.0 | true",
                "booking.n <= 120.0 | true",
                "booking.n == 80.0 | true",
                "booking.sailing.state == 'cancelled' && booking.paid > 0.0 | true",
                "booking.tags.exists(t, t == 'b') | true",
                "has(booking.missing) | false",
                "booking.none == null | true",
                "booking.`sails-on` == 'Tue' | true",
                "size(booking.tags) == 3 | false",
                "find(booking.words, 'SK-[0-9]{5}') == 'SK-48213' | true",
                "find(booking.words, 'from ([A-Z][a-z]+)') == 'Varra' | true",
                "find(booking.words, 'nothing like it') == '' | true",
            })
    void conditionsHoldOverJson(String text, boolean expected) throws Exception {
        assertThat(Expression.parse(text).holds(Map.of("booking", BOOKING))).isEqualTo(expected);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "booking.missing == 1",
                "nothing.at.all",
                "booking.paid",
                "1 / 0 == 1",
                "booking.tags[9] == 'x'",
                "find(booking.words, '[') == ''"
            })
    void whatHasNoValueIsAFailureNeverAYes(String text) throws Exception {
        Expression expression = Expression.parse(text);
        assertThatThrownBy(() -> expression.holds(Map.of("booking", BOOKING)))
                .isInstanceOf(EvaluationFailed.class)
                .hasMessageContaining(text);
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "a ==", "a = 1", "'open", "((((", "source(1)", "origin(case.id)", "a >> b"})
    void whatIsntAnExpressionIsRefusedWithAPosition(String text) {
        assertThatThrownBy(() -> Expression.parse(text)).isInstanceOfSatisfying(BadExpression.class, e -> {
            assertThat(e.line()).isPositive();
            assertThat(e.column()).isPositive();
        });
    }

    @Test
    void theNamesAnExpressionReadsAreKnownWithoutThoseItBindsItself() throws Exception {
        assertThat(Expression.parse("a.b.c > 1 && d.exists(x, x.y == a.z)").paths())
                .containsExactlyInAnyOrder(
                        new Path("a", List.of("b", "c")), new Path("d", List.of()), new Path("a", List.of("z")));
    }

    @Test
    void aTemplateThatIsOnlyAnExpressionKeepsTypeAndOriginExactly() throws Exception {
        Map<String, TracedValue> scope = Map.of("booking", TracedValue.of(BOOKING, Origin.LOOKUP));
        TracedValue amount = Template.parse("${booking.paid}").fill(scope);
        assertThat(amount.value().decimalValue().toPlainString()).isEqualTo("84.50");
        assertThat(amount.origins()).containsExactly(Origin.LOOKUP);
    }

    @Test
    void aComposedTextComesFromEverythingInIt() throws Exception {
        Map<String, TracedValue> scope = Map.of(
                "booking",
                TracedValue.of(BOOKING, Origin.LOOKUP),
                "name",
                TracedValue.of(Json.of("Ines"), Origin.REQUESTER),
                "draft",
                TracedValue.written(Json.of("Hello")));
        TracedValue text =
                Template.parse("${draft} ${name}: ${booking.paid} {no} $x").fill(scope);
        assertThat(text.value().asString()).isEqualTo("Hello Ines: 84.50 {no} $x");
        assertThat(text.origins())
                .containsExactlyInAnyOrder(Origin.MODEL, Origin.REQUESTER, Origin.LOOKUP, Origin.HANDBOOK);
        assertThat(text.written()).isTrue();
    }

    @Test
    void bracesInsideAnExpressionDontEndIt() throws Exception {
        assertThat(Template.parse("${ {'a': '}'}.a } end")
                        .fill(Map.of())
                        .value()
                        .asString())
                .isEqualTo("} end");
        assertThatThrownBy(() -> Template.parse("from ${booking"))
                .isInstanceOf(BadExpression.class)
                .hasMessageContaining("never closed");
    }

    @Test
    void aLookupThatEchoesTheRequesterProvesNothing() {
        TracedValue typed = new TracedValue(Json.of(" sk-48213 "), Set.of(Origin.REQUESTER), Map.of(), false);
        JsonNode answer = Json.read(
                "{\"reference\":\"SK-48213\",\"owner\":\"P-1042\",\"deep\":{\"again\":\"SK-48213\"}}", JsonNode.class);
        TracedValue saved = TracedValue.answer(answer, Map.of("reference", typed));
        assertThat(saved.at(List.of("reference")).origins()).containsExactly(Origin.REQUESTER);
        assertThat(saved.at(List.of("deep")).at(List.of("again")).origins()).containsExactly(Origin.REQUESTER);
        assertThat(saved.at(List.of("owner")).origins()).containsExactly(Origin.LOOKUP);
        assertThat(Origin.weakest(saved.originsAt(""))).isEqualTo(Origin.REQUESTER);
        assertThat(saved.at(List.of("missing"))).isNull();
    }

    @Test
    void machineTextThatAToolGivesBackStaysMachineText() {
        TracedValue draft = TracedValue.written(Json.of("Dear passenger"));
        TracedValue echoed = TracedValue.answer(
                Json.read("{\"stored\":\"<p>Dear passenger</p>\"}", JsonNode.class), Map.of("text", draft));
        assertThat(echoed.written()).isTrue();
    }

    @Test
    void listsOfNumbersAreSummedUp() throws Exception {
        Map<String, JsonNode> rows =
                Map.of("rows", Json.read("[{\"n\":2,\"d\":1.5},{\"n\":5,\"d\":2}]", JsonNode.class));
        assertThat(Expression.parse("rows.map(r, r.n).sum()").evaluate(rows).asInt())
                .isEqualTo(7);
        assertThat(Expression.parse("rows.map(r, r.d).sum()").evaluate(rows).asDouble())
                .isEqualTo(3.5);
        assertThat(Expression.parse("rows.map(r, r.n).max() > rows.map(r, r.d).max()")
                        .holds(rows))
                .isTrue();
        assertThat(Expression.parse("rows.filter(r, r.n > 9).map(r, r.n).sum()")
                        .evaluate(rows)
                        .asInt())
                .isZero();
        assertThatThrownBy(() -> Expression.parse("rows.filter(r, r.n > 9).map(r, r.n).min()")
                        .evaluate(rows))
                .isInstanceOf(EvaluationFailed.class);
        assertThat(Expression.parse("['b', 'a'].sort().join(', ')")
                        .evaluate(rows)
                        .asString())
                .isEqualTo("a, b");
    }

    @Test
    void noExpressionMakesAListOutOfANumber() {
        assertThatThrownBy(() -> Expression.parse("lists.range(1000000000)").evaluate(Map.of()))
                .isInstanceOfAny(BadExpression.class, EvaluationFailed.class);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '~',
            quoteCharacter = '`',
            value = {
                "a <= 1.0 && b == c ~ a <= 1.0 ; b == c",
                "a ~ a",
                "a && (b || c && d) && e in [1, 2] ~ a ; (b || c && d) ; e in [1, 2]",
                "a || b && c ~ a || b && c",
                "a ? b : c && d ~ a ? b : c && d",
                "a == \"x && y\" && b == 'it\\'s && so' ~ a == \"x && y\" ; b == 'it\\'s && so'",
            })
    void conditionsThatAllHaveToHoldAreToldApart(String text, String parts) throws BadExpression {
        assertThat(Expression.parse(text).conjuncts()).containsExactly(parts.split(" ; "));
    }
}
