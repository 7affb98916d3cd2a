package servitor.core.mandate;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;

class JudgeTests {
    private final Edition demo = DemoHandbook.edition(DemoHandbook.files());

    private static ProposedCall refund(String amount, Origin referenceFrom) {
        Map<String, TracedValue> inputs = new LinkedHashMap<>();
        inputs.put("reference", TracedValue.of(Json.of("SK-48213"), referenceFrom));
        inputs.put("amount", TracedValue.of(Json.read(amount, JsonNode.class), Origin.LOOKUP));
        inputs.put("reason", TracedValue.of(Json.of("goodwill"), Origin.HANDBOOK));
        JsonNode booking = Json.read("{\"owner\":\"P-1\",\"paid\":" + amount + "}", JsonNode.class);
        return new ProposedCall("purser", "fares.pay-refund", inputs, Map.of("reference", booking));
    }

    private static Map<String, JsonNode> scope(String account, String proof) {
        return Map.of(
                "requester", Json.object().put("account", account).put("proof", proof),
                "case", Json.object().put("kind", "refund"),
                "run", Json.object(),
                "now", Json.of("2026-11-24T09:00:00Z"));
    }

    private Verdict judge(ProposedCall call, String account, String proof) {
        return Judge.judge(demo.handbook(), call, scope(account, proof), Usage.NONE);
    }

    @Test
    void theFirstGrantThatMatchesGivesTheVerdict() {
        assertThat(judge(refund("80", Origin.LOOKUP), "P-1", "signed-in").decision())
                .isEqualTo(Decision.ALLOW);
        assertThat(judge(refund("120.0", Origin.LOOKUP), "P-1", "signed-in").decision())
                .as("an integer and a decimal limit compare")
                .isEqualTo(Decision.ALLOW);
        assertThat(judge(refund("120.01", Origin.LOOKUP), "P-1", "signed-in").decision())
                .isEqualTo(Decision.ASK);
        assertThat(judge(refund("600.01", Origin.LOOKUP), "P-1", "signed-in").decision())
                .isEqualTo(Decision.DENY);
    }

    @Test
    void theReasonNamesTheLimitThatMadeItAsk() {
        assertThat(judge(refund("120.01", Origin.LOOKUP), "P-1", "signed-in").reason())
                .contains("‘larger refunds’ says ask", "allows it alone only when args.amount <= 120.0")
                .doesNotContain("owner ==");
        assertThat(judge(refund("120.01", Origin.LOOKUP), "P-2", "signed-in").reason())
                .contains("only when args.amount <= 120.0 and source(args.reference).owner ==");
    }

    @Test
    void whatNothingGrantsIsDenied() {
        ProposedCall unknown = new ProposedCall("purser", "directory.delete-person", Map.of(), Map.of());
        assertThat(judge(unknown, "P-1", "signed-in").decision()).isEqualTo(Decision.DENY);
        ProposedCall stranger = new ProposedCall("nobody", "fares.find-booking", Map.of(), Map.of());
        assertThat(judge(stranger, "P-1", "signed-in").decision()).isEqualTo(Decision.DENY);
    }

    @Test
    void inputsThatDontFitTheToolAreDenied() {
        assertThat(judge(refund("-5", Origin.LOOKUP), "P-1", "signed-in").reason())
                .contains("inputs don't fit");
        assertThat(judge(refund("\"80\"", Origin.LOOKUP), "P-1", "signed-in").decision())
                .isEqualTo(Decision.DENY);
    }

    @ParameterizedTest
    @ValueSource(strings = {"claimed", "", "something-new"})
    void whoIsNotProvenIsNeverAllowedAlone(String proof) {
        assertThat(judge(refund("80", Origin.LOOKUP), "P-1", proof).decision()).isEqualTo(Decision.ASK);
    }

    @Test
    void anIdentifyingInputThatTheModelMadeUpIsAskedAbout() {
        Verdict verdict = judge(refund("80", Origin.MODEL), "P-1", "signed-in");
        assertThat(verdict.decision()).isEqualTo(Decision.ASK);
        assertThat(verdict.reason()).contains("made up by the model");
    }

    @Test
    void aConditionThatFailsNeverLetsACallThrough() {
        ProposedCall withoutSource = new ProposedCall(
                "purser", "fares.pay-refund", refund("80", Origin.LOOKUP).inputs(), Map.of());
        Verdict verdict = judge(withoutSource, "P-1", "signed-in");
        assertThat(verdict.decision()).isEqualTo(Decision.DENY);
        assertThat(verdict.reason()).contains("small refunds").contains("condition failed");
    }

