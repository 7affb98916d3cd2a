package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** Something is stopped at once, everywhere and without publishing, and goes on when people say so. */
class StopTests {
    private final Household household = Household.shared();

    @AfterEach
    void letEverythingGoOn() {
        household
                .as("admin")
                .get("/api/stops")
                .forEach(stop -> household.run(
                        "--as",
                        "admin",
                        "stop",
                        "lift",
                        stop.path("what").asString(),
                        stop.path("name").asString(),
                        "--reason",
                        "the test is over"));
    }

    private Said stop(String person, String what, String name) {
        return household.run("--as", person, "stop", "begin", what, name, "--reason", "it pays twice");
    }

    private Said lift(String person, String what, String name) {
        return household.run("--as", person, "stop", "lift", what, name, "--reason", "mended");
    }

    private long paid(String booking) {
        return household.standins.fares().refunds().stream()
                .filter(refund -> refund.path("reference").asString().equals(booking))
                .count();
    }

    private JsonNode summary(String person, String caseId) {
        return household.as(person).get("/api/cases/" + caseId).path("summary");
    }

    @ParameterizedTest
    @CsvSource({
        "tool, fares.pay-refund, SK-640001",
        "connection, fares, SK-640002",
        "agent, purser, SK-640003",
        "page, cancelled-sailing-refund, SK-640004"
    })
    void nothingNewLeavesUntilItIsLifted(String what, String name, String booking) {
        Said stopped = stop("maren", what, name);
        assertThat(stopped.code()).as(stopped.err()).isZero();
        String id = household.openRefund("ines", booking);
        Household.await(
                "the run to be held back",
                () -> summary("sunniva", id).path("waitingFor").asString("").contains("it pays twice"));
        assertThat(paid(booking)).isZero();
        assertThat(household
                        .as("sunniva")
                        .get("/api/today")
                        .path("stopped")
                        .path(0)
                        .path("reason")
                        .asString())
                .isEqualTo("it pays twice");
        assertThat(household.run("--as", "noor", "stop", "list").out())
                .contains(name)
                .contains("it pays twice")
                .contains("Maren Tvedt");

        Said lifted = lift("maren", what, name);
        assertThat(lifted.code()).as(lifted.err()).isZero();
        household.approvalOf(id);
        assertThat(paid(booking)).isEqualTo(1);
    }

    @Test
    void onlyAnAdminOrAnEngineerOfTheDeskStopsAndWhatIsntThereIsRefused() {
        assertThat(stop("osei", "tool", "fares.pay-refund").code()).isEqualTo(4);
        assertThat(stop("priya", "agent", "purser").code())
                .as("an engineer of another desk")
                .isEqualTo(4);
        assertThat(stop("maren", "tool", "fares.pay-refnd").err()).contains("fares.pay-refnd");
        assertThat(stop("maren", "ship", "fares").code()).isEqualTo(1);
        assertThat(stop("admin", "agent", "purser").code()).isZero();
        assertThat(lift("osei", "agent", "purser").code()).isEqualTo(4);
        assertThat(lift("admin", "agent", "purser").code()).isZero();
        assertThat(lift("admin", "agent", "purser").code())
                .as("nothing to lift")
                .isEqualTo(1);
    }

    @Test
    void whatWasStoppedAndWhyIsForStaffAndAdminsOnly() {
        assertThat(stop("maren", "agent", "purser").code()).isZero();

        assertThat(household.as("ines").get("/api/today").path("stopped")).isEmpty();
        assertThat(household.as("noor").get("/api/today").path("stopped")).hasSize(1);
        assertThat(household.as("admin").get("/api/today").path("stopped")).hasSize(1);
    }

    @Test
    void stopsAndLiftsAreOnTheTrail() {
        stop("maren", "agent", "purser");
        lift("admin", "agent", "purser");
        String all = household.as("noor").get("/api/trail?limit=50").toString();
        assertThat(all)
                .contains("it pays twice")
                .contains("mended")
                .contains("Maren Tvedt")
                .contains("Administrator");
    }
}
