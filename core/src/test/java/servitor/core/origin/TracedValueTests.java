package servitor.core.origin;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import servitor.core.expression.Template;
import servitor.core.json.Json;
import servitor.core.shape.Answers;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

class TracedValueTests {
    private static JsonNode json(String text) {
        return Json.read(text, JsonNode.class);
    }

    private static TracedValue fill(String template, Map<String, TracedValue> scope) throws Exception {
        return Template.parse(json(template)).fill(scope);
    }

    @Test
    void anEchoOfWhatTheRequesterSaidStaysTheirs() {
        TracedValue answer = TracedValue.answer(
                json("{\"reference\":\"SK-1 \",\"owner\":\"P-1\",\"deep\":[{\"again\":\"sk-1\"}]}"),
                Map.of("reference", TracedValue.of(Json.of("SK-1"), Origin.REQUESTER)));
        assertThat(answer.originsAt("owner")).containsExactly(Origin.LOOKUP);
        assertThat(answer.originsAt("reference")).containsExactly(Origin.REQUESTER);
        assertThat(answer.at(List.of("deep", "0", "again")).originsAt("")).containsExactly(Origin.REQUESTER);
        assertThat(answer.originsAt("")).containsExactlyInAnyOrder(Origin.LOOKUP, Origin.REQUESTER);
    }

    @Test
    void anEchoOfMachineTextStaysMarked() {
        TracedValue answer = TracedValue.answer(
                json("{\"note\":\"They said: Good day.\",\"id\":7}"),
                Map.of("text", TracedValue.written(Json.of("Good day."))));
        assertThat(answer.at(List.of("note")).written()).isTrue();
        assertThat(answer.at(List.of("id")).written()).isFalse();
    }

    @Test
    void onlyFreeTextOfAnAnswerIsAMachinesText() {
        Shape shape = Answers.shape(Shape.Fields.of(
                Map.of("mood", new Shape.OneOf(List.of("calm", "angry")), "heart", Shape.TEXT, "days", Shape.WHOLE)));
        TracedValue answer = TracedValue.answered(
                json("{\"mood\":\"calm\",\"heart\":\"Late.\",\"days\":2,\"reason\":\"So.\",\"sure\":1}"), shape);
        assertThat(answer.machine()).containsExactlyInAnyOrder("heart", "reason");
        assertThat(answer.machineTexts()).containsExactlyInAnyOrder("Late.", "So.");
        assertThat(answer.at(List.of("mood")).written()).isFalse();
    }

    @Test
    void marksAndOriginsGoThroughTemplates() throws Exception {
        TracedValue answer = TracedValue.answered(json("{\"heart\":\"Late.\",\"n\":1}"), Shape.ANYTHING);
        Map<String, TracedValue> scope =
                Map.of("seen", answer, "booking", TracedValue.of(json("{\"paid\":5.0}"), Origin.LOOKUP));
        TracedValue whole =
                fill("{\"a\":\"${seen.heart}\",\"b\":\"${booking.paid}\",\"c\":\"So: ${seen.heart}\"}", scope);
        assertThat(whole.machine()).containsExactlyInAnyOrder("a", "c");
        assertThat(whole.at(List.of("b")).originsAt("")).containsExactly(Origin.LOOKUP);
        assertThat(whole.at(List.of("c")).originsAt("")).containsExactlyInAnyOrder(Origin.HANDBOOK, Origin.MODEL);
        assertThat(fill("\"${booking.paid > 3.0 ? 'much' : 'little'}\"", scope).written())
                .isFalse();
    }

    @Test
    void fieldsKeepTheirOwn() {
        TracedValue both = TracedValue.fields(Map.of(
                "theirs",
                TracedValue.of(Json.of("x"), Origin.REQUESTER),
                "written",
                new TracedValue(json("{\"en\":\"Hello.\"}"), Set.of(Origin.MODEL), Map.of(), Set.of("en"))));
        assertThat(both.originsAt("theirs")).containsExactly(Origin.REQUESTER);
        assertThat(both.machine()).containsExactly("written.en");
        assertThat(TracedValue.fields(Map.of()).originsAt("")).containsExactly(Origin.HANDBOOK);
    }

    @Test
    void emptyValuesSurviveBeingKept() {
        for (String value : List.of("{}", "\"\"", "[]", "0")) {
            TracedValue traced = TracedValue.of(json(value), Origin.LOOKUP);
            assertThat(Json.read(Json.write(traced), TracedValue.class))
                    .as(value)
                    .isEqualTo(traced);
        }
    }

    @Test
    void whatIsntThereIsNothing() {
        TracedValue list = TracedValue.of(json("[1,{\"a\":2}]"), Origin.LOOKUP);
        assertThat(list.at(List.of("1", "a")).value().asInt()).isEqualTo(2);
        assertThat(list.at(List.of("2"))).isNull();
        assertThat(list.at(List.of("x"))).isNull();
        assertThat(list.at(List.of("1", "a", "b"))).isNull();
    }
}
