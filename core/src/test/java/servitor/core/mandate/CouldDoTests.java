package servitor.core.mandate;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;
import servitor.core.mandate.CouldDo.Cell;
import servitor.core.mandate.CouldDo.Reach;

/** The table says what the judge would say. */
class CouldDoTests {
    private static Cell cell(String mandate, String tool, Usage usage) {
        Map<String, String> files = DemoHandbook.files();
        if (!mandate.isEmpty()) {
            files.put("mandates/purser.yaml", mandate);
        }
        Handbook handbook = CheckedHandbook.of(files).handbook();
        return CouldDo.table(handbook, Json.of("2026-11-26T10:00:00Z"), usage).stream()
                .filter(one -> one.agent().equals("purser") && one.tool().equals(tool))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void theDemosRefundsInWords() {
        Cell cell = cell("", "fares.pay-refund", Usage.NONE);

        assertThat(cell.reach()).isEqualTo(Reach.ALONE);
        assertThat(CouldDo.words(cell))
                .isEqualTo("never when args.amount > 600.0; alone when args.amount <= 120.0 "
                        + "&& source(args.reference).owner == requester.account && args.amount == source(args.reference).paid, "
                        + "at most 1 call per case, beyond that asks duty-managers; "
                        + "asks duty-managers when args.amount <= 600.0 && args.amount == source(args.reference).paid; "
                        + "otherwise never");
    }

    @Test
    void whatNothingGrantsIsNever() {
        Cell cell = cell("""
                title: Little
                for: [purser]
                grants:
                  - { name: look, tools: [fares.find-*], verdict: allow }
                """, "fares.pay-refund", Usage.NONE);

        assertThat(cell.reach()).isEqualTo(Reach.NEVER);
        assertThat(CouldDo.words(cell)).isEqualTo("never: nothing grants it");
    }

    @Test
    void limitsShowWhatIsUsed() {
        Cell cell = cell(
                """
                title: Little
                for: [purser]
                ask: duty-managers
                grants:
                  - name: small
                    tools: [fares.pay-refund]
                    verdict: allow
                    limits: [{ sum: args.amount, at-most: 2000.00, per: [day] }, { at-most: 1, per: [case] }]
                    over-limit: ask
                """,
                "fares.pay-refund",
                counter -> counter.contains("2026-11-26") ? new BigDecimal("340.50") : BigDecimal.ZERO);

        assertThat(CouldDo.words(cell))
                .isEqualTo(
                        "alone, a sum of args.amount of at most 2000.00 per day (used: 340.5), at most 1 call per case, "
                                + "beyond that asks duty-managers");
        assertThat(cell.lines().get(0).limits().get(1).used()).isNull();
    }

    @Test
    void aNeverWithoutConditionEndsIt() {
        Cell cell = cell("""
                title: Little
                for: [purser]
                grants:
                  - { name: all, tools: ["*"], verdict: allow }
                never:
                  - { name: no money, tools: [fares.pay-*] }
                """, "fares.pay-refund", Usage.NONE);

        assertThat(cell.reach()).isEqualTo(Reach.NEVER);
        assertThat(CouldDo.words(cell)).isEqualTo("never");
    }

    @Test
    void aSupervisedAgentAsks() {
        Map<String, String> files = DemoHandbook.files();
        files.put("agents/purser.yaml", files.get("agents/purser.yaml").replace("works: alone", "works: supervised"));
        List<Cell> table =
                CouldDo.table(CheckedHandbook.of(files).handbook(), Json.of("2026-11-26T10:00:00Z"), Usage.NONE);

        assertThat(table)
                .filteredOn(cell -> cell.agent().equals("purser") && cell.tool().equals("fares.pay-refund"))
                .singleElement()
                .satisfies(cell -> assertThat(cell.reach()).isEqualTo(Reach.ASKS));
        assertThat(table)
                .filteredOn(cell -> cell.agent().equals("purser") && cell.tool().equals("fares.find-booking"))
                .singleElement()
                .satisfies(cell -> assertThat(cell.reach()).isEqualTo(Reach.ALONE));
    }
}
