package servitor.core.approval;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRules.Counts;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.approval.ApprovalRules.SentBack;
import servitor.core.approval.ApprovalRules.ShownAnew;
import servitor.core.approval.ApprovalRules.Standing;
import servitor.core.approval.ApprovalRules.Why;
import servitor.core.handbook.Quorum;
import servitor.core.json.Json;
import servitor.core.shape.Shape;
import tools.jackson.databind.node.ObjectNode;

class ApprovalRulesTests {
    private static final Set<String> MANAGERS = Set.of("duty-managers");
    private final ApprovalRequest request = request(MANAGERS, Quorum.ANY);

    private static ApprovalRequest request(Set<String> of, Quorum quorum) {
        ObjectNode sheet = Json.object();
        sheet.putArray("edits").addObject().put("key", "answer").put("text", "Hello.");
        return request(of, quorum, sheet, Set.of());
    }

    private static ApprovalRequest request(Set<String> of, Quorum quorum, ObjectNode sheet, Set<String> not) {
        return new ApprovalRequest("a1", "pay", "Send?", of, quorum, not, 2, sheet, Duration.ofHours(1), List.of());
    }

    private static Ruling rule(ApprovalRequest of, Answer answer, Given... given) {
        return ApprovalRules.rule(
                new Standing(of, ApprovalState.OPEN, Set.of("ines"), Set.of("maren"), List.of(given), 3), answer);
    }

    private static Answer says(ApprovalRequest to, String person, Set<String> groups, Says says, String reason) {
        return new Answer(person, groups, Set.of(), says, to.digest(), reason, Map.of(), null, Via.CONSOLE);
    }

    private Ruling answer(String person, Says says, String reason, String edited) {
        Map<String, String> texts = edited == null ? Map.of() : Map.of("answer", edited);
        return rule(
                request,
                new Answer(person, MANAGERS, Set.of(), says, request.digest(), reason, texts, null, Via.CONSOLE));
    }

    private static Why why(Ruling ruling) {
        return ((Refused) ruling).why();
    }

    @Test
    void aRequestOfAnEarlierVersionIsReadAsItWas() {
        ApprovalRequest request = servitor.core.json.Json.read(
                "{\"id\":\"a\",\"step\":\"s\",\"question\":\"q\",\"of\":[\"it\"],\"quorum\":{\"rule\":\"ANY\",\"number\":1,"
                        + "\"tolerateDeclines\":false},\"not\":[],\"rounds\":0,\"sheet\":{},\"remind\":[]}",
                ApprovalRequest.class);
        assertThat(request.lapsesWhenNobody()).isFalse();
    }

    @Test
    void aMemberApprovesOrDeclinesWithAReason() {
        assertThat(answer("osei", Says.APPROVE, "", null)).isEqualTo(new Counts(ApprovalState.APPROVED, MANAGERS));
        assertThat(answer("osei", Says.DECLINE, "no", null)).isEqualTo(new Counts(ApprovalState.DECLINED, MANAGERS));
        assertThat(why(answer("osei", Says.DECLINE, " ", null))).isEqualTo(Why.INCOMPLETE);
    }

    @Test
    void theRequesterTheAuthorThoseExceptedAndStrangersDontDecide() {
        assertThat(why(answer("ines", Says.APPROVE, "", null))).isEqualTo(Why.NOT_ASKED);
        assertThat(why(answer("maren", Says.APPROVE, "", null))).isEqualTo(Why.NOT_ASKED);
        assertThat(why(rule(request, says(request, "teun", Set.of("it-resolvers"), Says.APPROVE, ""))))
                .isEqualTo(Why.NOT_ASKED);
        ApprovalRequest notLucja = request(MANAGERS, Quorum.ANY, Json.object(), Set.of("person:lucja"));
        assertThat(why(rule(notLucja, says(notLucja, "lucja", MANAGERS, Says.APPROVE, ""))))
                .isEqualTo(Why.NOT_ASKED);
    }

