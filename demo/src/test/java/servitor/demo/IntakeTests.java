package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.json.Json;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Messages of the harbour kiosks, and the cases they become. */
class IntakeTests {
    private static final String KIOSKS = "/api/intake/harbour-kiosks";

    private final Household household = Household.shared();

    private static ObjectNode message(String number) {
        return Json.object()
                .put("event", "lost")
                .put("number", number)
                .put("passenger", "P-1042")
                .put("harbour", "Varra")
                .put("thing", "red umbrella")
                .put("words", "I left it on the bench.")
                .put("camera", "x".repeat(50_000));
    }

    private Http kiosk() {
        return Http.as(household, "sunniva");
    }

    private static JsonNode body(Http.Answer answer) {
        return Json.read(answer.body(), JsonNode.class);
    }

    @Test
    void aMessageOpensACaseOnceAndItsPageStarts() {
        Http.Answer first = kiosk().send("POST", KIOSKS, message("K-1").toString());
        assertThat(first.status()).as(first.body()).isEqualTo(201);
        String id = body(first).path("id").asString();
        Http.Answer again = kiosk().send(
                        "POST",
                        KIOSKS,
                        message("K-1").put("words", "Sent twice.").toString());
        assertThat(again.status()).isEqualTo(200);
        assertThat(body(again).path("outcome").asString()).isEqualTo("known");
        assertThat(body(again).path("id").asString()).isEqualTo(id);

        JsonNode shown = household.as("sunniva").get("/api/cases/" + id);
        assertThat(shown.path("summary").path("subject").asString()).isEqualTo("Lost at Varra: red umbrella");
        assertThat(shown.path("summary").path("requester").path("id").asString())
                .isEqualTo("ines");
        assertThat(shown.path("summary").path("proof").asString()).isEqualTo("claimed");
        assertThat(shown.path("runs").path(0).path("page").asString()).isEqualTo("lost-property");
        JsonNode opened =
                household.as("noor").get("/api/trail?case=" + id + "&limit=200").path("items");
        assertThat(opened.toString()).contains("\"intake\":\"harbour-kiosks\"").doesNotContain("xxxx");
    }

    @Test
    void whatIsNoReportIsLeftOutAndWhatIsNoMessageIsRefused() {
        Http.Answer test = kiosk().send(
                        "POST", KIOSKS, message("K-2").put("event", "self-test").toString());
        assertThat(body(test).path("outcome").asString()).isEqualTo("left-out");
        assertThat(body(test).path("why").asString()).contains("message.event");

        Http.Answer wrong = kiosk().send("POST", KIOSKS, "{\"event\":\"lost\",\"harbour\":\"Atlantis\"}");
        assertThat(wrong.status()).isEqualTo(422);
        assertThat(wrong.body()).contains("harbour").contains("passenger");

        Http.Answer nobody = kiosk().send(
                        "POST",
                        KIOSKS,
                        message("K-3").put("passenger", "P-0000").toString());
        assertThat(nobody.status()).isEqualTo(422);
        assertThat(nobody.body()).contains("P-0000");
        assertThat(kiosk().send("POST", "/api/intake/pigeons", "{}").status()).isEqualTo(404);
        assertThat(kiosk().send("POST", KIOSKS, "[[[").status()).isEqualTo(400);
    }

    @Test
    void theClientListsTriesAndSends(@TempDir Path folder) throws IOException {
        Path file =
                Files.writeString(folder.resolve("message.json"), message("K-4").toString());
        assertThat(household.run("--as", "sunniva", "intake", "list").out())
                .contains("harbour-kiosks")
                .contains("passenger, harbour, thing");
        assertThat(household.run("--as", "teun", "intake", "list").out())
                .doesNotContain("harbour-kiosks")
                .contains("lines of /", "read up to byte ");
        Said tried = household.run("--as", "sunniva", "intake", "send", "harbour-kiosks", file.toString(), "--try");
        assertThat(tried.out())
                .contains("would open a case of kind lost-thing for ines")
                .contains("thing: red umbrella");
        assertThat(household
                        .run("--as", "sunniva", "intake", "send", "harbour-kiosks", file.toString())
                        .out())
                .contains("Opened C-");
        assertThat(household
                        .run("--as", "sunniva", "intake", "send", "harbour-kiosks", file.toString())
                        .out())
                .contains("taken in already");
        Said refused = household.run("--as", "ines", "intake", "send", "harbour-kiosks", file.toString());
        assertThat(refused.code()).isEqualTo(4);
        Path broken = Files.writeString(folder.resolve("broken.json"), "{");
        assertThat(household
                        .run("--as", "sunniva", "intake", "send", "harbour-kiosks", broken.toString())
                        .code())
                .isEqualTo(2);
    }
}
