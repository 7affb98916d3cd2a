package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** A tool in shadow proposes, nothing leaves, and people's own doing is held against it, through the started service. */
class ShadowWorkTests {
    private static final String FARES = "tools/fares.yaml";

    private final Household household = Household.shared();
    private String before;

    @BeforeEach
    void shadow() {
        before = household.files(newest()).get(FARES);
        Said trusted = household.run("--as", "maren", "agreement", "trust", "shadow", "--tool", "fares.pay-refund");
        assertThat(trusted.code()).as(trusted.err()).isZero();
        Http.as(household, "maren").post("/api/handbook/draft/publish", "{\"note\":\"Refunds in shadow\"}");
        assertThat(household.files(newest()).get(FARES)).contains("works: shadow");
    }

    @AfterEach
    void alone() {
        household.add(Map.of(FARES, before), "Refunds as before");
    }

    private int newest() {
        return household
                .as("maren")
                .get("/api/handbook/editions")
                .path(0)
                .path("number")
                .asInt();
    }

    private JsonNode held(String booking) {
        String id = household.openRefund("ines", booking);
        Household.await("something held", () -> household.state(id).equals("with-people"));
        return household.as("sunniva").get("/api/cases/" + id).path("runs").get(0);
    }

    private long paid(String booking) {
        return household.standins.fares().refunds().stream()
                .filter(refund -> refund.path("reference").asString("").equals(booking))
                .count();
    }

    private JsonNode sheet() {
        return household
                .as("sunniva")
                .get("/api/agreement?days=1")
                .path("tools")
                .valueStream()
                .filter(tool -> tool.path("tool").asString().equals("fares.pay-refund"))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void nothingIsPaidAndWhatPeopleDidIsHeldAgainstIt() {
        JsonNode run = held("SK-694001");
        String id = run.path("id").asString();
        assertThat(paid("SK-694001")).isZero();
        assertThat(household.as("sunniva").get("/api/today").path("held").toString())
                .contains(id);
        int others = sheet().path("counted").path("other").path("calls").asInt();
        Said unfit = household.run("--as", "sunniva", "run", "by-hand", id, "--done", "{}", "--reason", "Paid");
        assertThat(unfit.code()).as("a refund has a number").isNotZero();
        Said said = household.run(
                "--as",
                "sunniva",
                "run",
                "by-hand",
                id,
                "--done",
                "{\"refund\":\"RF-1\",\"reference\":\"SK-694001\",\"amount\":20,\"currency\":\"EUR\"}",
                "--with",
                "amount=20",
                "--reason",
                "A part was used");
        assertThat(said.code()).as(said.err()).isZero();
        assertThat(sheet().path("counted").path("other").path("calls").asInt()).isEqualTo(others + 1);
        assertThat(sheet().path("calls").toString()).contains("amount 20 instead of");
        assertThat(paid("SK-694001")).isZero();
        assertThat(household.run("--as", "maren", "agreement", "list").out()).contains("fares.pay-refund", "shadow");
    }

    @Test
    void onlyPeopleOfTheDeskSayWhatWasDoneAndNobodyInTheirOwnCase() {
        String id = held("SK-694002").path("id").asString();
        String body = Json.write(Map.of("did", "nothing", "reason", "It sailed."));
        assertThat(Http.as(household, "ines")
                        .post("/api/runs/" + id + "/by-hand", body)
                        .status())
                .isEqualTo(404);
        assertThat(Http.as(household, "teun")
                        .post("/api/runs/" + id + "/by-hand", body)
                        .status())
                .isEqualTo(404);
        assertThat(Http.as(household, "sunniva")
                        .post("/api/runs/" + id + "/by-hand", body)
                        .status())
                .isEqualTo(200);
        assertThat(Http.as(household, "sunniva")
                        .post("/api/runs/" + id + "/by-hand", body)
                        .status())
                .as("it is said once")
                .isEqualTo(409);
    }
}
