package servitor.demo;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** Approvers see in a line what happens, and what they saw is kept; deputies, handing over, and several together. */
class InControlTests {
    private final Household household = Household.shared();

    private String call(String person, String booking) {
        return household.approvalOf(household.openRefund(person, booking));
    }

    private JsonNode sheet(String person, String approval) {
        return household.as(person).get("/api/approvals/" + approval);
    }

    private int status(String person, String method, String path, Object body) {
        return Http.as(household, person).send(method, path, Json.write(body)).status();
    }

    @Test
    void theHeadlineStandsWhereverItIsNamed() {
        String approval = call("bram", "SK-51077");
        String headline = "Pay 310.00 EUR back for booking SK-51077 to Bram Okafor";
        assertThat(household.run("--as", "osei", "approval", "list", "--asked").out())
                .contains(headline);
        assertThat(household.run("--as", "osei", "approval", "show", approval).out())
                .startsWith(headline)
                .contains("only when args.amount <= 120.0");
        String caseId = sheet("osei", approval).at("/summary/caseId").asString();
        assertThat(household.run("--as", "osei", "case", "show", caseId).out())
                .contains(headline, "waits for an answer of Duty managers since");
        household.run("--as", "osei", "approval", "decide", approval, "--approve");
        Household.await(
                "the refund",
                () -> household
                        .as("noor")
                        .get("/api/trail?limit=200&case=" + caseId)
                        .path("items")
                        .valueStream()
                        .anyMatch(entry -> entry.at("/data/says").asString("").equals(headline)));
        String next = call("bram", "SK-51077");
        assertThat(sheet("osei", next).path("earlier").toString())
                .as("what happened before with them")
                .contains(headline, caseId);
    }

    @Test
    void whatWasShownIsKeptAsItWasShown() {
        String approval = call("edda", "SK-51190");
        household.run("--as", "osei", "approval", "show", approval);
        JsonNode before = sheet("osei", approval);
        household.run("--as", "lucja", "approval", "decide", approval, "--decline", "--reason", "Not this month.");
        List<JsonNode> seen = household
                .as("noor")
                .get("/api/approvals/" + approval + "/seen")
                .valueStream()
                .filter(one -> one.at("/person/id").asString().equals("osei"))
                .toList();
        assertThat(seen).as("once for each picture").hasSize(1);
        assertThat(seen.get(0).path("via").asString()).isEqualTo("command-line");
        JsonNode then = household
                .as("noor")
                .get("/api/approvals/" + approval + "/seen/"
                        + seen.get(0).path("picture").asString());
        assertThat(then.path("sheet")).isEqualTo(before.path("sheet"));
        assertThat(then.at("/summary/state").asString()).isEqualTo("open");
        assertThat(household
                        .run("--as", "noor", "approval", "show", approval, "--as-seen", "--by", "osei")
                        .out())
                .contains("seen by Osei Brandt, by command line", "As Osei Brandt saw it:", "[open]");
        assertThat(household
                        .run("--as", "noor", "approval", "show", approval, "--as-seen", "--by", "maren")
                        .code())
                .isEqualTo(1);
    }

    @Test
    void aRoomIsToldWhatWaitsAndWhereItIsAnswered() {
        String id = household.open("ewan", "kit-wish", "A radio", "A radio for the deck watch, please.", Map.of());
        String approval = household.approvalOf(id);
        String said = Household.await(
                "the room to be told",
                () -> household.standins.room().said().stream()
                        .filter(text -> text.contains("/approvals/" + approval))
                        .findFirst()
                        .orElse(null));
        assertThat(said).contains("Bosun’s plan at ‘Supply it’: supply kit waits for an answer.");
    }

