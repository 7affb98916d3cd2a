package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import jakarta.mail.internet.MimeMessage;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** What waits for people has a time of its own: it lapses, it stands still while a run is paused, and it can be made up for. */
class LapseTests {
    private static final String PAGE = "runbooks/cancelled-sailing-refund.md";
    private static Household household;

    @BeforeAll
    static void start() {
        household = new Household();
        Map<String, String> files = household.files(1);
        files.computeIfPresent(PAGE, (path, text) -> text.replace("within: PT30M", "within: PT5S"));
        household.publish("maren", files, "Nobody waits long");
    }

    @AfterAll
    static void stop() {
        household.close();
    }

    private static JsonNode sheet(String person, String approval) {
        return household.as(person).get("/api/approvals/" + approval);
    }

    private static String state(String approval) {
        return sheet("noor", approval).path("summary").path("state").asString();
    }

    private static long paid(String booking) {
        return household.standins.fares().refunds().stream()
                .filter(refund -> refund.path("reference").asString().equals(booking))
                .count();
    }

    @Test
    void aTextThatLapsedAfterMoneyWasPaidIsSentByWhoeverMayApproveIt() {
        String id = household.openRefund("ines", "SK-650001");
        String approval = household.approvalOf(id);
        assertThat(household.run("--as", "sunniva", "case", "show", id).out()).contains("an answer of Passenger desk");
        assertThat(household.as("sunniva").get("/api/cases/" + id + "/lanes").toString())
                .contains("Asked Passenger desk");
        assertThat(sheet("osei", approval).path("follows").path("silence").asString())
                .contains("nothing is sent");
        assertThat(sheet("osei", approval).path("maySendLate").asBoolean())
                .as("not while it is open")
                .isFalse();
        Household.await("nobody to have answered", () -> state(approval).equals("expired"));
        Household.await("people to have it", () -> household.state(id).equals("with-people"));
        assertThat(paid("SK-650001")).isEqualTo(1);
        assertThat(household.as("sunniva").get("/api/cases/" + id + "/lanes").toString())
                .contains("Handed over to Passenger desk");

        assertThat(sheet("osei", approval).path("maySendLate").asBoolean()).isTrue();
        assertThat(sheet("noor", approval).path("maySendLate").asBoolean()).isFalse();
        assertThat(household
                        .run("--as", "ines", "approval", "send-late", approval)
                        .code())
                .as("never the requester")
                .isNotZero();
        Said sent =
                household.run("--as", "osei", "approval", "send-late", approval, "--edit", "answer=It is paid, Ines.");
        assertThat(sent.code()).as(sent.err()).isZero();
        assertThat(state(approval)).isEqualTo("sent-late");
        assertThat(household.run("--as", "ines", "case", "show", id).out())
                .contains("It is paid, Ines.")
                .contains("Osei Brandt");
        assertThat(household
                        .run("--as", "osei", "approval", "send-late", approval)
                        .code())
                .as("once")
                .isNotZero();
    }

    @Test
    void theTimeOfAPausedRunStandsStill() {
        String id = household.openRefund("ines", "SK-650002");
        String approval = household.approvalOf(id);
        String run = approval.substring(0, approval.lastIndexOf('-'));
        Instant due = Instant.parse(
                sheet("osei", approval).path("summary").path("due").asString());
        Said paused = household.run("--as", "sunniva", "run", "pause", run, "--reason", "I ask the harbour");
        assertThat(paused.code()).as(paused.err()).isZero();
        assertThat(sheet("osei", approval).path("summary").path("paused").asString())
                .contains("I ask the harbour");
        Household.await("the time to be over", () -> Instant.now().isAfter(due.plusSeconds(2)));
        assertThat(state(approval)).isEqualTo("open");

        household.run("--as", "sunniva", "run", "resume", run);
        Instant later = Instant.parse(
                sheet("osei", approval).path("summary").path("due").asString());
        assertThat(later).isAfter(due.plusSeconds(2));
        Household.await("it to lapse after all", () -> state(approval).equals("expired"));
        assertThat(Instant.now()).isAfterOrEqualTo(later);
    }