    @Test
    void whoOpenedTheCaseForAnotherDoesNotDecideEither() {
        Standing opened =
                new Standing(request, ApprovalState.OPEN, Set.of("ines", "osei"), Set.of("maren"), List.of(), 3);
        assertThat(why(ApprovalRules.rule(opened, says(request, "osei", MANAGERS, Says.APPROVE, ""))))
                .isEqualTo(Why.NOT_ASKED);
        assertThat(ApprovalRules.rule(opened, says(request, "lucja", MANAGERS, Says.APPROVE, "")))
                .isInstanceOf(Counts.class);
    }

    @Test
    void onePersonCanBeAskedByName() {
        ApprovalRequest one = request(Set.of("person:priya"), Quorum.ANY);
        assertThat(rule(one, says(one, "priya", Set.of(), Says.APPROVE, ""))).isInstanceOf(Counts.class);
        assertThat(why(rule(one, says(one, "osei", MANAGERS, Says.APPROVE, ""))))
                .isEqualTo(Why.NOT_ASKED);
    }

    @Test
    void anAnswerBindsToWhatWasShown() {
        Answer stale =
                new Answer("osei", MANAGERS, Set.of(), Says.APPROVE, "0".repeat(64), "", Map.of(), null, Via.CONSOLE);
        assertThat(why(rule(request, stale))).isEqualTo(Why.STALE);
        assertThat(request.showing(Map.of("answer", "Hello!")).digest()).isNotEqualTo(request.digest());
    }

    @Test
    void whatIsDecidedStaysDecided() {
        for (ApprovalState state : List.of(
                ApprovalState.APPROVED, ApprovalState.DECLINED, ApprovalState.EXPIRED, ApprovalState.WITHDRAWN)) {
            Standing closed = new Standing(request, state, Set.of("ines"), Set.of(), List.of(), 3);
            assertThat(why(ApprovalRules.rule(closed, says(request, "osei", MANAGERS, Says.APPROVE, ""))))
                    .isEqualTo(Why.NOT_OPEN);
        }
    }

    @Test
    void whereEveryGroupIsAskedOnePersonAnswersForOneOnly() {
        ApprovalRequest both = request(Set.of("duty-managers", "safety-officers"), Quorum.ALL);
        Answer first = says(both, "osei", MANAGERS, Says.APPROVE, "");
        assertThat(rule(both, first)).isEqualTo(new Counts(ApprovalState.OPEN, MANAGERS));
        Given given = new Given("osei", true, MANAGERS, Via.CONSOLE);
        Answer second = says(both, "dagny", Set.of("safety-officers"), Says.APPROVE, "");
        assertThat(rule(both, second, given)).isEqualTo(new Counts(ApprovalState.APPROVED, Set.of("safety-officers")));
        assertThat(why(rule(both, first, given))).isEqualTo(Why.NOT_ASKED);
    }

    @Test
    void aNumberOfPeopleIsWaitedForAndDeclinesMayBeTolerated() {
        ApprovalRequest two = request(MANAGERS, new Quorum(Quorum.Rule.NUMBER, 2, true));
        Given yes = new Given("osei", true, MANAGERS, Via.CONSOLE);
        Given no = new Given("osei", false, MANAGERS, Via.CONSOLE);
        assertThat(rule(two, says(two, "lucja", MANAGERS, Says.APPROVE, "")))
                .isEqualTo(new Counts(ApprovalState.OPEN, MANAGERS));
        assertThat(rule(two, says(two, "lucja", MANAGERS, Says.APPROVE, ""), yes))
                .isEqualTo(new Counts(ApprovalState.APPROVED, MANAGERS));
        assertThat(rule(two, says(two, "lucja", MANAGERS, Says.DECLINE, "no")))
                .as("two of three can still approve")
                .isEqualTo(new Counts(ApprovalState.OPEN, MANAGERS));
        assertThat(rule(two, says(two, "lucja", MANAGERS, Says.DECLINE, "no"), no))
                .as("only one of three is left")
                .isEqualTo(new Counts(ApprovalState.DECLINED, MANAGERS));
    }

