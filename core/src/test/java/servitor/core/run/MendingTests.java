package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** Runs that failed and are taken up again, runs that people pause, and agents that people tell something. */
class MendingTests {
    private static Play failedAtPaying() {
        Map<String, String> files = DemoHandbook.with(
                DemoHandbook.PAGE,
                "on: { declined: write a refusal, expired: hand over, refused: hand over }",
                "on: { declined: write a refusal }");
        return new Play(DemoHandbook.edition(files))
                .start()
                .answerTool(Play.BOOKING)
                .failTool("invalid");
    }

    private static final String PAID =
            "{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":84.5,\"currency\":\"EUR\"}";

    @Test
    void aProblemWithoutAWayFailsTheRunAndAWayToPeopleEndsIt() {
        Play failed = failedAtPaying();
        assertThat(failed.state.status()).isEqualTo(RunStatus.FAILED);
        assertThat(failed.state.caseState()).isEqualTo("with-people");
        Play ended = new Play(DemoHandbook.edition(DemoHandbook.files()))
                .start()
                .failTool("not-found"); // the page says: hand over
        assertThat(ended.state.status()).isEqualTo(RunStatus.FINISHED);
        assertThat(ended.state.caseState()).isEqualTo("with-people");
    }

    @Test
    void aFailedStepIsTakenOnceMore() {
        Play play = failedAtPaying().give(new RunInput.Retried("teun", "the system is back"));
        assertThat(play.only(Command.CallTool.class).call().tool()).isEqualTo("fares.pay-refund");
        assertThat(play.state.caseState()).isEqualTo("working");
        play.answerTool(PAID).write("Your fare is on its way.");
        assertThat(play.state.status()).isEqualTo(RunStatus.WAITING);
    }

    @Test
    void aSkippedStepGivesWhatThePersonSaysItGave() {
        Play play = failedAtPaying();
        assertThat(SkipRule.fault(play.edition.handbook(), play.state, null))
                .hasValueSatisfying(fault -> assertThat(fault).contains("‘refund’"));
        assertThat(SkipRule.fault(
                        play.edition.handbook(), play.state, Json.object().put("x", 1)))
                .hasValueSatisfying(fault -> assertThat(fault).contains("isn't what ‘fares.pay-refund’ answers"));
        assertThat(SkipRule.fault(play.edition.handbook(), play.state, Play.read(PAID)))
                .isEmpty();
        play.give(new RunInput.Skipped("teun", "paid by hand", Play.read(PAID)));
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("RF-1");
        assertThat(play.state.saved().get("refund").originsAt("")).containsExactly(servitor.core.origin.Origin.PERSON);
    }

    @Test
    void aQuestionToPeopleIsNeverSkipped() {
        Map<String, String> files = DemoHandbook.with(
                DemoHandbook.PAGE, "declined: hand over, expired: hand over", "declined: send, expired: send");
        Play play = new Play(DemoHandbook.unchecked(files))
                .start()
                .answerTool(Play.BOOKING)
                .answerTool(PAID);
        play.write("Your fare is on its way.");
        assertThat(SkipRule.fault(play.edition.handbook(), play.state, null))
                .hasValueSatisfying(fault -> assertThat(fault).contains("rests on its answer"));
    }

    @Test
    void whatAPersonTakesOverIsOverAndCannotBeRetried() {
        Play play = failedAtPaying().give(new RunInput.GivenUp("teun", "I call her"));
        assertThat(play.state.status()).isEqualTo(RunStatus.FINISHED);
        assertThat(play.state.caseState()).isEqualTo("with-people");
        play.give(new RunInput.Retried("teun", "no, after all"));
        assertThat(play.commands).isEmpty();
        assertThat(play.state.status()).isEqualTo(RunStatus.FINISHED);
    }

    @Test
    void aPausedRunShowsThatItWaitsForAPersonAndTakesAnswersAllTheSame() {
        Play play = new Play(DemoHandbook.edition(DemoHandbook.files())).start();
        play.give(new RunInput.Paused("teun", "I ask the harbour first"));
        assertThat(play.state.isPaused()).isTrue();
        assertThat(play.state.caseState()).isEqualTo("waiting");
        assertThat(play.state.waitingFor()).contains("I ask the harbour first");
        play.give(new RunInput.ToolAnswered("r1-2", Play.read(Play.BOOKING)));
        assertThat(play.only(Command.CallTool.class).call().tool()).isEqualTo("fares.pay-refund");
        assertThat(play.state.isPaused()).isTrue();
        play.give(new RunInput.Resumed("teun"));
        assertThat(play.state.isPaused()).isFalse();
        assertThat(play.state.caseState()).isEqualTo("working");
    }

    @Test
    void whatTheDeskTellsTheAgentStandsWithTheInstruction() {
        Play play = new Play(DemoHandbook.edition(DemoHandbook.files())).start().answerTool(Play.BOOKING);
        play.give(new RunInput.Advised("teun", "She is travelling with two children."));
        play.give(new RunInput.ToolAnswered("r1-4", Play.read(PAID)));
        String user = play.only(Command.AskModel.class).prompt().user();
        assertThat(user.substring(0, user.indexOf("# Form")))
                .contains("People of the desk add:")
                .contains("two children");
    }

    @Test
    void aStateOfAnEarlierVersionIsStillRead() {
        ObjectNode older = (ObjectNode) Json.of(failedAtPaying().state);
        ((ObjectNode) older.get("memory")).remove("advice");
        RunState read = Json.read(Json.write(older), RunState.class);
        assertThat(read.memory().advice()).isEmpty();
        assertThat(read.isPaused()).isFalse();
    }
}