    @Test
    void whatWasShownStaysHoweverThingsWentOn() {
        String id = household.openRefund("bram", "SK-51077"); // so much that a duty manager is asked before it is paid
        String approval = household.approvalOf(id);
        JsonNode before = sheet("osei", approval);
        assertThat(before.path("confirm").asString()).contains("310.00 EUR").contains("Bram Okafor");
        assertThat(household
                        .run("--as", "osei", "approval", "decide", approval, "--approve")
                        .code())
                .isZero();
        Household.await("people to have it", () -> household.state(id).equals("with-people"));
        household.run("--as", "sunniva", "case", "resolve", id, "--how", "told by phone");
        JsonNode after = sheet("noor", approval);
        for (String part : List.of("sheet", "known", "requestText", "requestFields", "proof", "digest")) {
            assertThat(after.path(part)).as(part).isEqualTo(before.path(part));
        }
        assertThat(household.as("noor").get("/api/cases/" + id).path("runs").toString())
                .as("the run has learned more since")
                .contains("RF-");
    }

    @Test
    void whereSeveralApproveATextTheOneThatAllApprovedIsSent() {
        Map<String, String> files = household.files(1);
        files.computeIfPresent(
                PAGE, (path, text) -> text.replace("of: passengers\nedit", "of: passengers\nquorum: 2\nedit"));
        household.publish("maren", files, "Two look at it");
        try {
            String id = household.openRefund("ines", "SK-650004");
            String approval = household.approvalOf(id);
            household.run(
                    "--as", "osei", "approval", "decide", approval, "--approve", "--text", "Paid back in full, Ines.");
            assertThat(sheet("sunniva", approval).path("sheet").toString()).contains("Paid back in full, Ines.");
            Said second = household.run("--as", "sunniva", "approval", "decide", approval, "--approve");
            assertThat(second.code()).as(second.err()).isZero();
            Said third = household.run("--as", "noor", "approval", "show", approval);
            if (third.out().contains("[open]")) {
                household.run("--as", "lucja", "approval", "decide", approval, "--approve");
            }
            Household.await("it to be sent", () -> household.state(id).equals("resolved"));
            assertThat(household.run("--as", "ines", "case", "show", id).out()).contains("Paid back in full, Ines.");
        } finally {
            household.run("--as", "maren", "handbook", "restore", "2");
        }
    }

    @Test
    void sendingBackIsNotWithdrawing() {
        String id = household.openRefund("ines", "SK-650003");
        String approval = household.approvalOf(id);
        Said back = household.run("--as", "osei", "approval", "decide", approval, "--feedback", "Name the ship.");
        assertThat(back.code()).as(back.err()).isZero();
        assertThat(state(approval)).isEqualTo("sent-back");
    }

    @Test
    void aLinkAndAMailAfterItLapsedSayThatItIsTooLate() throws Exception {
        String approval = household.approvalOf(household.openRefund("ines", "SK-650011"));
        Post osei = new Post(household, "osei");
        MimeMessage mail = osei.awaitMail("/approvals/" + approval + "\n");
        String link = AskedByMailTests.link(mail);
        Http http = new Http(household.url()).with("Form-Link", link);
        Household.await("nobody to have answered", () -> state(approval).equals("expired"));
        Http.Answer late = http.post("/api/public/approval/answers", Json.write(Map.of("decision", "approve")));
        assertThat(late.status()).isIn(404, 409, 410);
        assertThat(late.detail()).isNotBlank();
        osei.answer(mail, "passengers@skerryline.example", "yes\n");
        assertThat(Post.text(osei.awaitMail("already expired"))).contains("/approvals/" + approval);
        assertThat(state(approval)).isEqualTo("expired");
    }

    @Test
    void ofAnAnswerAndTheEndOfItsTimeOneCounts() {
        String approval = household.approvalOf(household.openRefund("ines", "SK-650012"));
        JsonNode sheet = sheet("osei", approval);
        Instant due = Instant.parse(sheet.at("/summary/due").asString());
        String answer = Json.write(
                Map.of("decision", "approve", "digest", sheet.path("digest").asString()));
        Http http = Http.as(household, "osei");
        Household.await("its last moment", () -> Instant.now().isAfter(due.minusMillis(60)));
        List<Integer> said = Stream.generate(() ->
                        CompletableFuture.supplyAsync(() -> http.post("/api/approvals/" + approval + "/answers", answer)
                                .status()))
                .limit(8)
                .toList()
                .stream()
                .map(CompletableFuture::join)
                .toList();
        Household.await("it to be decided", () -> !state(approval).equals("open"));
        long counted = said.stream().filter(status -> status == 200).count();
        assertThat(said).allMatch(status -> status == 200 || status == 409);
        assertThat(counted).isEqualTo(state(approval).equals("approved") ? 1 : 0);
    }
}