    @Test
    void anEditIsShownAnewWhereOthersHaveToAgree() {
        ApprovalRequest two = request(MANAGERS, new Quorum(Quorum.Rule.NUMBER, 2, false));
        Answer edited = new Answer(
                "osei",
                MANAGERS,
                Set.of(),
                Says.APPROVE,
                two.digest(),
                "",
                Map.of("answer", "Hello you."),
                null,
                Via.CONSOLE);
        assertThat(rule(two, edited))
                .isInstanceOfSatisfying(
                        ShownAnew.class,
                        shown -> assertThat(shown.request().texts()).containsEntry("answer", "Hello you."));
        assertThat(answer("osei", Says.APPROVE, "", "Hello you."))
                .as("one answer is enough, so the edit is the decision")
                .isInstanceOf(Counts.class);
    }

    @Test
    void anEditNeedsSomethingToEditAndSomethingLeft() {
        assertThat(why(answer("osei", Says.APPROVE, "", "  "))).isEqualTo(Why.INCOMPLETE);
        assertThat(why(answer("osei", Says.APPROVE, "", "x".repeat(ApprovalRules.LONGEST + 1))))
                .isEqualTo(Why.INCOMPLETE);
        ApprovalRequest call = request(MANAGERS, Quorum.ANY, Json.object(), Set.of());
        Answer edit = new Answer(
                "osei", MANAGERS, Set.of(), Says.APPROVE, call.digest(), "", Map.of("answer", "x"), null, Via.CONSOLE);
        assertThat(why(rule(call, edit))).isEqualTo(Why.INCOMPLETE);
    }

    @Test
    void feedbackSendsADraftBackAndNeedsWords() {
        assertThat(answer("osei", Says.FEEDBACK, "Name the ship.", null)).isEqualTo(new SentBack());
        assertThat(why(answer("osei", Says.FEEDBACK, " ", null))).isEqualTo(Why.INCOMPLETE);
        ApprovalRequest call = request(MANAGERS, Quorum.ANY, Json.object(), Set.of());
        assertThat(why(rule(call, says(call, "osei", MANAGERS, Says.FEEDBACK, "Hm."))))
                .isEqualTo(Why.INCOMPLETE);
    }

    @Test
    void aFormIsFilledInBeforeItCounts() {
        ObjectNode sheet = Json.object();
        sheet.putObject("form")
                .set("schema", Shape.Fields.of(Map.of("cost", Shape.NUMBER)).schema());
        ApprovalRequest form = request(MANAGERS, Quorum.ANY, sheet, Set.of());
        assertThat(why(rule(form, says(form, "osei", MANAGERS, Says.APPROVE, ""))))
                .isEqualTo(Why.INCOMPLETE);
        Answer wrong = new Answer(
                "osei",
                MANAGERS,
                Set.of(),
                Says.APPROVE,
                form.digest(),
                "",
                Map.of(),
                Json.object().put("cost", "much"),
                Via.CONSOLE);
        assertThat(why(rule(form, wrong))).isEqualTo(Why.INCOMPLETE);
        Answer right = new Answer(
                "osei",
                MANAGERS,
                Set.of(),
                Says.APPROVE,
                form.digest(),
                "",
                Map.of(),
                Json.object().put("cost", 12),
                Via.CONSOLE);
        assertThat(rule(form, right)).isInstanceOf(Counts.class);
        assertThat(rule(form, says(form, "osei", MANAGERS, Says.DECLINE, "no")))
                .as("declining needs no form")
                .isInstanceOf(Counts.class);
    }

