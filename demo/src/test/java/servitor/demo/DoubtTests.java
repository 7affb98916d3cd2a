package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.demo.Household.Said;

/** A call that can't be repeated, cut off by a kill: nothing is done again until a person has said what happened. */
class DoubtTests {
    private static final String RESULT =
            "{\"refund\":\"RF-1\",\"reference\":\"%s\",\"amount\":52,\"currency\":\"EUR\"}";

    private static final String SETTLE_WITH = """
            effect: once
                settle-with:
                  tool: fares.find-payment
                  with: { key: "${key}" }
                  happened: found.paid
                  result: "${found.refund}"
                  after: PT1S""";

    private static void makeOnce(Household household, String effect) {
        Map<String, String> files = household.files(1);
        files.computeIfPresent(
                "tools/fares.yaml",
                (path, text) -> text.replaceFirst(
                        "effect: write(?=\n    identifies: .reference)",
                        java.util.regex.Matcher.quoteReplacement(effect)));
        household.publish("maren", files, "Refunds can't be repeated");
    }

    private static String runOf(Household household, String caseId) {
        return household
                .as("noor")
                .get("/api/cases/" + caseId)
                .path("runs")
                .path(0)
                .path("id")
                .asString();
    }

    private static boolean isPaying(Household household, String caseId) {
        return household
                .run("--as", "noor", "trail", "show", "--case", caseId)
                .out()
                .lines()
                .anyMatch(line -> line.contains("call-sent") && line.contains("pay-refund"));
    }

    @Test
    void aLookupSettlesWhatItCanAndPeopleTheRest() throws Exception {
        try (Household household = new Household()) {
            makeOnce(household, SETTLE_WITH);
            household.standins.fares().beSlow(2_000);
            String paid = household.openRefund("ines", "SK-620011");
            Household.await("it to be paying", () -> isPaying(household, paid));
            household.service.kill();
            Household.await(
                    "the fares system to have paid what had reached it",
                    () -> household.standins.fares().refunds().size() == 1);
            household.standins.fares().beSlow(0);
            household.start();
            household.run("--as", "osei", "approval", "decide", household.approvalOf(paid), "--approve");
            Household.await("it to go on by itself", () -> household.state(paid).equals("resolved"));
            assertThat(household.standins.fares().refunds()).hasSize(1);
            assertThat(household
                            .run("--as", "noor", "trail", "show", "--case", paid)
                            .out())
                    .contains("looking-up")
                    .contains("settled");
        }
    }

    @Test
    void whatMayHaveHappenedIsSettledByAPersonAndNeverRepeatedBefore() throws Exception {
        try (Household household = new Household()) {
            makeOnce(household, "effect: once");
            household.standins.fares().beSlow(3_000);
            String happened = household.openRefund("ines", "SK-620001");
            String didNot = household.openRefund("ines", "SK-620002");
            Household.await("both to be paying", () -> isPaying(household, happened) && isPaying(household, didNot));
            household.service.kill();
            household.standins.fares().beSlow(0);
            household.start();
            Household.await(
                    "both to be in doubt",
                    () -> household.state(happened).equals("with-people")
                            && household.state(didNot).equals("with-people"));
            assertThat(household.as("osei").get("/api/today").path("inDoubt")).hasSize(2);
            Said shown = household.run("--as", "osei", "run", "show", runOf(household, happened));
            assertThat(shown.out())
                    .contains("In doubt")
                    .contains("fares.pay-refund")
                    .contains("SK-620001");

            Household.await(
                    "the fares system to have paid what had reached it",
                    () -> household.standins.fares().refunds().size() == 2);
            Said wrong = household.run(
                    "--as",
                    "osei",
                    "run",
                    "settle",
                    runOf(household, happened),
                    "--happened",
                    "{\"x\":1}",
                    "--reason",
                    "seen");
            assertThat(wrong.err()).contains("isn't what ‘fares.pay-refund’ answers");
            Said settled = household.run(
                    "--as",
                    "osei",
                    "run",
                    "settle",
                    runOf(household, happened),
                    "--happened",
                    RESULT.formatted("SK-620001"),
                    "--reason",
                    "The fares system lists it.");
            assertThat(settled.code()).as(settled.err()).isZero();
            household.run("--as", "osei", "approval", "decide", household.approvalOf(happened), "--approve");
            Household.await("it to go on", () -> household.state(happened).equals("resolved"));

            Said again = household.run(
                    "--as", "osei", "run", "settle", runOf(household, didNot), "--did-not", "--reason", "I was wrong.");
            assertThat(again.code()).as(again.err()).isZero();
            Household.await(
                    "the fares system to refuse the second payment",
                    () -> household.state(didNot).equals("with-people"));
            assertThat(household.standins.fares().refunds())
                    .as("each is paid once")
                    .hasSize(2);
            assertThat(household
                            .run(
                                    "--as",
                                    "osei",
                                    "run",
                                    "settle",
                                    runOf(household, didNot),
                                    "--did-not",
                                    "--reason",
                                    "x")
                            .err())
                    .contains("Nothing about this run is in doubt");
            assertThat(household
                            .run("--as", "noor", "trail", "show", "--case", happened)
                            .out())
                    .contains("settled");
            assertThat(household.run("--as", "noor", "trail", "verify").code()).isZero();
        }
    }
}
