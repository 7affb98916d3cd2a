package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** People steer runs: pause, resume, tell the agent, and see to what went wrong. */
class RunControlTests {
    private static Household household;

    @BeforeAll
    static void start() {
        household = new Household();
    }

    @AfterAll
    static void stop() {
        household.close();
    }

    private static final String PAID = "{\"refund\":\"RF-9\",\"reference\":\"%s\",\"amount\":52,\"currency\":\"EUR\"}";

    private static JsonNode run(Household household, String caseId) {
        return household.as("noor").get("/api/cases/" + caseId).path("runs").path(0);
    }

    private static long paid(String booking) {
        return household.standins.fares().refunds().stream()
                .filter(refund -> refund.path("reference").asString().startsWith(booking))
                .count();
    }

    private static String trail(Household household, String caseId) {
        return household.run("--as", "noor", "trail", "show", "--case", caseId).out();
    }

    private static Said as(Household household, String... words) {
        return household.run(words);
    }

    @Test
    void aPausedRunSendsNothingUntilItIsResumed() {
        household.standins.fares().beSlow(8_000); // long enough to pause it meanwhile
        String id = household.openRefund("ines", "SK-630001");
        Household.await(
                "the booking to be looked up", () -> trail(household, id).contains("call-sent"));
        String run = run(household, id).path("id").asString();
        Said paused = as(household, "--as", "sunniva", "run", "pause", run, "--reason", "I ask the harbour");
        assertThat(paused.code()).as(paused.err()).isZero();
        household.standins.fares().beSlow(0);
        Household.await("the answer to be taken", () -> trail(household, id).contains("call-answered"));
        Household.await("the next call to be judged", () -> trail(household, id).contains("small refunds"));
        assertThat(household.state(id)).isEqualTo("waiting");
        assertThat(as(household, "--as", "sunniva", "run", "show", run).out()).contains("Paused: I ask the harbour");
        assertThat(as(household, "--as", "sunniva", "run", "pause", run, "--reason", "x")
                        .err())
                .contains("paused already");
        assertThat(as(household, "--as", "ines", "run", "resume", run).code()).isEqualTo(1);
        Said read = as(household, "--as", "sunniva", "run", "tell", run, "--text", "She travels with a dog.");
        assertThat(read.code()).as("nobody said that this is meant").isEqualTo(1);
        assertThat(read.err())
                .contains(
                        "Read as ‘change’: Tell the agent, from its next step on: ‘She travels with a dog.’", "--yes");
        assertThat(trail(household, id)).doesNotContain("agent-advised");
        as(household, "--as", "sunniva", "run", "tell", run, "--text", "She travels with a dog.", "--yes");
        Said unclear = as(household, "--as", "sunniva", "run", "tell", run, "--text", "stop or go on?", "--yes");
        assertThat(unclear.code()).isEqualTo(1);
        assertThat(unclear.err()).contains("Read as ‘unclear’", "nothing is done");
        assertThat(as(household, "--as", "sunniva", "run", "tell", run, "--text", "skip that", "--yes")
                        .err())
                .contains("Nothing went wrong that could be skipped.");
        assertThat(as(household, "--as", "ines", "run", "tell", run, "--text", "stop", "--yes")
                        .code())
                .isEqualTo(1);
        assertThat(paid("SK-630001")).isZero();

        Said resumed = as(household, "--as", "sunniva", "run", "tell", run, "--text", "Go ahead, please.", "--yes");
        assertThat(resumed.code()).as(resumed.err()).isZero();
        household.approvalOf(id);
        assertThat(paid("SK-630001")).isEqualTo(1);
        assertThat(trail(household, id))
                .contains("run-paused")
                .contains("agent-advised")
                .contains("run-resumed");
        String sheet = household.approvalOf(id);
        assertThat(as(household, "--as", "sunniva", "run", "tell", run, "--text", "ok", "--yes")
                        .err())
                .as("a word is no decision")
                .contains("given on the sheet of " + sheet);
        assertThat(household.approvalOf(id)).isEqualTo(sheet);
    }

