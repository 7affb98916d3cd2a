package servitor.core.handbook.check;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.files;
import static servitor.core.run.Scripted.step;

import java.util.List;
import org.junit.jupiter.api.Test;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;

/** Decision tables are checked against the rows they decide about, and their lines against each other. */
class TableRuleTests {
    private static final String READ = step("Read", """
            read: document
            tables:
              goods:
                columns:
                  class: "one of [2, 3, 9]"
                  litres: number
                  crates: whole number
                  closed: yes/no
                  until: date
            save: declaration
            """);

    private static List<Finding> findings(String... lines) {
        String page = READ
                + step(
                        "Decide",
                        "decide: \"${declaration.goods}\"\ntable:\n  - " + String.join("\n  - ", lines)
                                + "\notherwise: done")
                + step("Done", "finish: resolved");
        return CheckedHandbook.of(files("", page)).findings().stream()
                .filter(finding -> finding.place().file().equals("runbooks/test.md"))
                .toList();
    }

    private static String only(List<Finding> findings, Code code) {
        assertThat(findings).extracting(Finding::code).containsOnly(code);
        assertThat(findings).hasSize(1);
        return findings.get(0).what();
    }

    @Test
    void aTableThatTakesEveryRowHasNothingWrong() {
        assertThat(findings("{ class: \"2\", go: done }", "{ litres: \"> 450\", go: done }", "{ go: done }"))
                .isEmpty();
        assertThat(findings("{ class: [\"2\", \"3\"], go: done }", "{ class: \"9\", go: done }"))
                .isEmpty();
        assertThat(findings("{ crates: \"<= 5\", go: done }", "{ crates: \">= 6\", go: done }"))
                .isEmpty();
        assertThat(findings("{ closed: true, go: done }", "{ closed: false, go: done }"))
                .isEmpty();
    }

    @Test
    void rowsThatMeetNoLineAreTold() {
        assertThat(only(
                        findings("{ class: \"2\", go: done }", "{ class: \"3\", litres: \"> 450\", go: done }"),
                        Code.DECISION))
                .contains("class 3, litres 449", "class 9");
        assertThat(only(findings("{ litres: \"< 5\", go: done }", "{ litres: \"> 5\", go: done }"), Code.DECISION))
                .contains("such as litres 5.");
        assertThat(only(findings("{ until: \"> 2027-01-01\", go: done }"), Code.DECISION))
                .contains("2027-01-01");
    }

    @Test
    void aLineThatNoRowCanMeetIsAFault() {
        assertThat(only(
                        findings(
                                "{ class: [\"2\", \"3\"], go: done }",
                                "{ class: \"9\", go: done }",
                                "{ class: \"3\", litres: \"> 1\", go: done }"),
                        Code.DECISION))
                .contains("No row can ever meet this line (class 3, litres above 1)");
        assertThat(only(
                        findings(
                                "{ litres: \"<= 5\", go: done }",
                                "{ litres: \"> 5\", go: done }",
                                "{ litres: \"2..9\", go: done }"),
                        Code.DECISION))
                .contains("litres from 2 to 9");
    }

    @Test
    void conditionsFitTheirColumns() {
        assertThat(only(findings("{ clas: \"2\", go: done }", "{ go: done }"), Code.UNKNOWN_FIELD))
                .contains("‘clas’");
        assertThat(only(findings("{ class: 2, go: done }", "{ go: done }"), Code.TYPES))
                .contains("can never be 2");
        assertThat(only(findings("{ class: \"4\", go: done }", "{ go: done }"), Code.TYPES))
                .contains("can never be 4");
        assertThat(only(findings("{ litres: many, go: done }", "{ go: done }"), Code.TYPES))
                .contains("can never be many");
        assertThat(only(findings("{ closed: \"> 3\", go: done }", "{ go: done }"), Code.TYPES))
                .contains("yes/no");
        assertThat(only(findings("{ until: \"> 3\", go: done }", "{ go: done }"), Code.TYPES))
                .contains("date");
    }

    @Test
    void aConditionThatCantBeReadIsAFault() {
        assertThat(findings("{ litres: \"> many\", go: done }"))
                .extracting(Finding::code)
                .contains(Code.DECISION);
        assertThat(findings("{ litres: \"9..2\", go: done }"))
                .extracting(Finding::code)
                .contains(Code.DECISION);
        assertThat(findings("{ litres: { a: 1 }, go: done }"))
                .extracting(Finding::code)
                .contains(Code.DECISION);
    }

    @Test
    void rowsAreRead() {
        String page = READ + step("Decide", """
                        decide:
                          - when: "declaration.goods.exists(g, g.litre > 4.0)"
                            go: done
                          - when: "declaration.goods.map(g, g.litres).sum() > 4.0 && declaration.goods.map(g, g.crates).max() < 3"
                            go: done
                          - otherwise: done
                        """) + step("Done", "finish: resolved");
        assertThat(CheckedHandbook.of(files("", page)).findings())
                .filteredOn(finding -> finding.severity() == Finding.Severity.ERROR)
                .singleElement()
                .satisfies(finding -> assertThat(finding.what()).contains("litre"));
    }
}
