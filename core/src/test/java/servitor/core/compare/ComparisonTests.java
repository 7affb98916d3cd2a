package servitor.core.compare;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.DemoHandbook;
import servitor.core.compare.Comparison.Meaning;

class ComparisonTests {

    private static List<String> meanings(Map<String, String> after) {
        return Comparison.of(DemoHandbook.files(), after).meanings().stream()
                .map(Meaning::sentence)
                .toList();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "mandates/purser.yaml | 120.0 | 200.0 | The step ‘Pay’ now asks Duty managers above 200, was 120 "
                        + "(amount, grant ‘small refunds’).",
                "mandates/purser.yaml | of: duty-managers | of: auditors | The grant ‘larger refunds’ is now: ask fares.pay-refund",
                "mandates/purser.yaml | name: larger refunds | name: big refunds | The grant ‘larger refunds’ is gone",
                "agents/purser.yaml | works: alone | works: supervised | How ‘Purser’ works is now ‘supervised’, was ‘alone’.",
                "agents/purser.yaml | - Say which sailing is meant, with its date and harbour names. | - Say less. | "
                        + "There is a new rule of ‘Purser’: ‘Say less.’.",
                "kinds/refund.yaml | required: true | required: false | no longer required",
                "tools/fares.yaml | effect: write | effect: once | The effect of ‘fares.pay-refund’ is now ‘once’, was ‘write’.",
                "runbooks/cancelled-sailing-refund.md | within: PT30M | within: P1D | The step ‘Check the wording’ "
                        + "now: Asks any one of Passenger desk",
                "runbooks/cancelled-sailing-refund.md | No promises beyond that. | No promises. | The instruction of "
                        + "‘Write the answer’ is now ‘",
                "runbooks/cancelled-sailing-refund.md | calls: 20 | calls: 5 | The allowance of calls of ‘Refund a "
                        + "cancelled sailing’ is now ‘5’, was ‘20’.",
                "runbooks/cancelled-sailing-refund.md | reason: cancelled-sailing | reason: goodwill | In the step "
                        + "‘Pay’, ‘inputs’ is now ‘",
                "tools/fares.yaml | check: find-sailing | # | What a test of the connection ‘fares’ calls is now ‘nothing’, was "
                        + "‘fares.find-sailing’.",
                "handbook.yaml | name: stand-in-writer | name: stand-in-writer, answer-as: prompt | The model ‘writer’ is asked "
                        + "differently.",
                "kinds/pay-question.yaml | personal: true | personal: false | Whether cases of ‘A question about pay’ are personal is now ‘no’, was ‘yes’.",
                "kinds/lost-thing.yaml | [everybody, public] | [everybody] | Who is offered ‘Something lost’ beside its desk is now ‘everybody’, was ‘everybody, public’.",
                "kinds/lost-thing.yaml | at-most: 3 | at-most: 5 | Files that can be added to ‘Something lost’ is now ‘at most 5, each up to 3 MB",
                "desks.yaml | from: it@skerryline.example | from: helpers@skerryline.example | Whom mails of the desk ‘it’ are from is now "
                        + "‘helpers@skerryline.example’, was ‘it@skerryline.example’.",
                "desks.yaml | connection: harbour-room | connection: other-room | Where the room ‘harbour’ is is now ‘other-room’, was ‘harbour-room’.",
                "intake/lost-by-mail.yaml | acknowledge: \"We have it | acknowledge: \"We got it | What ‘Lost things told by mail’ acknowledges mails with is now",
                "handbook.yaml | currency: EUR | currency: NOK | The currency is now ‘NOK’, was ‘EUR’.",
            })
    void aChangeIsSaidByWhatItMeans(String file, String from, String to, String sentence) {
        assertThat(meanings(DemoHandbook.with(file, from, to))).anyMatch(said -> said.contains(sentence));
    }

    @Test
    void aBoundThatIsNotTheOnlyChangeIsSaidInFull() {
        Map<String, String> files = DemoHandbook.with("mandates/purser.yaml", "120.0", "200.0");
        files.computeIfPresent("mandates/purser.yaml", (path, text) -> text.replace("== requester.account", "!= \"\""));
        assertThat(meanings(files)).anyMatch(said -> said.startsWith("The grant ‘small refunds’ is now: allow"));
    }

    @Test
    void whatChangesFarDownInALongInstructionIsSaidToo() {
        String more = "Say it plainly. ".repeat(40);
        Map<String, String> before = DemoHandbook.with(
                "runbooks/cancelled-sailing-refund.md", "No promises beyond that.", more + "No promises.");
        Map<String, String> after = DemoHandbook.with(
                "runbooks/cancelled-sailing-refund.md", "No promises beyond that.", more + "No promise at all.");
        assertThat(Comparison.of(before, after).meanings())
                .anyMatch(said -> said.sentence().contains("is written differently further down"));
    }

    @Test
    void newAndRemovedPagesAndStepsAreNamed() {
        Map<String, String> files = DemoHandbook.files();
        files.remove("runbooks/lost-property.md");
        files.put(
                "runbooks/new.md",
                "---\ntitle: New\ndesk: passengers\nagent: purser\n---\n## End\n```step\nfinish: resolved\n```\n");
        assertThat(meanings(files)).contains("The page ‘Look for something lost’ is gone.", "The page ‘New’ is new.");
        Comparison comparison = Comparison.of(DemoHandbook.files(), files);
        assertThat(comparison.files())
                .extracting(Comparison.FileDifference::change)
                .containsExactlyInAnyOrder("removed", "added");
    }

    @Test
    void theTextDifferenceStandsBesideIt() {
        Comparison comparison =
                Comparison.of(DemoHandbook.files(), DemoHandbook.with("mandates/purser.yaml", "120.0", "200.0"));
        assertThat(comparison.files()).hasSize(1);
        assertThat(comparison.files().get(0).text())
                .contains("-")
                .contains("120.0")
                .contains("200.0");
        assertThat(Comparison.of(DemoHandbook.files(), DemoHandbook.files()).files())
                .isEmpty();
    }
}