    private static Map<String, String> askedAfter(String condition) {
        Map<String, String> files = DemoHandbook.files();
        files.compute("mandates/purser.yaml", (name, text) -> text.replace("grants:\n", """
                grants:
                  - { name: enough, tools: [fares.pay-refund], when: '%s', verdict: ask, of: duty-managers }
                """.formatted(condition)));
        return files;
    }

    @Test
    void aConditionMaySayHowMuchOfALimitIsUsed() {
        Edition edition = DemoHandbook.edition(askedAfter("used(\"small refunds\") >= 1.0"));
        Map<String, JsonNode> scope = scope("P-1", "signed-in");
        ProposedCall call = refund("80", Origin.LOOKUP);
        assertThat(Judge.judge(edition.handbook(), call, scope, Usage.NONE).grant())
                .isEqualTo("small refunds");
        Usage once = counter -> counter.contains("purser / small refunds / calls") ? BigDecimal.ONE : BigDecimal.ZERO;
        assertThat(Judge.judge(edition.handbook(), call, scope, once).grant()).isEqualTo("enough");
        assertThat(CheckedHandbook.of(askedAfter("used(\"tiny refunds\") >= 1.0"))
                        .findings())
                .anyMatch(finding -> finding.code() == Code.UNKNOWN_NAME
                        && finding.toString().contains("tiny refunds"));
        assertThat(CheckedHandbook.of(askedAfter("used(\"look things up\") >= 1.0"))
                        .findings())
                .as("a grant without a limit")
                .anyMatch(finding -> finding.code() == Code.UNKNOWN_NAME);
        assertThat(CheckedHandbook.of(askedAfter("used(args.reason) >= 1.0")).findings())
                .anyMatch(finding -> finding.toString().contains("takes the name of a grant"));
    }

    @Test
    void aNeverThatFailsCountsAsMatched() {
        Edition edition = DemoHandbook.unchecked(
                DemoHandbook.with(DemoHandbook.MANDATE, "when: args.amount > 600.0", "when: args.nothing > 600.0"));
        Verdict verdict =
                Judge.judge(edition.handbook(), refund("80", Origin.LOOKUP), scope("P-1", "signed-in"), Usage.NONE);
        assertThat(verdict.decision()).isEqualTo(Decision.DENY);
        assertThat(verdict.reason()).contains("says never").contains("condition failed");
    }

    @Test
    void aSupervisedAgentIsAskedAboutWhateverChangesSomething() {
        Edition edition =
                DemoHandbook.edition(DemoHandbook.with("agents/purser.yaml", "works: alone", "works: supervised"));
        assertThat(Judge.judge(edition.handbook(), refund("80", Origin.LOOKUP), scope("P-1", "signed-in"), Usage.NONE)
                        .decision())
                .isEqualTo(Decision.ASK);
        ProposedCall lookup = new ProposedCall(
                "purser",
                "fares.find-booking",
                Map.of("reference", TracedValue.of(Json.of("SK-48213"), Origin.REQUESTER)),
                Map.of());
        assertThat(Judge.judge(edition.handbook(), lookup, scope("P-1", "signed-in"), Usage.NONE)
                        .decision())
                .isEqualTo(Decision.ALLOW);
    }

    @Test
    void severalMandatesBindTogetherAndTheStricterCounts() {
        Map<String, String> files = DemoHandbook.files();
        files.put(
                "mandates/second.yaml",
                "title: Night rules\nfor: [purser]\ngrants:\n  - { name: reads, tools: [fares.find-*], verdict: allow }\n");
        Edition edition = DemoHandbook.unchecked(files);
        assertThat(Judge.judge(edition.handbook(), refund("80", Origin.LOOKUP), scope("P-1", "signed-in"), Usage.NONE)
                        .decision())
                .isEqualTo(Decision.DENY);
    }

    @Test
    void anAskThatNobodyCouldAnswerIsADenial() {
        assertThat(new Verdict(Decision.ASK, "why", "grant", Set.of()).decision())
                .isEqualTo(Decision.DENY);
    }

    @Test
    void theStricterOfTwoAsksAsksEverybody() {
        Verdict one = new Verdict(Decision.ASK, "a", "g", Set.of("x"));
        Verdict other = new Verdict(Decision.ASK, "b", "h", Set.of("y"));
        assertThat(Judge.stricter(one, other).of()).containsExactlyInAnyOrder("x", "y");
        assertThat(Judge.stricter(one, Verdict.deny("no", "")).decision()).isEqualTo(Decision.DENY);
    }
}
