package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static servitor.core.run.Scripted.step;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import tools.jackson.databind.JsonNode;

/** A step tried by itself comes to what it comes to in a run, and does nothing. */
class StepTryTests {
    private static final String PAGE =
            step("Sort it", """
            assess: case
            answer: { urgent: yes/no }
            save: sorted
            """) + step("Write", """
            draft: text
            about: { booking: "${booking.reference}" }
            save: letter
            """) + step("Look around", """
            pursue: goal
            tools: [fares.find-booking, fares.pay-refund]
            answer: { found: yes/no }
            save: outcome
            """) + step("Done", "finish: resolved");

    private static Play fresh() {
        return new Play(DemoHandbook.unchecked(Scripted.files("", PAGE)), "test");
    }

    private static StepTry tried(Play play, String step, Map<String, JsonNode> facts) {
        return StepTry.at(play.edition, play.state, play.situation(), step, facts);
    }

    @Test
    void whatAModelWouldBeAskedIsWhatItIsAsked() {
        Play play = fresh();
        Prompt tried = tried(play, "sort it", Map.of()).prompt().orElseThrow();
        assertThat(tried).isEqualTo(play.start().only(Command.AskModel.class).prompt());
        assertThat(play.trail).isNotEmpty();
    }

    @Test
    void aStepFurtherOnKnowsTheFactsItIsGiven() {
        Play play = fresh();
        assertThat(tried(play, "write", Map.of()).prompt()).isEmpty();
        assertThat(tried(play, "write", Map.of()).trouble().orElseThrow().name())
                .isEqualTo("invalid");
        StepTry with = tried(play, "write", Map.of("booking", Json.object().put("reference", "SK-1")));
        assertThat(with.prompt().orElseThrow().user()).contains("SK-1");
    }

    @Test
    void anAnswerComesToAValueOrToTheStepsOwnTrouble() {
        StepTry tried = tried(fresh(), "sort it", Map.of());
        StepTry.Came sorted = tried.came(answer(tried, "{\"urgent\":true,\"reason\":\"r\",\"sure\":0.9}"));
        assertThat(sorted.saved().path("urgent").asBoolean()).isTrue();
        assertThat(sorted.trouble())
                .as("that the next step lacks its facts is not this one's")
                .isNull();
        StepTry.Came little = tried.came(answer(tried, "{\"urgent\":false,\"reason\":\"who?\",\"sure\":0}"));
        assertThat(little.saved()).isNull();
        assertThat(little.trouble().name()).isEqualTo("too-little");
    }

    private static ModelAnswered answer(StepTry tried, String json) {
        return new ModelAnswered(tried.question(), "m", Json.read(json, JsonNode.class), 9);
    }

    @Test
    void eachCallThatIsWantedIsShownAsTheGateWouldBeAsked() {
        StepTry tried = tried(fresh(), "look around", Map.of());
        List<StepTry.Meant> meant = tried.meant(new ModelCalled(
                tried.question(),
                "m",
                List.of(
                        new Wanted("1", "fares.find-booking", Json.object().put("reference", "SK-48213")),
                        new Wanted("2", "fares.sink-the-boat", Json.object())),
                9));
        assertThat(meant.get(0).call().tool()).isEqualTo("fares.find-booking");
        assertThat(meant.get(0).trouble()).isNull();
        assertThat(meant.get(1).call()).isNull();
        assertThat(meant.get(1).trouble().detail()).contains("there is no tool ‘fares.sink-the-boat’");
    }

    @Test
    void aStepMayBeAnotherModels() {
        Map<String, String> files =
                Scripted.files("", PAGE.replace("assess: case\n", "assess: case\nmodel: careful\n"));
        files.computeIfPresent(
                "handbook.yaml",
                (name, yaml) -> yaml + "  careful: { connection: models, name: large, window: 700 }\n");
        Play play = new Play(DemoHandbook.unchecked(files), "test");
        assertThat(tried(play, "sort it", Map.of()).prompt().orElseThrow().model())
                .isEqualTo("careful");
        assertThat(tried(play, "look around", Map.of()).prompt().orElseThrow().model())
                .isEqualTo("writer");
    }

    @Test
    void onlyStepsOfAModelAreTried() {
        Play play = fresh();
        for (String other : List.of("done", "nowhere")) {
            assertThatThrownBy(() -> tried(play, other, Map.of()))
                    .isInstanceOf(IllegalArgumentException.class)
                    .hasMessageContaining("has no step ‘" + other + "’ that asks a model");
        }
    }
}
