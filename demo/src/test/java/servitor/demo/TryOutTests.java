package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** Pages tried out on a draft through the started service: answered step by step, reads for real under the rules, nothing done. */
class TryOutTests {
    private static final String TRIES = "/api/handbook/draft/tries";

    private final Household household = Household.shared();

    @AfterEach
    void giveUp() {
        household
                .as("maren")
                .get(TRIES)
                .forEach(one -> household
                        .as("maren")
                        .delete(TRIES + "/" + one.path("id").asString()));
    }

    private JsonNode begin(Map<String, Object> body) {
        return household.as("maren").post(TRIES, body);
    }

    private JsonNode answer(JsonNode at, String json) {
        return household
                .as("maren")
                .post(
                        TRIES + "/" + at.path("about").path("id").asString() + "/answers",
                        json == null ? Map.of() : Map.of("answer", Json.read(json, JsonNode.class)));
    }

    private long entries(String what) {
        return household.as("noor").get("/api/trail?what=" + what).path("items").size();
    }

    @Test
    void aRequestIsPlayedStepByStepAndOnlyReadsGoOutForReal() {
        JsonNode begun = begin(Map.of(
                "request",
                Map.of(
                        "kind",
                        "lost-thing",
                        "text",
                        "My red umbrella, on Tuesday.",
                        "fields",
                        Map.of("thing", "an umbrella"))));
        assertThat(begun.at("/open/sort").asString()).isEqualTo("model");
        String step = begun.at("/open/step").asString();
        JsonNode looking = answer(
                begun, "{\"model\":\"" + step + "\",\"gives\":{\"missing\":[],\"reason\":\"all is told\",\"sure\":1}}");
        assertThat(looking.at("/open/what").asString()).isEqualTo("fares.find-lost");
        assertThat(looking.at("/open/notForReal").asString()).isEmpty();
        String id = begun.at("/about/id").asString();
        long tried = entries("tool-tried");
        Said asked = household.run("--as", "maren", "try", "ask", id);
        assertThat(asked.code()).as(asked.err()).isZero();
        assertThat(entries("tool-tried")).isEqualTo(tried + 1);
        JsonNode found = household.as("maren").get(TRIES + "/" + id);
        assertThat(found.path("forReal").asInt()).isEqualTo(1);
        assertThat(found.path("lanes").toString()).contains("Called fares.find-lost", "Answered");
        assertThat(household.run("--as", "maren", "try", "back", id).out())
                .contains("what does fares.find-lost answer?");
    }

    @Test
    void whatActsNeverLeavesAndPersonalThingsArentRead() {
        long paid = household.standins.fares().refunds().size();
        JsonNode begun = begin(Map.of("rehearsal", "refund-large"));
        assertThat(begun.at("/open/suggested/by").asString()).isNotEmpty();
        JsonNode approved = answer(begun, "{\"people\":\"Pay\",\"say\":\"approve\",\"by\":\"osei\"}");
        assertThat(approved.path("lanes").toString()).contains("Called fares.pay-refund");
        assertThat(household.standins.fares().refunds()).hasSize((int) paid);
        JsonNode personal = begin(Map.of("request", Map.of("kind", "refund", "fields", Map.of("booking", "SK-48213"))));
        assertThat(personal.at("/open/notForReal").asString()).contains("personal");
        String id = personal.at("/about/id").asString();
        assertThat(Http.as(household, "maren")
                        .post(TRIES + "/" + id + "/for-real", "{}")
                        .status())
                .isEqualTo(422);
        JsonNode gave = answer(personal, """
                {"tool":"fares.find-booking","gives":{"reference":"SK-48213","owner":"maren","passenger":"M","paid":50,"currency":"EUR",
                "sailing":{"number":"S-1","ship":"Heron","from":"A","to":"B","departs":"2026-05-20T08:15","state":"cancelled"}}}""");
        String asked = gave.path("lanes").toString() + gave.path("open");
        assertThat(asked).contains("fares.pay-refund");
    }

    @Test
    void aCaseIsTriedWithoutTouchingItByThoseWhoSeeIt() {
        String id = household.openRefund("ines", "SK-693001");
        String approval = household.approvalOf(id);
        household.run("--as", "osei", "approval", "decide", approval, "--approve");
        Household.await("the end", () -> household.state(id).equals("resolved"));
        String before = household.as("sunniva").get("/api/cases/" + id).toString();
        JsonNode begun = begin(Map.of("caseId", id));
        assertThat(begun.at("/open/sort").asString()).isEqualTo("people");
        assertThat(begun.path("lanes").toString()).contains("SK-693001");
        assertThat(household.as("sunniva").get("/api/cases/" + id).toString()).isEqualTo(before);
        String tried = begun.at("/about/id").asString();
        assertThat(Http.as(household, "maren")
                        .post(TRIES + "/" + tried + "/rehearsal", "{\"name\":\"real\"}")
                        .body())
                .contains("This is a real case");
        String pay = household.open("ewan", "pay-question", "My bonus", "Where is my bonus?", Map.of());
        assertThat(Http.as(household, "maren")
                        .post(TRIES, Json.write(Map.of("caseId", pay)))
                        .status())
                .isEqualTo(404);
    }

    @Test
    void aTryIsKeptAsARehearsalThatPlays() {
        JsonNode begun = begin(Map.of("rehearsal", "refund-large"));
        JsonNode declined =
                answer(begun, "{\"people\":\"Pay\",\"say\":\"decline\",\"by\":\"osei\",\"reason\":\"Not so much.\"}");
        String id = declined.at("/about/id").asString();
        while (declined.path("open").isObject()) {
            String step = declined.at("/open/step").asString();
            declined = answer(
                    declined,
                    declined.at("/open/sort").asString().equals("model")
                            ? "{\"model\":\"" + step + "\",\"gives\":{\"text\":\"We can't pay that.\"}}"
                            : "{\"people\":\"" + step + "\",\"say\":\"approve\",\"by\":\"sunniva\"}");
        }
        Said kept = household.run("--as", "maren", "try", "keep", id, "refund-too-large");
        assertThat(kept.code()).as(kept.err()).isZero();
        String name = "/api/handbook/draft/rehearsals/refund-too-large";
        assertThat(household.as("maren").get(name).at("/came/differences").toString())
                .isEqualTo("[]");
        household.as("maren").delete("/api/handbook/draft/file?path=rehearsals/refund-too-large.yaml");
    }
}