    @Test
    void aDeputyAnswersWhileSomebodyIsAwayAndNobodyElse() {
        String id = household.open("ewan", "kit-wish", "A radio", "A radio for the deck watch, please.", Map.of());
        String approval = household.approvalOf(id);
        assertThat(status("lucja", "GET", "/api/approvals/" + approval, Map.of()))
                .isEqualTo(404);
        Map<String, Object> away = Map.of(
                "deputy",
                "lucja",
                "until",
                Instant.now().plus(Duration.ofDays(3)).toString());
        assertThat(status("osei", "PUT", "/api/people/dagny/deputy", away)).isEqualTo(403);
        assertThat(status(
                        "dagny",
                        "PUT",
                        "/api/people/dagny/deputy",
                        Map.of("deputy", "ewan", "until", away.get("until"))))
                .isEqualTo(422);
        assertThat(status(
                        "dagny",
                        "PUT",
                        "/api/people/dagny/deputy",
                        Map.of("deputy", "dagny", "until", away.get("until"))))
                .isEqualTo(422);
        assertThat(status("dagny", "PUT", "/api/people/dagny/deputy", away)).isEqualTo(200);
        try {
            assertThat(sheet("lucja", approval).at("/summary/asked").asBoolean())
                    .isTrue();
            assertThat(household
                            .run("--as", "lucja", "approval", "decide", approval, "--approve")
                            .code())
                    .isZero();
            JsonNode answer = sheet("dagny", approval).path("answers").path(0);
            assertThat(answer.at("/person/id").asString()).isEqualTo("lucja");
            assertThat(answer.at("/insteadOf/id").asString()).isEqualTo("dagny");
        } finally {
            assertThat(status("dagny", "DELETE", "/api/people/dagny/deputy", Map.of()))
                    .isEqualTo(204);
        }
        assertThat(status("lucja", "GET", "/api/approvals/" + approval, Map.of()))
                .isEqualTo(404);
    }

    @Test
    void anApprovalIsHandedToWhoMayAnswerItAndToNobodyElse() {
        String approval = call("bram", "SK-51077");
        String path = "/api/approvals/" + approval + "/hand";
        assertThat(status("osei", "POST", path, Map.of("to", "bram"))).isEqualTo(403);
        assertThat(status("osei", "POST", path, Map.of("to", "nobody"))).isEqualTo(422);
        assertThat(status("sunniva", "POST", path, Map.of("to", "lucja"))).isEqualTo(403);
        assertThat(status("osei", "POST", path, Map.of("to", "lucja", "reason", "You know them.")))
                .isEqualTo(200);
        assertThat(household.run("--as", "osei", "approval", "list", "--asked").out())
                .doesNotContain(approval);
        assertThat(household.run("--as", "lucja", "approval", "list", "--asked").out())
                .contains(approval);
        CompletableFuture<Integer> handed =
                CompletableFuture.supplyAsync(() -> status("lucja", "POST", path, Map.of("to", "osei")));
        String digest = sheet("osei", approval).path("digest").asString();
        int decided = status(
                "osei",
                "POST",
                "/api/approvals/" + approval + "/answers",
                Map.of("decision", "decline", "digest", digest, "reason", "No."));
        assertThat(decided).as("who handed it over may still answer").isEqualTo(200);
        assertThat(handed.join()).isIn(200, 403, 409);
        assertThat(status("lucja", "POST", path, Map.of("to", "osei"))).isIn(403, 409);
    }

    @Test
    void severalAreDecidedTogetherEachUnderItsOwnDigest() {
        String one = call("bram", "SK-51077");
        String two = call("edda", "SK-51190");
        String three = call("bram", "SK-51077");
        String words = household.approvalOf(household.openRefund("tomas", "SK-47001"));
        List<Map<String, String>> listed = Stream.of(one, two, three)
                .map(id -> Map.of(
                        "id", id, "digest", sheet("osei", id).path("digest").asString()))
                .toList();
        Map<String, Object> stale = Map.of("id", three, "digest", "0".repeat(64));
        Object body = Map.of(
                "decision",
                "decline",
                "reason",
                "Not today.",
                "approvals",
                List.of(listed.get(0), listed.get(1), stale));
        JsonNode came = Json.read(
                Http.as(household, "osei")
                        .send("POST", "/api/approvals/together", Json.write(body))
                        .body(),
                JsonNode.class);
        assertThat(came.valueStream().map(each -> each.path("counts").asBoolean()))
                .containsExactly(true, true, false);
        assertThat(came.path(2).path("message").asString()).contains("isn't what this approval shows now");
        Map<String, String> wording = Map.of(
                "id", words, "digest", sheet("osei", words).path("digest").asString());
        assertThat(status(
                        "osei",
                        "POST",
                        "/api/approvals/together",
                        Map.of("decision", "approve", "approvals", List.of(listed.get(2), wording))))
                .isIn(400, 422);
        assertThat(sheet("osei", three).at("/summary/state").asString()).isEqualTo("open");
    }

