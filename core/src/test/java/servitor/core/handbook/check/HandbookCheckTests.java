package servitor.core.handbook.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;

class HandbookCheckTests {

    @Test
    void theDemoHandbookIsSoundAndAsksOnPurpose() {
        assertThat(CheckedHandbook.of(DemoHandbook.files()).findings())
                .allMatch(finding -> finding.code() == Code.ALWAYS_ASKED);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '"',
            value = {
                "runbooks/cancelled-sailing-refund.md | go: pay | go: pey | unknown-step | Did you mean ‘pay’?",
                "runbooks/cancelled-sailing-refund.md | fares.find-booking | fares.find-boking | unknown-tool | Did "
                        + "you mean ‘fares.find-booking’?",
                "runbooks/cancelled-sailing-refund.md | agent: purser | agent: pursar | unknown-agent | Did you mean ‘purser’?",
                "runbooks/cancelled-sailing-refund.md | kind: refund | kind: refnd | unknown-kind | Did you mean ‘refund’?",
                "runbooks/cancelled-sailing-refund.md | desk: passengers | desk: pasengers | unknown-desk | Did you mean ‘passengers’?",
                "runbooks/cancelled-sailing-refund.md | of: passengers | of: passenger | unknown-group | Did you mean ‘passengers’?",
                "runbooks/cancelled-sailing-refund.md | ${case.fields.booking} | ${case.fields.boking} | "
                        + "unknown-field | Did you mean ‘booking’?",
                "runbooks/cancelled-sailing-refund.md | ${booking.reference} | ${bookings.reference} | unknown-name "
                        + "| Did you mean ‘booking’?",
                "runbooks/cancelled-sailing-refund.md | save: refund | sav: refund | unknown-key | Did you mean ‘save’?",
                "runbooks/cancelled-sailing-refund.md | finish: resolved | finish: resolvd | state | Did you mean ‘resolved’?",
                "runbooks/cancelled-sailing-refund.md | within: PT30M | within: 30 minutes | duration | ISO 8601",
                "runbooks/cancelled-sailing-refund.md | reason: cancelled-sailing } | } | missing-input | Add it under ‘with’",
                "runbooks/cancelled-sailing-refund.md | declined: write a refusal | refusd: write a refusal | "
                        + "unknown-problem | Did you mean ‘refused’?",
                "mandates/purser.yaml | verdict: ask | verdict: aks | verdict | allow, ask or deny",
                "mandates/purser.yaml | of: duty-managers | of: duty-manager | unknown-group | Did you mean ‘duty-managers’?",
                "mandates/purser.yaml | for: [purser] | for: [persur] | unknown-agent | Did you mean ‘purser’?",
                "mandates/purser.yaml | args.amount > 600.0 | amount > 600.0 | unknown-name | Known here",
                "agents/purser.yaml | model: writer | model: writr | unknown-model | Did you mean ‘writer’?",
                "tools/fares.yaml | effect: write | effect: wirte | effect | read, write or once",
                "tools/fares.yaml | operation: payRefund | operation: payRefunds | unknown-operation | Did you mean ‘payRefund’?",
            })
    void aWrongNameIsFoundWithWhatWasMeant(String file, String from, String to, String code, String remedy) {
        List<Finding> findings =
                CheckedHandbook.of(DemoHandbook.with(file, from, to)).findings();
        assertThat(findings).anySatisfy(finding -> {
            assertThat(finding.code().word()).isEqualTo(code);
            assertThat(finding.remedy()).contains(remedy);
            assertThat(finding.place().file()).isEqualTo(file);
            assertThat(finding.severity()).isEqualTo(Finding.Severity.ERROR);
        });
    }

    @Test
    void aFindingSaysLineAndColumn() {
        Map<String, String> files = DemoHandbook.with(DemoHandbook.PAGE, "save: refund", "sav: refund");
        Finding finding = finding(files, "unknown-key");
        String line = files.get(DemoHandbook.PAGE)
                .lines()
                .toList()
                .get(finding.place().line() - 1);
        assertThat(line.substring(finding.place().column() - 1)).startsWith("sav: refund");
    }

    @Test
    void anExpressionIsFoundAtItsOwnColumn() {
        Map<String, String> files = DemoHandbook.with(DemoHandbook.PAGE, "booking.paid > 0.0'", "booking.paid >> 0.0'");
        Finding finding = finding(files, "expression");
        String line = files.get(DemoHandbook.PAGE)
                .lines()
                .toList()
                .get(finding.place().line() - 1);
        assertThat(line).contains(">> 0.0");
    }