    private static Answer instead(ApprovalRequest to, String deputy, Set<String> groups, String... away) {
        return new Answer(deputy, groups, Set.of(away), Says.APPROVE, to.digest(), "", Map.of(), null, Via.CONSOLE);
    }

    @Test
    void aDeputyAnswersForWhoeverIsAskedByName() {
        ApprovalRequest manager = request(Set.of("person:dagny"), Quorum.ANY);
        assertThat(why(rule(manager, instead(manager, "osei", MANAGERS)))).isEqualTo(Why.NOT_ASKED);
        assertThat(rule(manager, instead(manager, "osei", MANAGERS, "dagny")))
                .isEqualTo(new Counts(ApprovalState.APPROVED, Set.of("person:dagny")));
    }

    @Test
    void nobodyIsStoodInForWhoMayNotAnswerThemselves() {
        ApprovalRequest own = request(Set.of("person:ines"), Quorum.ANY);
        assertThat(why(rule(own, instead(own, "osei", Set.of(), "ines"))))
                .as("Ines asks for it herself")
                .isEqualTo(Why.NOT_ASKED);
        ApprovalRequest written = request(Set.of("person:maren"), Quorum.ANY);
        assertThat(why(rule(written, instead(written, "osei", Set.of(), "maren"))))
                .as("Maren wrote it")
                .isEqualTo(Why.NOT_ASKED);
        ApprovalRequest barred = request(Set.of("person:dagny"), Quorum.ANY, Json.object(), Set.of("person:dagny"));
        assertThat(why(rule(barred, instead(barred, "osei", Set.of(), "dagny"))))
                .isEqualTo(Why.NOT_ASKED);
    }

    @Test
    void aDeputyWhoIsTheRequesterAnswersNothing() {
        ApprovalRequest manager = request(Set.of("person:dagny"), Quorum.ANY);
        assertThat(why(rule(manager, instead(manager, "ines", Set.of(), "dagny"))))
                .isEqualTo(Why.NOT_ASKED);
        ApprovalRequest barred = request(Set.of("person:dagny"), Quorum.ANY, Json.object(), Set.of("person:osei"));
        assertThat(why(rule(barred, instead(barred, "osei", Set.of(), "dagny"))))
                .as("exclusions hold for the deputy, too")
                .isEqualTo(Why.NOT_ASKED);
    }

    @Test
    void oneDeputyIsNeverTwoPeople() {
        ApprovalRequest both = request(Set.of("person:dagny", "person:lucja"), Quorum.ALL);
        Answer first = instead(both, "osei", Set.of(), "dagny", "lucja");
        assertThat(rule(both, first)).isEqualTo(new Counts(ApprovalState.OPEN, Set.of("person:dagny")));
        assertThat(why(rule(both, first, new Given("osei", true, Set.of("person:dagny"), Via.CONSOLE))))
                .isEqualTo(Why.NOT_ASKED);
        Answer herself = instead(both, "dagny", Set.of(), "lucja");
        assertThat(rule(both, herself))
                .as("whoever is asked themselves answers as themselves")
                .isEqualTo(new Counts(ApprovalState.OPEN, Set.of("person:dagny")));
        assertThat(why(rule(
                        both,
                        instead(both, "teun", Set.of(), "dagny"),
                        new Given("dagny", true, Set.of("person:dagny"), Via.CONSOLE))))
                .as("Dagny has answered already")
                .isEqualTo(Why.NOT_ASKED);
    }

    @Test
    void theHeadlineSaysWhatHappens() {
        assertThat(request.headline()).isEqualTo("Send? ‘Hello.’");
        ObjectNode call = Json.object();
        call.putObject("call").put("says", "Pay 310.00 EUR back");
        assertThat(request(MANAGERS, Quorum.ANY, call, Set.of()).headline()).isEqualTo("Pay 310.00 EUR back");
        assertThat(request(MANAGERS, Quorum.ANY, Json.object(), Set.of()).headline())
                .isEqualTo("Send?");
    }
}
