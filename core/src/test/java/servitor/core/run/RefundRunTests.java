package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.approval.ApprovalState;

/** The refund page from end to end on the pure machine. */
class RefundRunTests {
    private static final String PAID =
            "{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":84.5,\"currency\":\"EUR\"}";

    private static Play play() {
        return new Play(DemoHandbook.edition(DemoHandbook.files()));
    }

    @Test
    void aSmallRefundIsPaidAloneAndTheAnswerSentAfterAPersonApprovedIt() {
        Play play = play().start().answerTool(Play.BOOKING);
        assertThat(play.logged("verdict").path("reason").asString()).contains("small refunds");
        assertThat(play.only(Command.CallTool.class)
                        .call()
                        .args()
                        .path("amount")
                        .decimalValue())
                .isEqualByComparingTo("84.5");
        play.answerTool(PAID).write("Your fare is on its way.");
        assertThat(play.approval().sheet().path("edits").path(0).path("text").asString())
                .isEqualTo("Your fare is on its way.");
        assertThat(play.state.status()).isEqualTo(RunStatus.WAITING);
        play.approve();
        assertThat(play.only(Command.CallTool.class).call().tool()).isEqualTo("case.reply");
        play.answerTool("{}");
        assertThat(play.state.status()).isEqualTo(RunStatus.FINISHED);
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    @Test
    void whatAPersonEditedIsWhatIsSent() {
        Play play = play().start().answerTool(Play.BOOKING).answerTool(PAID).write("Your fare is on its way.");
        play.close(ApprovalState.APPROVED, "", java.util.Map.of("answer", "Your fare of 84.50 EUR is on its way."));
        assertThat(play.only(Command.CallTool.class).call().args().path("text").asString())
                .isEqualTo("Your fare of 84.50 EUR is on its way.");
    }

    @Test
    void aLargeRefundWaitsForADutyManagerWhoSeesTheVeryCall() {
        Play play = play().start().answerTool(Play.BOOKING.replace("84.5", "310.0"));
        assertThat(play.approval().of()).containsExactly("duty-managers");
        assertThat(play.approval()
                        .sheet()
                        .path("call")
                        .path("inputs")
                        .path("amount")
                        .asDouble())
                .isEqualTo(310.0);
        assertThat(play.approval()
                        .sheet()
                        .path("call")
                        .path("origins")
                        .path("amount")
                        .get(0)
                        .asString())
                .isEqualTo("lookup");
        assertThat(play.approval()
                        .sheet()
                        .path("call")
                        .path("origins")
                        .path("reference")
                        .get(0)
                        .asString())
                .as("the booking only echoes what the requester typed")
                .isEqualTo("requester");
        play.approve();
        assertThat(play.only(Command.CallTool.class).call().tool()).isEqualTo("fares.pay-refund");
    }

    @Test
    void aDeclinedRefundLeadsToARefusalThatKnowsTheReason() {
        Play play = play().start().answerTool(Play.BOOKING.replace("84.5", "310.0"));
        play.close(ApprovalState.DECLINED, "The passenger was carried on the next sailing.", java.util.Map.of());
        assertThat(play.only(Command.AskModel.class).prompt().user())
                .contains("Say kindly why no fare is paid back")
                .contains("carried on the next sailing");
    }

    @Test
    void aSailingThatWasNotCancelledIsRefusedKindly() {
        Play play = play().start().answerTool(Play.BOOKING.replace("\"cancelled\"", "\"sailed\""));
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("Say kindly why no fare is paid back");
        assertThat(play.state.calls()).isEqualTo(1);
    }

    @Test
    void aBookingThatIsNotFoundIsHandedOverWithWhatIsKnown() {
        Play play = play().start().failTool("not-found");
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.only(Command.NoteForStaff.class).text())
                .contains("Find the booking")
                .contains("not-found");
    }

    @Test
    void aRequesterWhoIsOnlyClaimedIsNeverServedWithoutAPerson() {
        Play play = play();
        play.proof = "claimed";
        play.start();
        assertThat(play.approval().sheet().path("why").asString()).contains("only claimed");
    }

    @Test
    void aRequesterCantBePaidOnSomebodyElsesBookingAlone() {
        Play play = play().start().answerTool(Play.BOOKING.replace("P-1042", "P-7777"));
        assertThat(play.approval().of()).containsExactly("duty-managers");
    }

    @Test
    void moreThanTheHighestFareIsNeverPaid() {
        Play play = play().start().answerTool(Play.BOOKING.replace("84.5", "900.0"));
        assertThat(play.logged("verdict").path("verdict").asString()).isEqualTo("deny");
        assertThat(play.state.caseState()).isEqualTo("with-people");
    }

    @Test
    void anApprovalThatNobodyAnswersSendsNothing() {
        Play play = play().start().answerTool(Play.BOOKING).answerTool(PAID).write("Your fare is on its way.");
        play.close(ApprovalState.EXPIRED, "", java.util.Map.of());
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.commands).noneMatch(Command.CallTool.class::isInstance);
    }

    @Test
    void anInputThatNothingWaitsForChangesNothing() {
        Play play = play().start();
        RunState before = play.state;
        play.give(new RunInput.ToolAnswered("r1-999", Play.read("{}")));
        assertThat(play.state).isEqualTo(before);
        assertThat(play.logged("late").path("what").asString()).isEqualTo("ToolAnswered");
    }

    @Test
    void aStoppedRunWithdrawsItsApprovalAndNeverGoesOn() {
        Play play = play().start().answerTool(Play.BOOKING).answerTool(PAID).write("Your fare is on its way.");
        String approval = play.approval().id();
        play.give(new RunInput.Stopped("maren", "wrong page"));
        assertThat(play.only(Command.WithdrawApproval.class).id()).isEqualTo(approval);
        play.give(new RunInput.ApprovalClosed(
                approval,
                ApprovalState.APPROVED,
                "",
                java.util.Map.of(),
                null,
                java.util.Set.of("passengers"),
                "osei"));
        assertThat(play.state.status()).isEqualTo(RunStatus.STOPPED);
        assertThat(play.commands).isEmpty();
    }

    @Test
    void theTextThatComesFromOutsideIsFencedAndCantCloseItsFence() {
        Play play = play().start().answerTool(Play.BOOKING).answerTool(PAID);
        String user = play.only(Command.AskModel.class).prompt().user();
        assertThat(user).contains("<<<outside request").contains(">>>outside request");
        assertThat(user.indexOf("You cancelled SK-48213.")).isGreaterThan(user.indexOf("<<<outside request"));
    }
}
