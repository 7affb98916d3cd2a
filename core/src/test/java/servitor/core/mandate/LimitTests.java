package servitor.core.mandate;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Limit;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;

/** Limits of grants: what a mandate allows alone, and how often or up to what total. */
class LimitTests {
    private static final String SMALL = "&& args.amount == source(args.reference).paid\n    verdict: allow";
    private final Map<String, BigDecimal> used = new HashMap<>();
    private final String limits = "\n    limits:\n      - { at-most: 2, per: [case] }"
            + "\n      - { sum: args.amount, at-most: 200.00, per: [requester, day] }\n    over-limit: ask";
    private static final String OF_THE_DEMO = "    limits:\n      - { at-most: 1, per: [case] }\n    over-limit: ask\n";

    private String now = "2026-11-25T10:00:00Z";
    private String caseId = "C-1";

    private static Map<String, String> with(String limits) {
        Map<String, String> files = DemoHandbook.with(DemoHandbook.MANDATE, OF_THE_DEMO, "");
        files.computeIfPresent(DemoHandbook.MANDATE, (file, text) -> text.replace(SMALL, SMALL + limits));
        return files;
    }

    private Verdict judge(String amount) {
        return judge(DemoHandbook.edition(with(limits)).handbook(), amount);
    }

    private Verdict judge(Handbook handbook, String amount) {
        JsonNode paid = Json.read(amount, JsonNode.class);
        ProposedCall call = new ProposedCall(
                "purser",
                "fares.pay-refund",
                Map.of(
                        "reference", TracedValue.of(Json.of("SK-4821"), Origin.LOOKUP),
                        "amount", TracedValue.of(paid, Origin.LOOKUP),
                        "reason", TracedValue.of(Json.of("goodwill"), Origin.HANDBOOK)),
                Map.of(
                        "reference",
                        Json.object().put("owner", "P-1").set("paid", paid),
                        "amount",
                        Json.object().put("owner", "P-1").set("paid", paid)));
        Map<String, JsonNode> scope = Map.of(
                "case", Json.object().put("id", caseId),
                "requester",
                        Json.object().put("id", "ines").put("account", "P-1").put("proof", "signed-in"),
                "run", Json.object().put("id", "R-1"),
                "now", Json.of(now));
        return Judge.judge(handbook, call, scope, counter -> used.getOrDefault(counter, BigDecimal.ZERO));
    }

    /** Allows a call and counts it, as the engine does. */
    private void allowed(String amount) {
        Verdict verdict = judge(amount);
        assertThat(verdict.decision()).as(verdict.reason()).isEqualTo(Decision.ALLOW);
        verdict.charges().forEach(charge -> used.merge(charge.counter(), charge.amount(), BigDecimal::add));
    }

    @Test
    void callsAreCountedPerCaseAndBeyondThatPeopleAreAsked() {
        allowed("10.5");
        allowed("10.5");
        Verdict third = judge("10.5");
        assertThat(third.decision()).isEqualTo(Decision.ASK);
        assertThat(third.reason())
                .contains("its limit is reached")
                .contains("at most 2 calls per case")
                .contains("used: 2");
        assertThat(third.of()).containsExactly("duty-managers");
        caseId = "C-2";
        assertThat(judge("10.5").decision())
                .as("another case has a counter of its own")
                .isEqualTo(Decision.ALLOW);
    }

    @Test
    void sumsAreExactToTheCentAndBeginAnewAtMidnightOfTheHouse() {
        caseId = "C-1";
        allowed("99.9");
        caseId = "C-2";
        allowed("100.1");
        caseId = "C-3";
        assertThat(judge("0.01").decision()).as("200.00 are used, to the cent").isEqualTo(Decision.ASK);
        now = "2026-11-25T23:59:59Z";
        assertThat(judge("0.01").decision()).isEqualTo(Decision.ASK);
        now = "2026-11-26T00:00:00Z";
        assertThat(judge("0.01").decision()).isEqualTo(Decision.ALLOW);
        now = "2026-07-01T22:59:59Z";
        String summer = judge("0.01").charges().get(1).counter();
        now = "2026-07-01T23:00:00Z"; // midnight in Dublin in summer
        assertThat(judge("0.01").charges().get(1).counter()).isNotEqualTo(summer);
    }

    @Test
    void beyondALimitTheAnswerIsNoUnlessTheGrantSaysAsk() {
        Map<String, String> files = with(limits.replace("over-limit: ask", ""));
        Handbook handbook = DemoHandbook.edition(files).handbook();
        used.put(judge(handbook, "10.0").charges().get(0).counter(), BigDecimal.valueOf(2));
        assertThat(judge(handbook, "10.0").decision()).isEqualTo(Decision.DENY);
    }

    @Test
    void countersGoOnWhenAHandbookIsPublishedAnewAndSoDoThoseOfAnotherTool() {
        Handbook changed = DemoHandbook.edition(with(limits.replace("at-most: 2", "at-most: 3")))
                .handbook();
        assertThat(judge(changed, "10.0").charges()).isEqualTo(judge("10.0").charges());
    }

    @Test
    void aShareThatCannotBeToldIsRefused() {
        Limit limit = DemoHandbook.edition(with(limits)).handbook().mandates().get("purser").grants().stream()
                .flatMap(grant -> grant.limits().stream())
                .filter(one -> one.sum() != null)
                .findFirst()
                .orElseThrow();
        assertThat(limit.amount(Map.of("args", Json.object().put("amount", -1.0))))
                .isEmpty();
        assertThat(limit.amount(Map.of("args", Json.object()))).isEmpty();
        assertThat(limit.amount(Map.of("args", Json.object().put("amount", "1"))))
                .isEmpty();
    }

    @Test
    void whatBothEditionsSayIsCountedOnceAndTheStricterLimitHolds() {
        Verdict one = judge("10.0");
        Verdict both = Judge.stricter(one, one);
        assertThat(both.charges()).hasSize(2).isEqualTo(one.charges());
        Verdict asks = new Verdict(Decision.ASK, "why", "g", Set.of("leads"));
        assertThat(Judge.stricter(one, asks).decision()).isEqualTo(Decision.ASK);
        assertThat(Judge.stricter(one, asks).charges()).isEqualTo(one.charges());
    }

    @Test
    void limitsThatAreNoneAreFindings() {
        for (String wrong : List.of(
                "\n    limits: [{ at-most: -1, per: [day] }]",
                "\n    limits: [{ per: [day] }]",
                "\n    limits: [{ at-most: 1, per: [fortnight] }]",
                "\n    limits: [{ at-most: 1, per: [day] }]\n    over-limit: allow")) {
            assertThat(CheckedHandbook.of(with(wrong)).findings())
                    .as(wrong)
                    .anyMatch(finding -> finding.code() == Code.LIMITS);
        }
        assertThat(CheckedHandbook.of(with("\n    limits: [{ sum: args.reason, at-most: 1.0, per: [day] }]"))
                        .findings())
                .anyMatch(finding -> finding.code() == Code.TYPES);
        assertThat(CheckedHandbook.of(with("\n    limits: [{ sum: args.amuont, at-most: 1.0, per: [day] }]"))
                        .findings())
                .anyMatch(finding -> finding.code() == Code.UNKNOWN_FIELD);
    }
}
