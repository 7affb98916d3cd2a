package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.approval.ApprovalState;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;

/** The machine holds to the review rule itself, even for a page that the checker should never have let through. */
class ReviewRuleTests {
    private static final String PAID =
            "{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":84.5,\"currency\":\"EUR\"}";

    private static Play unchecked(Map<String, String> files) {
        return new Play(new Edition(1, CheckedHandbook.of(files).handbook()));
    }

    private static Play drafted(Map<String, String> files) {
        return unchecked(files)
                .start()
                .answerTool(Play.BOOKING)
                .answerTool(PAID)
                .write("Your fare is on its way.");
    }

    @Test
    void anUnreviewedDraftIsNeverSent() {
        Play play = drafted(DemoHandbook.with(DemoHandbook.PAGE, "go: check the wording", "go: send"));
        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("refused");
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.commands).noneMatch(Command.CallTool.class::isInstance);
    }

    @Test
    void aDraftThatIsBentAfterItsApprovalIsNotSent() {
        Play play = drafted(DemoHandbook.with(DemoHandbook.PAGE, "text: \"${answer}\"", "text: \"${answer + '!'}\""))
                .approve();
        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("refused");
    }

    @Test
    void anApprovedDraftMayStandInWordsOfTheHandbook() {
        Play play = drafted(DemoHandbook.with(
                        DemoHandbook.PAGE, "text: \"${answer}\"", "text: \"${answer} Your ferry line\""))
                .approve();
        assertThat(play.only(Command.CallTool.class).call().args().path("text").asString())
                .isEqualTo("Your fare is on its way. Your ferry line");
    }

    @Test
    void anEditThatOnlyAddsToTheDraftIsSent() {
        Play play = drafted(DemoHandbook.files());
        play.close(ApprovalState.APPROVED, "", java.util.Map.of("answer", "Your fare is on its way. Fair winds!"));
        assertThat(play.only(Command.CallTool.class).call().args().path("text").asString())
                .isEqualTo("Your fare is on its way. Fair winds!");
    }

    @Test
    void aDraftThatWentThroughTheCaseIsStillFound() {
        Map<String, String> files =
                DemoHandbook.with(DemoHandbook.PAGE, "text: \"${answer}\"", "text: \"${case.text}\"");
        Play play = new Play(new Edition(1, CheckedHandbook.of(files).handbook())) {
            @Override
            Situation situation() {
                Situation was = super.situation();
                Situation.CaseView view = was.view();
                return new Situation(
                        was.now(),
                        new Situation.CaseView(
                                view.id(),
                                view.kind(),
                                view.desk(),
                                view.subject(),
                                "Copied: An unread draft.",
                                view.language(),
                                view.fields(),
                                view.documents(),
                                view.labels(),
                                view.priority(),
                                view.channel(),
                                view.state()),
                        was.requester(),
                        was.openedBy());
            }
        };
        play.start().answerTool(Play.BOOKING).answerTool(PAID).write("An unread draft.");
        play.close(ApprovalState.APPROVED, "", java.util.Map.of("answer", "Something else entirely."));
        assertThat(play.logged("problem").path("detail").asString()).contains("nobody has approved");
    }

    @Test
    void aStatedReasonLetsUnreviewedTextThrough() {
        Map<String, String> files = DemoHandbook.with(DemoHandbook.PAGE, "go: check the wording", "go: send");
        files.computeIfPresent(
                DemoHandbook.PAGE,
                (k, text) -> text.replace(
                        "text: \"${answer}\"", "text: \"${answer}\"\nunreviewed: a trial among ourselves"));
        assertThat(drafted(files).only(Command.CallTool.class).call().tool()).isEqualTo("case.reply");
    }
}
