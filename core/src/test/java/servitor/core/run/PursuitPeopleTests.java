package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.play;
import static servitor.core.run.Scripted.step;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import servitor.core.approval.ApprovalState;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.prompt.Prompt.Offered;
import servitor.core.prompt.Prompt.Wanted;
import tools.jackson.databind.JsonNode;

/** A model in pursuit turns to people: with its plan, with another plan, and with questions. */
class PursuitPeopleTests {
    private static final String BOTH = """
            {"plan":[{"does":"Look the booking up.","tool":"fares.find-booking","with":[],"at-most":1},
             {"does":"Say so.","tool":"none","with":[],"at-most":1}],"reason":"r","sure":0.9}""";
    private static final String OTHER = """
            {"plan":[{"does":"Look at the sailing.","tool":"fares.find-sailing","with":[],"at-most":1}]}""";

    private static Play pursue(String more) {
        return play("starts: []\n", step("Find", """
            pursue: the booking's ship
            tools:
              - fares.find-booking: { reference: "${case.fields.booking}" }
              - fares.find-sailing
            answer: { ship: text }
            MORE
            save: result
            on: { refused: hand over, exhausted: hand over }
            """.replace("MORE", more)) + step("Done", "finish: resolved"))
                .start();
    }

    private static Play wants(Play play, String tool, String args) {
        return play.give(new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(), "m", List.of(new Wanted("c1", tool, Play.read(args))), 10));
    }

    private static String told(Play play) {
        var exchanges = play.only(Command.AskModel.class).prompt().exchanges();
        return exchanges.get(exchanges.size() - 1).result();
    }

    private static List<String> offered(Play play) {
        return play.only(Command.AskModel.class).prompt().tools().stream()
                .map(Offered::name)
                .toList();
    }

    @Test
    void aPlanIsApprovedFirst() {
        Play play = pursue("plan: approve\nof: duty-managers").answerModel(BOTH);
        JsonNode looks = play.approval().sheet().path("plan").path(0);
        assertThat(looks.path("does").asString()).isEqualTo("Look the booking up.");
        assertThat(looks.path("tool").asString()).isEqualTo("fares.find-booking");
        assertThat(looks.path("effect").asString()).isEqualTo("read");
        assertThat(looks.path("at-most").asInt()).isEqualTo(1);
        assertThat(looks.path("with").path("reference").asString())
                .as("what the page fixes is shown as well")
                .isEqualTo("SK-48213");
        assertThat(play.approval().sheet().path("plan").path(1))
                .isEqualTo(Json.object().put("does", "Say so."));
        assertThat(play.approval().of()).isEqualTo(Set.of("duty-managers"));
        play.approve();
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("Look the booking up.");
    }

    @Test
    void anotherPlanIsShownAndHoldsFromThenOn() {
        Play play = pursue("plan: show").answerModel(BOTH);
        assertThat(offered(play)).contains("case.plan");
        wants(play, "case.plan", OTHER);
        assertThat(play.commands.stream()
                        .filter(Command.NoteForStaff.class::isInstance)
                        .map(command -> ((Command.NoteForStaff) command).text()))
                .containsExactly("Purser now means to: Look at the sailing. (fares.find-sailing)");
        assertThat(play.only(Command.AskModel.class).prompt().user())
                .contains("Look at the sailing.")
                .doesNotContain("Look the booking up.");
        assertThat(play.logged("planned").path("revised").asBoolean()).isTrue();
    }

    @Test
    void anotherPlanIsApprovedLikeTheFirstAndTheFirstHoldsWhenItIsDeclined() {
        Play play = pursue("plan: approve\nof: duty-managers").answerModel(BOTH).approve();
        wants(play, "case.plan", OTHER).close(ApprovalState.DECLINED, "the booking first", Map.of());
        assertThat(told(play)).contains("declined: the booking first");
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("Look the booking up.");
        wants(play, "case.plan", OTHER).approve();
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("Look at the sailing.");
    }

    @Test
    void aPlanOfToolsThatArentThereIsRefused() {
        Play play = pursue("plan: show").answerModel(BOTH);
        wants(play, "case.plan", OTHER.replace("fares.find-sailing", "fares.pay-refund"));
        assertThat(told(play)).startsWith("invalid: ");
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("Look the booking up.");
    }

    @Test
    void aChoiceAmongCandidatesIsOfPeople() {
        Play play = pursue("of: duty-managers\nquestions: 1");
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        wants(play, "case.ask", """
                {"question":"Which?","candidates":[{"value":"S-311","title":"The one today"},{"value":"SK-48213","title":"The booking"}]}""");
        assertThat(play.approval().question()).isEqualTo("Purser asks: Which?");
        assertThat(play.approval().sheet().at("/form/fields/0/options").toString())
                .isEqualTo("[\"S-311\",\"SK-48213\"]");
        play.close(ApprovalState.APPROVED, "", Map.of(), Json.object().put("answer", "S-311"));
        assertThat(told(play)).isEqualTo("{\"answer\":\"S-311\"}");
        wants(play, "fares.find-sailing", "{\"number\":\"S-311\"}");
        assertThat(play.only(Command.CallTool.class).call().input("number").originsAt(""))
                .as("people chose among what was looked up")
                .containsExactly(Origin.LOOKUP);
    }

    @Test
    void candidatesAreNeverMadeUp() {
        Play play = pursue("questions: 1");
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        wants(play, "case.ask", """
                {"question":"Which?","candidates":[{"value":"S-311","title":"a"},{"value":"S-666","title":"b"}]}""");
        assertThat(told(play)).startsWith("refused: ‘S-666’ is no candidate");
    }

    @Test
    void whatIsntThereIsAskedAboutAndTheCallIsMadeAgainOnceItIs() {
        Play play = pursue("questions: 2");
        wants(play, "fares.find-booking", "{}").failTool("not-found");
        wants(play, "case.ask", "{\"question\":\"There is no such booking. Is it there now?\"}");
        assertThat(play.approval().of()).as("the people of the page's desk").containsExactly("passengers");
        play.close(ApprovalState.APPROVED, "", Map.of(), Json.object().put("answer", "it is there now"));
        wants(play, "fares.find-booking", "{}").answerTool(Play.BOOKING);
        assertThat(told(play)).contains("Grey Heron");
    }

    @Test
    void peopleAreAskedSoOftenAndNotWhereThePageDoesntSay() {
        Play play = pursue("questions: 1");
        wants(play, "case.ask", "{\"question\":\"Who knows?\"}").close(ApprovalState.DECLINED, "not me", Map.of());
        assertThat(told(play)).isEqualTo("{\"declined\":\"not me\"}");
        wants(play, "case.ask", "{\"question\":\"And you?\"}");
        assertThat(told(play)).startsWith("refused: people may be asked 1 times here");
        Play silent = pursue("");
        assertThat(offered(silent)).doesNotContain("case.ask", "case.plan");
        wants(silent, "case.ask", "{\"question\":\"Who knows?\"}");
        assertThat(told(silent)).contains("there is no tool ‘case.ask’ here");
    }

    @Test
    void aQuestionNobodyAnswersTakesItsWay() {
        Play play = pursue("questions: 1");
        wants(play, "case.ask", "{\"question\":\"Who knows?\"}").close(ApprovalState.EXPIRED, "", Map.of());
        assertThat(play.state.problem().name()).isEqualTo("expired");
        assertThat(play.state.caseState()).isEqualTo("with-people");
    }

    @Test
    void aQuestionOfAnotherFormIsToldSo() {
        Play play = pursue("questions: 1");
        wants(play, "case.ask", "{\"question\":[\"<b>\"],\"candidates\":\"all\",\"to\":\"everybody\"}");
        assertThat(told(play)).startsWith("invalid: ");
    }
}
