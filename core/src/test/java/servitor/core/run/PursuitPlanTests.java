package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.play;
import static servitor.core.run.Scripted.step;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.approval.ApprovalState;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.run.StepProgress.Pursuit;

/** What people agreed to in a plan is all that is done: calls are held against it, one by one. */
class PursuitPlanTests {
    private static final String LOOKS =
            "{\"does\":\"Look the booking up.\",\"tool\":\"fares.find-booking\",\"with\":[],\"at-most\":1}";
    private static final String PAYS =
            "{\"does\":\"Pay it back.\",\"tool\":\"fares.pay-refund\",\"with\":[WITH],\"at-most\":MOST}";
    private static final String REFUND = "{\"reference\":\"SK-48213\",\"amount\":84.5,\"reason\":\"goodwill\"}";

    private static Play pursue(String more) {
        return play("starts: []\n", step("Find", """
            pursue: the fare is settled
            tools:
              - fares.find-booking: { reference: "${case.fields.booking}" }
              - fares.find-sailing
              - fares.pay-refund
            answer: { ship: text }
            MORE
            save: result
            on: { refused: hand over, exhausted: hand over }
            """.replace("MORE", more)) + step("Done", "finish: resolved"))
                .start();
    }

    private static Play planned(String... lines) {
        return planned("plan: approve\nof: duty-managers", lines);
    }

    private static Play planned(String keys, String[] lines) {
        return pursue(keys).answerModel(plan(lines));
    }

    private static String plan(String... lines) {
        return "{\"plan\":[" + String.join(",", lines) + "],\"reason\":\"r\",\"sure\":0.9}";
    }

    private static String pays(int most, String with) {
        return PAYS.replace("MOST", "" + most).replace("WITH", with);
    }

