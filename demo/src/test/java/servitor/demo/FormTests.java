package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.io.PrintStream;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Somebody without an account, from the form to their case, by mail and link. */
class FormTests {
    private final Household household = Household.shared();

    private Http odile(String link) {
        return new Http(household.url()).with("Form-Link", link);
    }

    @Test
    void aFormIsConfirmedByMailAndItsCaseFollowedByALink() throws Exception {
        PrintStream silent = new PrintStream(OutputStream.nullOutputStream());
        var scene = new FormScene(household.profiles(), household.standins.control(), silent).play();
        JsonNode summary =
                household.as("sunniva").get("/api/cases/" + scene.caseId()).path("summary");
        assertThat(summary.path("proof").asString()).isEqualTo("verified");
        assertThat(summary.path("channel").asString()).isEqualTo("form");

        Http odile = odile(scene.following());
        assertThat(odile.post("/api/public/case/notes", "{\"text\":\"It has a wooden handle.\"}")
                        .json()
                        .path("said")
                        .findValuesAsString("text"))
                .contains("It has a wooden handle.");
        assertThat(odile.post(
                                "/api/public/case/documents",
                                "{\"name\":\"u.png\",\"type\":\"image/png\",\"content\":\"iVBORw0K\"}")
                        .json()
                        .path("files")
                        .path(0)
                        .path("name")
                        .asString())
                .isEqualTo("u.png");
        assertThat(odile.post(
                                "/api/public/case/documents",
                                "{\"name\":\"u.html\",\"type\":\"text/html\",\"content\":\"iVBORw0K\"}")
                        .status())
                .isEqualTo(422);
        assertThat(household
                        .as("sunniva")
                        .get("/api/cases/" + scene.caseId())
                        .path("notes")
                        .findValuesAsString("text"))
                .contains("It has a wooden handle.");
        assertThat(odile.get("/api/cases/" + scene.caseId()).status())
                .as("nothing else")
                .isEqualTo(401);
        assertThat(odile(scene.confirming()).get("/api/public/case").status()).isEqualTo(404);
        assertThat(odile(scene.following()).get("/api/public/confirmation").status())
                .isEqualTo(404);
        assertThat(odile.post("/api/public/case/withdrawal", "")
                        .json()
                        .path("state")
                        .asString())
                .isEqualTo("closed");
        assertThat(household.run("--as", "sunniva", "intake", "forms").out()).contains("told", scene.caseId());
    }

    @Test
    void whatIsNotForEverybodyIsNotSaidToBeThere() {
        Http nobody = new Http(household.url());
        assertThat(nobody.get("/api/public/forms/joiner").detail())
                .as("as one that isn't there")
                .isEqualTo(nobody.get("/api/public/forms/jester").detail().replace("jester", "joiner"));
        assertThat(nobody.get("/api/public/forms/lost-thing")
                        .json()
                        .path("title")
                        .asString())
                .isEqualTo("Something lost");
    }
}
