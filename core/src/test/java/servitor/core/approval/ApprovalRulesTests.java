package servitor.core.approval;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import servitor.core.approval.ApprovalRules.Counts;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.approval.ApprovalRules.Standing;
import servitor.core.approval.ApprovalRules.Why;
import servitor.core.json.Json;

class ApprovalRulesTests {
    private final ApprovalRequest request = request(Set.of("duty-managers"), false);

    private static ApprovalRequest request(Set<String> of, boolean everyGroup) {
        var sheet = Json.object();
        sheet.putObject("edit").put("text", "Hello.");
        return new ApprovalRequest("a1", "pay", "Send?", of, everyGroup, sheet, Duration.ofHours(1));
    }

    private Standing standing(ApprovalRequest of, ApprovalState state, Given... given) {
        return new Standing(of, state, "ines", Set.of("maren"), List.of(given));
    }

    private Ruling answer(String person, boolean approves, String reason, String edited) {
        return ApprovalRules.rule(
                standing(request, ApprovalState.OPEN),
                new Answer(person, Set.of("duty-managers"), approves, request.digest(), reason, edited));
    }

    private static Why why(Ruling ruling) {
        return ((Refused) ruling).why();
    }

    @Test
    void aMemberApprovesOrDeclinesWithAReason() {
        assertThat(answer("osei", true, "", null))
                .isEqualTo(new Counts(ApprovalState.APPROVED, Set.of("duty-managers")));
        assertThat(answer("osei", false, "no", null))
                .isEqualTo(new Counts(ApprovalState.DECLINED, Set.of("duty-managers")));
        assertThat(why(answer("osei", false, " ", null))).isEqualTo(Why.INCOMPLETE);
    }

    @Test
    void theRequesterTheAuthorAndStrangersDontDecide() {
        assertThat(why(answer("ines", true, "", null))).isEqualTo(Why.NOT_ASKED);
        assertThat(why(answer("maren", true, "", null))).isEqualTo(Why.NOT_ASKED);
        Answer stranger = new Answer("teun", Set.of("it-resolvers"), true, request.digest(), "", null);
        assertThat(why(ApprovalRules.rule(standing(request, ApprovalState.OPEN), stranger)))
                .isEqualTo(Why.NOT_ASKED);
    }

    @Test
    void anAnswerBindsToWhatWasShown() {
        Answer stale = new Answer("osei", Set.of("duty-managers"), true, "0".repeat(64), "", null);
        assertThat(why(ApprovalRules.rule(standing(request, ApprovalState.OPEN), stale)))
                .isEqualTo(Why.STALE);
        var other = Json.object();
        other.putObject("edit").put("text", "Hello!");
        assertThat(new ApprovalRequest("a1", "pay", "Send?", Set.of("x"), false, other, null).digest())
                .isNotEqualTo(request.digest());
    }

    @Test
    void whatIsDecidedStaysDecided() {
        for (ApprovalState state : List.of(
                ApprovalState.APPROVED, ApprovalState.DECLINED, ApprovalState.EXPIRED, ApprovalState.WITHDRAWN)) {
            Answer late = new Answer("osei", Set.of("duty-managers"), true, request.digest(), "", null);
            assertThat(why(ApprovalRules.rule(standing(request, state), late))).isEqualTo(Why.NOT_OPEN);
        }
    }

    @Test
    void whereEveryGroupIsAskedOnePersonAnswersForOneOnly() {
        ApprovalRequest both = request(Set.of("duty-managers", "safety-officers"), true);
        Answer first = new Answer("osei", Set.of("duty-managers"), true, both.digest(), "", null);
        assertThat(ApprovalRules.rule(standing(both, ApprovalState.OPEN), first))
                .isEqualTo(new Counts(ApprovalState.OPEN, Set.of("duty-managers")));
        Given given = new Given("osei", Set.of("duty-managers"));
        Answer second = new Answer("dagny", Set.of("safety-officers"), true, both.digest(), "", null);
        assertThat(ApprovalRules.rule(standing(both, ApprovalState.OPEN, given), second))
                .isEqualTo(new Counts(ApprovalState.APPROVED, Set.of("safety-officers")));
        assertThat(why(ApprovalRules.rule(standing(both, ApprovalState.OPEN, given), first)))
                .isEqualTo(Why.NOT_ASKED);
    }

    @Test
    void anEditNeedsSomethingToEditAndSomethingLeft() {
        assertThat(why(answer("osei", true, "", "  "))).isEqualTo(Why.INCOMPLETE);
        assertThat(why(answer("osei", true, "", "x".repeat(ApprovalRules.LONGEST + 1))))
                .isEqualTo(Why.INCOMPLETE);
        ApprovalRequest call =
                new ApprovalRequest("a2", "pay", "Pay?", Set.of("duty-managers"), false, Json.object(), null);
        Answer edit = new Answer("osei", Set.of("duty-managers"), true, call.digest(), "", "new");
        assertThat(why(ApprovalRules.rule(standing(call, ApprovalState.OPEN), edit)))
                .isEqualTo(Why.INCOMPLETE);
    }
}