    private static Play wants(Play play, String tool, String args) {
        return play.give(new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(), "m", List.of(new Wanted("c1", tool, Play.read(args))), 10));
    }

    private static String told(Play play) {
        var exchanges = play.only(Command.AskModel.class).prompt().exchanges();
        return exchanges.get(exchanges.size() - 1).result();
    }

    private static Play ends(Play play, boolean done) {
        return play.answerModel(
                "{\"ship\":\"Grey Heron\",\"done\":" + done + ",\"reason\":\"it sails no more\",\"sure\":0.9}");
    }

    private static boolean pays(Play play) {
        return play.commands.stream()
                .anyMatch(command -> command instanceof Command.CallTool call
                        && call.call().tool().equals("fares.pay-refund"));
    }

    @Test
    void aPlanThatOnlyLooksPaysNothing() {
        Play play = planned(LOOKS).approve();
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        wants(play, "fares.pay-refund", REFUND);
        assertThat(pays(play))
                .as("the mandate allows it, and nobody agreed to it")
                .isFalse();
        assertThat(play.approval().question()).contains("pay");
        assertThat(play.approval().sheet().at("/plan/1/with/amount").asString()).isEqualTo("84.5");
        assertThat(play.approval().sheet().path("why").asString()).contains("more than the plan");
        play.close(ApprovalState.DECLINED, "not this one", Map.of());
        assertThat(told(play)).isEqualTo("declined: not this one. The plan you had still holds.");
        wants(play, "fares.pay-refund", REFUND);
        assertThat(pays(play)).as("a no holds").isFalse();
    }

    @Test
    void whatIsBeyondThePlanIsDoneOnceWhenPeopleAgree() {
        Play play = planned(LOOKS).approve();
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        wants(play, "fares.pay-refund", REFUND).approve();
        assertThat(pays(play)).isTrue();
        play.answerTool("{\"refund\":\"R-1\",\"state\":\"paid\"}");
        wants(play, "fares.pay-refund", REFUND);
        assertThat(pays(play)).as("once was agreed").isFalse();
    }

    @Test
    void aPlannedCallIsMadeAsOftenAsPlannedAndNoMore() {
        Play play = planned(LOOKS, pays(1, "")).approve();
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        wants(play, "fares.pay-refund", REFUND);
        assertThat(pays(play)).isTrue();
        play.answerTool("{\"refund\":\"R-1\",\"state\":\"paid\"}");
        wants(play, "fares.pay-refund", REFUND.replace("84.5", "10"));
        assertThat(pays(play)).isFalse();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "SK-48213 | 84.5 | true",
                "SK-48213 | 84.50 | true",
                "SK-48213 | 84 | false",
                "SK-00001 | 84.5 | false",
            })
    void inputsThatThePlanFixesAreThoseOfTheCall(String reference, String amount, boolean covered) {
        String with = "{\"input\":\"reference\",\"is\":\"SK-48213\"},{\"input\":\"amount\",\"is\":\"84.5\"}";
        Play play = planned(LOOKS, pays(1, with)).approve();
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        wants(
                play,
                "fares.pay-refund",
                "{\"reference\":\"" + reference + "\",\"amount\":" + amount + ",\"reason\":\"goodwill\"}");
        assertThat(pays(play)).isEqualTo(covered);
    }

    @Test
    void anApprovedPlanNeverTurnsAskIntoAllow() {
        Play play = planned(LOOKS, pays(1, "")).approve();
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        play.proof = "claimed";
        wants(play, "fares.pay-refund", REFUND);
        assertThat(pays(play)).isFalse();
        assertThat(play.approval().sheet().has("call"))
                .as("the gate asks about the call itself")
                .isTrue();
        play.close(ApprovalState.DECLINED, "let them sign in first", Map.of());
        play.proof = "signed-in";
        wants(play, "fares.pay-refund", REFUND);
        assertThat(pays(play)).as("what wasn't sent took nothing of the plan").isTrue();
    }

    @Test
    void otherLooksAreFreeWhereThePageSaysSo() {
        Play strict = planned(LOOKS).approve();
        wants(strict, "fares.find-sailing", "{\"number\":\"S-311\"}");
        assertThat(strict.approval().sheet().path("plan")).hasSize(2);
        Play free = planned("plan: approve\nlooks: freely\nof: duty-managers", new String[] {LOOKS})
                .approve();
        wants(free, "fares.find-sailing", "{\"number\":\"S-311\"}");
        assertThat(free.only(Command.CallTool.class).call().tool()).isEqualTo("fares.find-sailing");
    }

    @Test
    void aShownPlanIsSaidAnewBeforeAnythingBeyondItIsDone() {
        Play play = planned("plan: show", new String[] {LOOKS});
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        wants(play, "fares.pay-refund", REFUND);
        assertThat(play.commands)
                .anyMatch(command -> command instanceof Command.NoteForStaff note
                        && note.text().contains("amount"));
        assertThat(pays(play)).isTrue();
    }

    @Test
    void peopleWantAnotherPlanAndGetOne() {
        Play play = planned(LOOKS, pays(1, "")).feedback("Only look, and tell me.");
        assertThat(play.only(Command.AskModel.class).prompt().user())
                .contains("People of the desk add:\n- Only look, and tell me.")
                .contains("Do nothing yet.");
        play.answerModel(plan(LOOKS));
        assertThat(play.approval().sheet().path("plan")).hasSize(1);
        play.approve();
        wants(play, "fares.pay-refund", REFUND);
        assertThat(pays(play)).isFalse();
    }

    @Test
    void aPlanIsntSentBackForEver() {
        Play play = planned(LOOKS);
        for (int i = 0; i < 3; i++) {
            play.feedback("Otherwise.").answerModel(plan(LOOKS));
        }
        play.feedback("Otherwise.");
        assertThat(play.state.problem().name()).isEqualTo("exhausted");
    }

    @Test
    void wordsInAnswerToAQuestionAreAnAnswer() {
        Play play = pursue("questions: 1\nof: duty-managers");
        wants(play, "case.ask", "{\"question\":\"Which ship?\"}").feedback("the one at noon");
        assertThat(told(play)).isEqualTo("{\"answer\":\"the one at noon\"}");
    }

    @Test
    void anEndThatSaysItWasntDoneIsNone() {
        Play play = ends(pursue(""), false);
        assertThat(play.state.problem().name()).isEqualTo("not-done");
        assertThat(play.state.problem().detail()).isEqualTo("it sails no more");
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.logged("pursued").path("answer").path("done").asBoolean())
                .isFalse();
        assertThat(ends(pursue(""), true).state.caseState()).isEqualTo("resolved");
        Play way = pursue("").answerModel("{\"ship\":\"none\",\"reason\":\"r\",\"sure\":0.9}");
        assertThat(way.state.caseState())
                .as("asked before there was such a field")
                .isEqualTo("resolved");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"does\":\"\",\"tool\":\"none\",\"with\":[],\"at-most\":1} | says what it does",
                "{\"does\":\"Pay.\",\"tool\":\"fares.pay-refund\",\"with\":[],\"at-most\":1000} | may be 1 to",
                "{\"does\":\"Pay.\",\"tool\":\"fares.pay-refund\",\"with\":[],\"at-most\":0} | may be 1 to",
                "{\"does\":\"Pay.\",\"tool\":\"fares.pay-refund\",\"with\":[{\"input\":\"payee\",\"is\":\"me\"}],\"at-most\":1} | no input ‘payee’",
                "{\"does\":\"Look.\",\"tool\":\"fares.find-booking\",\"with\":[{\"input\":\"reference\",\"is\":\"x\"}],\"at-most\":1} | no input ‘reference’",
            })
    void aPlanThatPeopleCouldntHoldAnybodyToIsNone(String line, String why) {
        Play play = planned(line);
        assertThat(play.state.problem().name()).isEqualTo("invalid");
        assertThat(play.state.problem().detail()).contains(why);
    }

    @Test
    void aPlanKeptInWordsByAnEarlierVersionCountsOnce() {
        Pursuit kept = Json.read(
                "{\"exchanges\":[],\"found\":[],\"wanted\":[],\"calls\":0,\"tokens\":0,\"refusals\":0,"
                        + "\"plan\":[\"Look it up. (fares.find-booking)\",\"Say so.\"]}",
                Pursuit.class);
        assertThat(kept.plan().covering("fares.find-booking", Map.of(), kept.taken()))
                .contains(0);
        assertThat(kept.takes(0).plan().covering("fares.find-booking", Map.of(), List.of(0)))
                .isEmpty();
        assertThat(kept.plan().covering("fares.pay-refund", Map.of(), List.of()))
                .isEmpty();
    }

    @Test
    void aPlanInWordsIsReadHoweverLongItWas() {
        String words =
                "\"" + "x".repeat(5_000) + " (fares.find-booking)\",\"\"," + "\"Say so.\",".repeat(60) + "\"End.\"";
        assertThat(servitor.core.consent.Plan.of(Play.read("[" + words + "]")).lines())
                .hasSize(40)
                .first()
                .matches(line -> line.tool().equals("fares.find-booking"));
    }
}
