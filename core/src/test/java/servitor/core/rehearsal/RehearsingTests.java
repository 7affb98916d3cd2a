package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;

/** Rehearsals play what runs would do, tell plainly what isn't as it must be, and reach nothing. */
class RehearsingTests {
    private static final Handbook DEMO =
            CheckedHandbook.of(DemoHandbook.files()).handbook();
    static final String PAY_ALONE = """
            title: Paid alone
            case: { kind: refund, fields: { booking: SK-48213 } }
            answers:
              - tool: fares.find-booking
                gives:
                  reference: SK-48213
                  owner: P-1042
                  passenger: Ines
                  paid: 84.5
                  currency: EUR
                  sailing: { number: S-1, ship: Heron, from: A, to: B, departs: "2026-05-20T08:15", state: cancelled }
              - { tool: fares.pay-refund, gives: { refund: RF-1, reference: SK-48213, amount: 84.5, currency: EUR } }
              - { model: Write the answer, gives: { text: It is paid. } }
              - { people: Check the wording, by: sunniva }
            must:
              end: resolved
            """;

    static Stream<String> names() {
        return DEMO.rehearsals().keySet().stream().sorted();
    }

    @ParameterizedTest
    @MethodSource("names")
    void theDemoIsAsRehearsed(String name) {
        assertThat(Rehearsing.play(new Edition(1, DEMO), DEMO.rehearsals().get(name))
                        .differences())
                .isEmpty();
    }

    @Test
    void thereAreThirtyAndEveryPageIsAmongThem() {
        List<Played> plays = Rehearsals.play(DEMO);
        assertThat(plays).hasSizeGreaterThanOrEqualTo(30);
        Coverage coverage = Coverage.of(DEMO, plays);
        assertThat(coverage.steps()).hasSizeLessThan(5);
        for (String page : DEMO.runbooks().keySet()) {
            long untouched = coverage.steps().stream()
                    .filter(step -> step.page().equals(page))
                    .count();
            assertThat(untouched)
                    .as(page)
                    .isLessThan(DEMO.runbooks().get(page).steps().size());
        }
    }

    @Test
    void aLoweredLimitShowsInExactlyTheRehearsalsWhereItMatters() {
        Map<String, String> files = DemoHandbook.files();
        files.computeIfPresent("mandates/purser.yaml", (path, text) -> text.replace("<= 120.0", "<= 60.0"));
        List<Finding> findings =
                Rehearsals.findings(Rehearsals.play(CheckedHandbook.of(files).handbook()));
        assertThat(findings.stream().map(finding -> finding.place().file()))
                .containsExactly("rehearsals/refund-small.yaml", "rehearsals/refund-wording-sent-back.yaml");
        assertThat(findings.get(0).code()).isEqualTo(Code.NOT_AS_REHEARSED);
        assertThat(findings.get(0).what())
                .contains("the case ends ‘with-people’, not ‘resolved’")
                .contains("the mandate says ‘ask’ of ‘fares.pay-refund’, not ‘allow’")
                .contains("; and ");
    }

    private static Played play(String yaml) {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.put("rehearsals/one.yaml", yaml);
        CheckedHandbook checked = CheckedHandbook.of(files);
        assertThat(checked.findings())
                .filteredOn(finding -> finding.place().file().equals("rehearsals/one.yaml"))
                .isEmpty();
        return Rehearsing.play(
                new Edition(1, checked.handbook()),
                checked.handbook().rehearsals().get("one"));
    }

    @Test
    void whatMustHoldIsLookedAtOneByOne() {
        assertThat(play(PAY_ALONE).passed()).isTrue();
        assertThat(play(PAY_ALONE + """
              steps: [Pay, Find the booking]
              calls:
                - { tool: fares.pay-refund, with: { amount: 85 } }
                - { tool: fares.find-sailing }
              never: [fares.find-booking]
              verdicts: { fares.pay-refund: deny, fares.find-lost: allow }
              told: [It is lost]
              asked: [duty-managers]
              at-most: { calls: 2, tokens: 50, approvals: 0 }
            """).differences())
                .hasSize(11)
                .anyMatch(line -> line.startsWith("it doesn't come to ‘Find the booking’; it goes find the booking → "))
                .anyMatch(line ->
                        line.contains("‘fares.pay-refund’ isn't called with {\"amount\":85}; it is called with"))
                .contains("‘fares.find-sailing’ isn't called", "‘fares.find-lost’ is never judged")
                .anyMatch(line -> line.startsWith("‘fares.find-booking’ is called, with "))
                .contains("the mandate says ‘allow’ of ‘fares.pay-refund’, not ‘deny’")
                .contains("nobody is told ‘It is lost’; what is told is: It is paid.")
                .contains("‘duty-managers’ isn't asked; asked are [passengers]")
                .contains("it takes 3 calls, more than 2", "it takes 100 tokens, more than 50");
        assertThat(play(PAY_ALONE + "  at-most: { calls: 3, tokens: 100, approvals: 1 }\n  told: [is paid]\n")
                        .passed())
                .isTrue();
    }