    @Test
    void aStepThatNothingLeadsToIsFound() {
        assertThat(finding(
                        DemoHandbook.with(DemoHandbook.PAGE, "otherwise: write a refusal", "otherwise: stop"),
                        "unreachable-none"))
                .isNull();
        Map<String, String> files = DemoHandbook.files();
        files.compute(DemoHandbook.PAGE, (k, text) -> text.replace("write a refusal", "hand over"));
        assertThat(finding(files, "unreachable").what()).contains("Write a refusal");
    }

    @Test
    void aPageThatEndsWithoutFinishingIsFound() {
        Map<String, String> files = DemoHandbook.files();
        files.compute(DemoHandbook.PAGE, (k, text) -> text.substring(0, text.indexOf("## Done")));
        assertThat(finding(files, "missing-finish").what()).contains("Send");
    }

    @Test
    void aDecideWithoutOtherwiseIsFound() {
        assertThat(finding(
                        DemoHandbook.with(DemoHandbook.PAGE, "  - otherwise: write a refusal\n", ""),
                        "missing-otherwise"))
                .isNotNull();
    }

    @Test
    void aDraftWithoutProseIsFound() {
        Map<String, String> files = DemoHandbook.files();
        files.compute(
                DemoHandbook.PAGE, (k, text) -> text.replaceAll("(?s)(## Write the answer\n).*?(```step)", "$1$2"));
        assertThat(finding(files, "missing-prose").what()).contains("Write the answer");
    }

    @Test
    void textThatNobodyReviewedCantBeToldToARequester() {
        Map<String, String> files = DemoHandbook.with(DemoHandbook.PAGE, "go: check the wording", "go: send");
        assertThat(finding(files, "unreviewed").what()).contains("answer");
        files = DemoHandbook.with(
                DemoHandbook.PAGE,
                "declined: hand over, expired: hand over, exhausted: hand over }\n",
                "declined: hand over, expired: send, exhausted: hand over }\n");
        assertThat(finding(files, "unreviewed"))
                .as("the expired way doesn't clear the mark")
                .isNotNull();
        files.compute(
                DemoHandbook.PAGE,
                (k, text) -> text.replace(
                        "text: \"${answer}\"", "text: \"${answer}\"\nunreviewed: a trial among ourselves"));
        assertThat(finding(files, "unreviewed")).isNull();
    }

    @Test
    void anUnquotedSignIsExplained() {
        Map<String, String> files =
                DemoHandbook.with(DemoHandbook.PAGE, "- when: 'booking.sailing", "- when: !booking.sailing");
        assertThat(finding(files, "quote").remedy()).contains("Quote this condition");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "\u0000\u0001\u0002",
                "---",
                "---\n---",
                "---\ntitle: [\n---\n## x\n```step\ncall\n```",
                "---\na: &a [*a]\n---\n",
                "## \n```step\n```\n",
                "---\ntitle: x\ntitle: y\n---\n## ‮rtl 🚢\n```step\nfinish: resolved\n```\n",
                "\uFEFF---\r\ntitle: x\r\n---\r\n",
                "---\n\tx: 1\n---\n",
                "## a\n```step\ncall: x\ndraft: text\n```",
                "## hand over\n```step\nfinish: resolved\n```",
            })
    void noPageMakesTheCheckerThrow(String page) {
        Map<String, String> files = DemoHandbook.files();
        files.put(DemoHandbook.PAGE, page);
        assertThat(CheckedHandbook.of(files).sound()).isFalse();
    }

    @Test
    void deepAndLargeFilesAreFindings() {
        Map<String, String> files = DemoHandbook.files();
        files.put("kinds/deep.yaml", "a: " + "[".repeat(5_000));
        files.put("kinds/wide.yaml", "title: " + "x".repeat(1_000_001));
        files.put("runbooks/deep.md", ">".repeat(20_000) + " x");
        assertThat(CheckedHandbook.of(files).findings())
                .anyMatch(f -> f.place().file().equals("kinds/deep.yaml"))
                .anyMatch(f -> f.code().word().equals("too-long"))
                .anyMatch(f -> f.place().file().equals("runbooks/deep.md"));
    }

    private static Finding finding(Map<String, String> files, String code) {
        return CheckedHandbook.of(files).findings().stream()
                .filter(f -> f.code().word().equals(code))
                .findFirst()
                .orElse(null);
    }
}