    @Test
    void theCommandLineListsEachOfSeveralBeforeItAnswersThem() {
        String one = call("bram", "SK-51077");
        String two = call("edda", "SK-51190");
        String[] decline = {
            "--as", "osei", "approval", "together", one, two, "--decline", "--reason", "Not today.", "--seen", ""
        };
        Said listed = household.run(Arrays.copyOf(decline, decline.length - 2));
        assertThat(listed.code()).as("nothing is answered yet").isEqualTo(1);
        assertThat(listed.out())
                .contains("booking SK-51077 to Bram Okafor", "booking SK-51190 to Edda Quill", "--seen ");
        String seen = listed.out().strip().substring(listed.out().strip().lastIndexOf(' ') + 1);
        decline[decline.length - 1] = "0".repeat(12);
        assertThat(household.run(decline).code()).isEqualTo(1);
        assertThat(sheet("osei", one).at("/summary/state").asString()).isEqualTo("open");
        decline[decline.length - 1] = seen;
        Said answered = household.run(decline);
        assertThat(answered.code()).as(answered.err()).isZero();
        assertThat(answered.out()).contains(one + "  Pay 310.00 EUR", ": declined");
        assertThat(sheet("osei", two).at("/summary/state").asString()).isEqualTo("declined");
        assertThat(household.run(decline).code())
                .as("what is closed counts no more")
                .isEqualTo(1);
    }

    @Test
    void whoAsksSeesWhomTheirCaseWaitsFor() {
        String id = household.openRefund("bram", "SK-51077");
        household.approvalOf(id);
        JsonNode asked = household.as("bram").get("/api/cases/" + id).path("askedOf");
        assertThat(asked.path("whom").toString()).isEqualTo("[\"Duty managers\"]");
        assertThat(Instant.parse(asked.path("since").asString()))
                .isBefore(Instant.parse(asked.path("until").asString()));
        String wish = household.open("ewan", "kit-wish", "A radio", "A radio for the deck watch, please.", Map.of());
        household.approvalOf(wish);
        assertThat(household
                        .as("ewan")
                        .get("/api/cases/" + wish)
                        .at("/askedOf/whom")
                        .toString())
                .as("nobody by name")
                .isEqualTo("[\"a colleague\"]");
    }

    @Test
    void aPhoneShowsWhatHappensAndTheAnswerInReach() {
        String approval = call("bram", "SK-51077");
        Console console = new Console(household);
        Page page = console.open("osei", "/approvals/" + approval, ColorScheme.DARK);
        page.setViewportSize(390, 844);
        assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setLevel(1)))
                .hasText("Pay 310.00 EUR back for booking SK-51077 to Bram Okafor");
        assertThat(page).hasTitle(Pattern.compile("^\\(\\d+\\+?\\) Pay 310\\.00 EUR .*"));
        var approve = page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Approve"));
        assertThat(approve).isInViewport();
        assertThat(Console.seriousFaults(page)).isEmpty();
        approve.click();
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Yes, do it"))
                .click();
        Household.await(
                "the approval",
                () -> sheet("osei", approval).at("/summary/state").asString().equals("approved"));
        page.getByText("Who saw this").click();
        assertThat(page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("as they saw it"))
                        .first())
                .isVisible();
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("as they saw it"))
                .first()
                .click();
        assertThat(page.getByText("This is what was shown then.")).isVisible();
        assertThat(console.complaints()).isEmpty();
    }
}