    @Test
    void whatPeopleHaveInHandTheyResolve() {
        String id = household.openRefund("ines", "SK-99999");
        Household.await("people to have it", () -> household.state(id).equals("with-people"));
        assertThat(as(household, "--as", "ines", "case", "resolve", id, "--how", "x")
                        .err())
                .contains("People who work at the desk resolve its cases");
        assertThat(as(household, "--as", "teun", "case", "resolve", id, "--how", "x")
                        .err())
                .contains("There is no case");
        assertThat(as(household, "--as", "sunniva", "case", "resolve", id, "--how", " ")
                        .err())
                .contains("what was done");
        Said done =
                as(household, "--as", "sunniva", "case", "resolve", id, "--how", "She meant SK-48213; told her so.");
        assertThat(done.out()).contains(id + " is resolved");
        assertThat(as(household, "--as", "sunniva", "case", "show", id).out()).contains("She meant SK-48213");
        assertThat(as(household, "--as", "ines", "case", "show", id).out()).doesNotContain("She meant SK-48213");
        assertThat(trail(household, id)).contains("case-resolved");
        assertThat(as(household, "--as", "sunniva", "case", "resolve", id, "--how", "twice")
                        .err())
                .contains("resolved already");
        String waiting = household.openRefund("ines", "SK-630021");
        household.approvalOf(waiting);
        assertThat(as(household, "--as", "sunniva", "case", "resolve", waiting, "--how", "x")
                        .err())
                .contains("A run is working on this case");
    }

    @Test
    void whatWentWrongIsListedAndMended() {
        String paidBefore = household.openRefund("ines", "SK-630011");
        household.approvalOf(paidBefore);
        String again = household.openRefund("ines", "SK-630011");
        String third = household.openRefund("ines", "SK-630011");
        Household.await(
                "both to fail",
                () -> as(household, "--as", "sunniva", "run", "troubled").out().contains(again)
                        && as(household, "--as", "sunniva", "run", "troubled")
                                .out()
                                .contains(third));
        assertThat(household.as("teun").get("/api/today").path("troubled")).isEmpty();
        assertThat(run(household, again).path("status").asString()).isEqualTo("failed");
        String trouble =
                run(household, again).path("troubles").path(0).path("id").asString();
        Said noResult = as(household, "--as", "sunniva", "run", "mend", trouble, "--skip", "--reason", "paid");
        assertThat(noResult.err()).contains("skip it with the result");
        Said skipped = as(
                household,
                "--as",
                "sunniva",
                "run",
                "mend",
                trouble,
                "--skip",
                "--result",
                PAID.formatted("SK-630011"),
                "--reason",
                "It was paid before.");
        assertThat(skipped.code()).as(skipped.err()).isZero();
        household.run("--as", "osei", "approval", "decide", household.approvalOf(again), "--approve");
        Household.await("it to go on", () -> household.state(again).equals("resolved"));

        String other = run(household, third).path("troubles").path(0).path("id").asString();
        as(household, "--as", "sunniva", "run", "mend", other, "--retry", "--reason", "once more");
        // the first try has used up what the purser may pay alone in a case
        household.run("--as", "osei", "approval", "decide", household.approvalOf(third), "--approve");
        Household.await("it to fail again", () -> {
            JsonNode wrong = run(household, third).path("troubles").path(0);
            return !wrong.isMissingNode() && !wrong.path("id").asString().equals(other);
        });
        String newer = run(household, third).path("troubles").path(0).path("id").asString();
        as(household, "--as", "sunniva", "run", "mend", newer, "--take-over", "--reason", "I call her");
        assertThat(as(household, "--as", "sunniva", "run", "troubled").out()).contains("Nothing has gone wrong");
        assertThat(as(household, "--as", "sunniva", "run", "mend", newer, "--retry", "--reason", "x")
                        .code())
                .isNotZero();
        assertThat(household.state(third)).isEqualTo("with-people");
        assertThat(trail(household, third)).contains("step-retried").contains("taken-over");
        assertThat(household.run("--as", "noor", "trail", "verify").code()).isZero();
    }

    @Test
    void aConnectionThatKeepsFailingRestsAndIsNamed() {
        household.standins.fares().fail(true);
        for (int i = 0; i < 8; i++) {
            household.openRefund("ines", "SK-63002" + i);
        }
        Household.await(
                "the connection to rest",
                () -> !household.as("osei").get("/api/today").path("resting").isEmpty());
        assertThat(household
                        .as("osei")
                        .get("/api/today")
                        .path("resting")
                        .path(0)
                        .path("connection")
                        .asString())
                .isEqualTo("fares");
        household.standins.fares().fail(false);
        Household.await("all to be paid once it has rested", () -> paid("SK-63002") == 8);
    }
}
