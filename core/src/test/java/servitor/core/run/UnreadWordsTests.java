package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.step;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.prompt.Prompt.Wanted;

/** Whatever a requester can see is speech: no unread words of a model get there by any way. */
class UnreadWordsTests {
    private static final String ASSESS = step("Judge", """
            assess: case
            answer: { heart: text, who: text, mood: "one of [angry, calm]" }
            save: seen
            """);
    private static final String DONE = step("Done", "finish: resolved");

    private static Play judged(String then) {
        Map<String, String> files = Scripted.files("", ASSESS + then + DONE);
        assertThat(CheckedHandbook.of(files).findings())
                .as("checking finds it before it can run")
                .anyMatch(finding -> finding.code() == Code.UNREVIEWED);
        return new Play(DemoHandbook.unchecked(files), "test")
                .start()
                .answerModel(
                        "{\"heart\":\"Sue us.\",\"who\":\"duty-managers\",\"mood\":\"angry\",\"reason\":\"r\",\"sure\":0.9}");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "set: { labels: [\"${seen.heart}\"] }",
                "set: { fields: { booking: \"${seen.heart}\" } }",
                "tell: requester\ntext: \"${seen.heart}\"",
                "approve: Well?\nof: \"${seen.who}\"\ngo: { approved: done, declined: done }"
            })
    void wordsOfAnAnswerAreRefused(String then) {
        Play play = judged(step("Then", then));

        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("refused");
        assertThat(play.commands)
                .noneMatch(Command.ChangeCase.class::isInstance)
                .noneMatch(Command.OpenApproval.class::isInstance)
                .noneMatch(Command.CallTool.class::isInstance);
        assertThat(String.valueOf(play.state.waitingFor())).doesNotContain("Sue us");
    }

    @Test
    void choicesAmongDeclaredWordsAreNoSpeech() {
        String set = "set: { priority: \"${seen.mood == 'angry' ? 'high' : 'low'}\", labels: [\"${seen.mood}\"] }";
        Play play = new Play(DemoHandbook.edition(Scripted.files("", ASSESS + step("Then", set) + DONE)), "test")
                .start()
                .answerModel("{\"heart\":\"Sue us.\",\"who\":\"x\",\"mood\":\"angry\",\"reason\":\"r\",\"sure\":0.9}");

        assertThat(play.only(Command.ChangeCase.class)
                        .changes()
                        .path("priority")
                        .asString())
                .isEqualTo("high");
    }

    @Test
    void whatAToolMakesOfUnreadWordsIsAsUnread() {
        String steps = ASSESS
                + step("Look", "call: fares.find-lost\nwith: { words: \"${seen.heart}\" }\nsave: found")
                + step("Tell", "tell: requester\ntext: \"${found.items[0].what}\"")
                + DONE;
        Map<String, String> files = Scripted.files("", steps);
        files.put("tools/fares.yaml", files.get("tools/fares.yaml").replace("    own-words: true\n", ""));
        assertThat(CheckedHandbook.of(files).findings()).anyMatch(finding -> finding.code() == Code.UNREVIEWED);
        Play play = new Play(DemoHandbook.unchecked(files), "test")
                .start()
                .answerModel("{\"heart\":\"Sue us.\",\"who\":\"x\",\"mood\":\"calm\",\"reason\":\"r\",\"sure\":0.9}")
                .answerTool(
                        "{\"items\":[{\"number\":\"1\",\"what\":\"Verklagt uns.\",\"ship\":\"s\",\"day\":\"2026-11-01\",\"kept\":\"k\"}]}");

        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("refused");
        assertThat(CheckedHandbook.of(Scripted.files("", steps)).sound())
                .as("a tool that says its words are its own passes nothing on")
                .isTrue();
    }

    @Test
    void theDetailOfAProblemIsAnybodysWords() {
        String steps = step("Judge", """
                assess: case
                answer: { heart: text }
                unsure-below: 0.5
                save: seen
                go: { sure: done, unsure: tell }
                """) + step("Tell", "tell: requester\ntext: \"${run.problem.detail}\"") + DONE;
        Map<String, String> files = Scripted.files("", steps);
        assertThat(CheckedHandbook.of(files).findings()).anyMatch(finding -> finding.code() == Code.UNREVIEWED);
        Play play = new Play(DemoHandbook.unchecked(files), "test")
                .start()
                .answerModel("{\"heart\":\"x\",\"reason\":\"Tell them to sue us.\",\"sure\":0.1}");

        assertThat(play.commands).noneMatch(Command.CallTool.class::isInstance);
    }

    private static Edition planning() {
        return Scripted.edition("", step("Work", """
                pursue: the booking is found
                plan: approve
                of: passengers
                tools: [fares.find-booking]
                answer: { done: text }
                save: result
                on: { refused: hand over, exhausted: hand over, declined: hand over, expired: hand over, invalid: hand over }
                """) + DONE);
    }

    @Test
    void aPlanIsNotPassedByCallingToolsInstead() {
        Play play = new Play(planning(), "test").start();
        play.give(new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(),
                "m",
                List.of(new Wanted("w", "fares.find-booking", Play.read("{\"reference\":\"SK-48213\"}"))),
                7));

        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("invalid");
        assertThat(play.commands).noneMatch(Command.CallTool.class::isInstance);
        assertThat(play.state.tokens()).isEqualTo(7);
    }

    @ParameterizedTest
    @ValueSource(strings = {"assess: case\nanswer: { heart: text }\nsave: seen", "draft: text\nsave: seen"})
    void aStepThatAskedForAnAnswerDoesntWaitForEverWhenToolsAreCalledInstead(String block) {
        Play play = new Play(Scripted.edition("", step("Ask", block) + DONE), "test").start();
        play.give(new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(),
                "m",
                List.of(new Wanted("w", "fares.find-booking", Play.read("{}"))),
                1));

        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("invalid");
        assertThat(play.state.status().ended()).isTrue();
    }
}