    @Test
    void amountsAreTheSameHoweverTheyAreWritten() {
        assertThat(play(PAY_ALONE + "  calls: [{ tool: fares.pay-refund, with: { amount: 84.50 } }]\n")
                        .passed())
                .isTrue();
    }

    @Test
    void whatTheScriptDoesntAnswerEndsThePlayAndIsNamed() {
        assertThat(play(PAY_ALONE.replaceAll("(?m)^  - \\{ tool: fares.pay-refund.*\n", ""))
                        .differences())
                .singleElement()
                .asString()
                .startsWith("at ‘Pay’ it calls ‘fares.pay-refund’ with {")
                .endsWith(", and the rehearsal has no answer to that");
        assertThat(play(PAY_ALONE.replaceAll("(?m)^  - \\{ model.*\n", "")).differences())
                .containsExactly("at ‘Write the answer’ it asks a model, and the rehearsal has no answer to that");
        assertThat(play(PAY_ALONE.replace("{ text: It is paid. }", "{ words: no }"))
                        .differences())
                .singleElement()
                .asString()
                .contains("isn't one that a model may give there");
    }

    @Test
    void anAnswerThatNobodyNeedsIsNamed() {
        assertThat(play(PAY_ALONE.replace("must:", "  - { comes: reply, text: Thanks }\nmust:"))
                        .differences())
                .containsExactly("never needed: the reply");
    }

    @Test
    void timePassesWhereNobodyAnswers() {
        Played played = play(PAY_ALONE.replaceAll("(?m)^  - \\{ people.*\n", "").replace("resolved", "with-people"));
        assertThat(played.differences()).isEmpty();
        assertThat(play(PAY_ALONE.replace("by: sunniva }", "by: sunniva, after: PT1H }"))
                        .differences())
                .as("later than the half hour they have")
                .anyMatch(line -> line.startsWith("the case ends ‘with-people’, not ‘resolved’"));
    }

    @Test
    void aCaseComesInAnyWayThereIs() {
        assertThat(Channel.IN)
                .allSatisfy(channel -> assertThat(
                                play(PAY_ALONE.replace("kind: refund,", "kind: refund, channel: " + channel + ","))
                                        .differences())
                        .isEmpty());
    }

    @Test
    void silenceCanBeSaid() {
        String silent = PAY_ALONE.replace("by: sunniva }", "say: nothing }").replace("resolved", "with-people");
        assertThat(play(silent).differences()).isEmpty();
        assertThat(play(silent.replace("Check the wording, say", "Pay, say")).differences())
                .containsExactly("never needed: people at ‘Pay’");
    }

    @Test
    void whatPeopleFindOfACallInDoubtIsSaid() {
        String doubted = DemoHandbook.files()
                .get("rehearsals/joiner-laptop-in-doubt.yaml")
                .replaceAll("(?s)  at-most: .*", "")
                .replace("end: with-people", "end: resolved");
        assertThat(play(doubted).differences()).containsExactly("the case ends ‘with-people’, not ‘resolved’");
        String gave = "{ delivery: D-1, item: K-60, account: E-310 }";
        String happened = "  - { people: Send the laptop, say: happened, by: teun, gives: " + gave + " }\nmust:";
        assertThat(play(doubted.replace("must:", happened)).differences()).isEmpty();
        Played again = play(doubted.replace("must:", """
                  - { people: Send the laptop, say: not-happened, by: teun, after: PT1H }
                  - { tool: kit.supply-kit, gives: %s }
                must:""".formatted(gave)));
        assertThat(again.differences()).isEmpty();
        assertThat(again.calls().stream().filter(call -> call.tool().equals("kit.supply-kit")))
                .as("sent again, as nothing came of the first")
                .hasSize(2);
        assertThat(play(doubted.replace("must:", happened.replace(gave, "{ paid: true }")))
                        .differences())
                .singleElement()
                .asString()
                .startsWith("what is said by people at ‘Send the laptop’ doesn't count: ");
    }

    @Test
    void whoAskedCantAnswer() {
        assertThat(play(PAY_ALONE.replace("by: sunniva", "by: requester")).differences())
                .singleElement()
                .asString()
                .startsWith("what is said by people at ‘Check the wording’ doesn't count: ");
    }

    @Test
    void aFailureAndADoubtTakeTheirWays() {
        String failing = PAY_ALONE.replaceAll(
                "(?m)^  - \\{ tool: fares.pay-refund.*\n", "  - { tool: fares.pay-refund, fails: invalid }\n");
        assertThat(play(failing.replaceAll("(?m)^  - \\{ (model|people).*\n", "")
                                .replace("resolved", "with-people"))
                        .differences())
                .isEmpty();
    }

    @Test
    void theExampleOfTheDocsIsAsRehearsed() throws IOException {
        String page = Files.readString(Path.of("../docs/rehearsals.md"));
        int start = page.indexOf("```yaml\n") + "```yaml\n".length();
        assertThat(play(page.substring(start, page.indexOf("```", start))).differences())
                .isEmpty();
    }

    @Test
    void theSamePlayIsTheSameTrail() {
        assertThat(play(PAY_ALONE).trail()).isEqualTo(play(PAY_ALONE).trail());
    }
}
