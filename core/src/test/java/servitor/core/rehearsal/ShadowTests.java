package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.WayOfWorking;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;
import servitor.core.handbook.read.WorksText;
import servitor.core.trail.TrailWord;

/** In shadow calls are proposed and judged, none leaves, and what people then did is held against them. */
class ShadowTests {
    private static final Handbook SHADOWED = shadowed();

    private static Handbook shadowed() {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.replaceAll(
                (path, text) -> path.startsWith("agents/") ? WorksText.with(text, null, WayOfWorking.SHADOW) : text);
        return CheckedHandbook.of(files).handbook();
    }

    static Stream<String> names() {
        return SHADOWED.rehearsals().keySet().stream().sorted();
    }

    private static Played play(Handbook handbook, String name) {
        return Rehearsing.play(new Edition(1, handbook), handbook.rehearsals().get(name));
    }

    private static List<String> sent(Played played) {
        return played.trail().stream()
                .filter(entry -> entry.entry().what().equals(TrailWord.CALL_SENT.word()))
                .map(entry -> entry.data().path("tool").asString())
                .toList();
    }

    @ParameterizedTest
    @MethodSource("names")
    void nothingThatActsLeaves(String name) {
        assertThat(sent(play(SHADOWED, name)))
                .noneMatch(tool -> SHADOWED.tool(tool).effect().acts());
    }

    @Test
    void theRunGoesOnWithWhatPeopleDid() {
        Played played = play(SHADOWED, "refund-small");
        assertThat(played.differences()).isEmpty();
        assertThat(played.calls().stream().map(call -> call.tool())).contains("fares.pay-refund", "case.reply");
        Agreement agreement = new Agreement(SHADOWED);
        agreement.add(played.trail(), true);
        Agreement.Sheet sheet = agreement.sheets().stream()
                .filter(one -> one.tool().equals("fares.pay-refund"))
                .findFirst()
                .orElseThrow();
        assertThat(sheet.count(Agreement.Sort.SAME)).isEqualTo(1);
        assertThat(sheet.money(Agreement.Sort.SAME)).isGreaterThan(BigDecimal.ONE);
        assertThat(sheet.calls().get(0).says()).contains("SK-");
    }

    @Test
    void aToolInShadowIsHeldWhoeverCallsIt() {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.computeIfPresent(
                "tools/fares.yaml", (path, text) -> WorksText.with(text, "pay-refund", WayOfWorking.SHADOW));
        Handbook handbook = CheckedHandbook.of(files).handbook();
        assertThat(handbook.tool("fares.pay-refund").works()).isEqualTo(WayOfWorking.SHADOW);
        Played played = play(handbook, "refund-small");
        assertThat(sent(played)).contains("fares.find-booking", "case.reply").doesNotContain("fares.pay-refund");
    }

    @Test
    void mostRehearsalsHoldInShadowToo() {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.computeIfPresent(
                "tools/fares.yaml", (path, text) -> WorksText.with(text, "pay-refund", WayOfWorking.SHADOW));
        assertThat(Rehearsals.findings(Rehearsals.play(CheckedHandbook.of(files).handbook())))
                .isEmpty();
    }

    @Test
    void aLookBackFindsWhereItWouldHaveHeldSomething() {
        Played before = Rehearsing.play(
                new Edition(1, CheckedHandbook.of(DemoHandbook.files()).handbook()),
                SHADOWED.rehearsals().get("refund-small"));
        LookBack.Past past = new LookBack.Past(
                before.trail().get(0).entry().caseId(),
                before.rehearsal().about(),
                CheckedHandbook.of(DemoHandbook.files()).handbook(),
                before.trail(),
                before.state(),
                name -> null,
                before.texts()::get);
        assertThat(new LookBack(new Edition(2, SHADOWED)).decide(past))
                .isInstanceOfSatisfying(LookBack.Other.class, other -> {
                    assertThat(other.after()).contains("in shadow");
                    assertThat(other.sort()).isEqualTo(LookBack.Sort.PEOPLE);
                });
    }

    @Test
    void whatOnlyReadsHasNothingToHoldBack() {
        Map<String, String> files = new TreeMap<>(DemoHandbook.files());
        files.computeIfPresent(
                "tools/fares.yaml", (path, text) -> WorksText.with(text, "find-booking", WayOfWorking.SHADOW));
        List<Finding> findings = new ArrayList<>(CheckedHandbook.of(files).findings());
        assertThat(findings).anySatisfy(finding -> {
            assertThat(finding.code()).isEqualTo(Code.WORKS);
            assertThat(finding.what()).contains("only reads");
        });
    }

    @Test
    void aChangedWayOfWorkingLeavesEveryOtherLineAlone() {
        String before = DemoHandbook.files().get("agents/purser.yaml");
        String after = WorksText.with(before, null, WayOfWorking.SHADOW);
        assertThat(after.replace("works: shadow", "works: alone")).isEqualTo(before);
        assertThatThrownBy(() -> WorksText.with("tools: { pay: { effect: once } }", "pay", WayOfWorking.SHADOW))
                .hasMessageContaining("by hand");
    }
}
