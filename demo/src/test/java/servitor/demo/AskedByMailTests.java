package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import jakarta.mail.internet.MimeMessage;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** Approvers are asked by mail, and answer by its link or by a mail; nothing that only looks decides, and nothing counts twice. */
class AskedByMailTests {
    private static final Pattern LINK = Pattern.compile("/form/approval#(\\S+)");
    private static final String DESK = "passengers@skerryline.example";

    private final Household household = Household.shared();
    private final Post osei = new Post(household, "osei");
    private final Post lucja = new Post(household, "lucja");

    /** Who wasn't cancelled is refused; the wording waits. */
    private String wording() {
        return household.approvalOf(household.openRefund("tomas", "SK-47001"));
    }

    /** A refund above the limit waits for a duty manager. */
    private String call() {
        return household.approvalOf(household.openRefund("bram", "SK-51077"));
    }

    private MimeMessage mailOf(Post whose, String approval) {
        return whose.awaitMail("/approvals/" + approval + "\n");
    }

    static String link(MimeMessage mail) {
        Matcher matcher = LINK.matcher(Post.text(mail));
        assertThat(matcher.find()).as(Post.text(mail)).isTrue();
        return matcher.group(1);
    }

    private Http.Answer byLink(String link, Object body) {
        Http http = new Http(household.url()).with("Form-Link", link);
        return body == null
                ? http.get("/api/public/approval")
                : http.send("POST", "/api/public/approval/answers", Json.write(body));
    }

    private static JsonNode read(Http.Answer answer) {
        return Json.read(answer.body(), JsonNode.class);
    }

    private String state(String approval) {
        return household
                .as("noor")
                .get("/api/approvals/" + approval)
                .at("/summary/state")
                .asString();
    }

    private List<JsonNode> answered(String approval) {
        String caseId = household
                .as("noor")
                .get("/api/approvals/" + approval)
                .at("/summary/caseId")
                .asString();
        return household
                .as("noor")
                .get("/api/trail?limit=200&case=" + caseId)
                .path("items")
                .valueStream()
                .filter(entry -> List.of("approval-answered", "answer-refused")
                                .contains(entry.path("what").asString())
                        && entry.at("/data/approval").asString().equals(approval))
                .toList();
    }

    @Test
    void theMailSaysWhatHappensAndItsLinkShowsItWithoutDoingAnything() throws Exception {
        String approval = call();
        MimeMessage mail = mailOf(osei, approval);
        assertThat(mail.getSubject()).startsWith("Pay 310.00 EUR back for booking SK-51077 to Bram Okafor [C-");
        assertThat(Post.text(mail))
                .contains("allows it alone only when args.amount <= 120.0", "Bram Okafor asks (signed-in)")
                .contains("Without signing in you can decline it here, once:")
                .doesNotContain("approve the wording");
        String link = link(mail);
        for (int i = 0; i < 5; i++) { // programs fetch what stands in mails
            assertThat(read(byLink(link, null)).path("state").asString()).isEqualTo("open");
        }
        assertThat(state(approval)).isEqualTo("open");
        JsonNode shown = read(byLink(link, null));
        assertThat(shown.path("headline").asString()).startsWith("Pay 310.00 EUR");
        assertThat(shown.path("mayApprove").asBoolean()).isFalse();
        assertThat(new Http(household.url()).get("/form/approval?" + link).body())
                .doesNotContain("310.00");
    }

    @Test
    void whatActsIsNotApprovedByALinkAndADeclineCountsOnce() {
        String approval = call();
        String link = link(mailOf(osei, approval));
        assertThat(byLink(link, Map.of("decision", "approve")).status()).isEqualTo(403);
        assertThat(byLink(link, Map.of("decision", "decline")).status())
                .as("a reason is needed")
                .isEqualTo(422);
        assertThat(state(approval)).isEqualTo("open");
        assertThat(byLink(link, Map.of("decision", "decline", "reason", "Not this month."))
                        .status())
                .isEqualTo(200);
        assertThat(state(approval)).isEqualTo("declined");
        Http.Answer again = byLink(link, Map.of("decision", "decline", "reason", "Once more."));
        assertThat(again.status()).isEqualTo(409);
        assertThat(again.body()).contains("answered already");
        assertThat(read(byLink(link, null)).path("state").asString()).isEqualTo("answered");
        assertThat(byLink(link(mailOf(lucja, approval)), Map.of("decision", "decline", "reason", "Late."))
                        .status())
                .isEqualTo(409);
        assertThat(answered(approval)
                        .get(answered(approval).size() - 1)
                        .at("/data/via")
                        .asString())
                .isEqualTo("link");
    }

    @Test
    void wordingIsApprovedByALinkAsItIsShownAndNoOtherwise() {
        String approval = wording();
        String link = link(mailOf(osei, approval));
        JsonNode shown = read(byLink(link, null));
        assertThat(shown.path("mayApprove").asBoolean()).isTrue();
        assertThat(shown.path("drafts").path(0).asString()).startsWith("Good day Tomas");
        assertThat(byLink(link, Map.of("decision", "approve", "drafts", List.of("Good day Tomas, your boat sailed.")))
                        .status())
                .as("whoever has a link doesn't write in the company's name")
                .isEqualTo(403);
        assertThat(state(approval)).isEqualTo("open");
        assertThat(byLink(link, Map.of("decision", "approve")).status()).isEqualTo(200);
        assertThat(state(approval)).isEqualTo("approved");
        JsonNode answer = household
                .as("noor")
                .get("/api/approvals/" + approval)
                .path("answers")
                .path(0);
        assertThat(answer.path("via").asString()).isEqualTo("link");
        assertThat(answer.path("texts")).isEmpty();
    }

    @Test
    void alteredSwappedAndRunOutLinksOpenNothing() {
        String approval = call();
        String link = link(mailOf(osei, approval));
        String other = link(mailOf(lucja, approval));
        String[] own = link.split("\\.");
        String[] others = other.split("\\.");
        assertThat(Stream.of(
                                link.substring(0, link.length() - 1) + (link.endsWith("A") ? "B" : "A"),
                                others[0] + "." + own[1] + "." + own[2],
                                own[0] + "." + (Long.parseLong(own[1]) + 86_400) + "." + own[2],
                                own[0] + ".1." + own[2],
                                "",
                                "x".repeat(200))
                        .map(one -> byLink(one, Map.of("decision", "decline", "reason", "No."))
                                .status()))
                .allMatch(status -> status == 404);
        assertThat(state(approval)).isEqualTo("open");
    }

    @Test
    void aPlainNoByMailDeclinesAndSomebodyElsesCountsForNothing() throws Exception {
        String approval = call();
        MimeMessage mail = mailOf(osei, approval);
        new Post(household, "bram").answer(mail, DESK, "yes\n");
        osei.forge(
                "osei@skerryline.example",
                DESK,
                "Re: " + mail.getSubject(),
                "no, says somebody who isn't Osei\n",
                "In-Reply-To: " + mail.getMessageID() + "\r\n");
        lucja.answer(mail, DESK, "no, this is Osei's mail and I am Lucja\n");
        osei.answer(mail, DESK, "Nein: der Betrag stimmt nicht.\n\n> Pay 310.00 EUR back\n> yes\n");
        assertThat(Post.text(osei.awaitMail("it is declined"))).contains("/approvals/" + approval);
        assertThat(state(approval)).isEqualTo("declined");
        List<JsonNode> all = answered(approval);
        assertThat(all).hasSize(1);
        assertThat(all.get(0).at("/data/reason").asString()).isEqualTo("der Betrag stimmt nicht.");
        assertThat(all.get(0).at("/data/via").asString()).isEqualTo("mail");
        String caseId = household
                .as("noor")
                .get("/api/approvals/" + approval)
                .at("/summary/caseId")
                .asString();
        Household.await(
                "the others' mails as notes of strangers",
                () -> household
                                .as("osei")
                                .get("/api/cases/" + caseId)
                                .path("notes")
                                .valueStream()
                                .filter(note -> note.path("author")
                                        .path("id")
                                        .asString("")
                                        .contains("@"))
                                .count()
                        >= 3);
    }

    @Test
    void aYesByMailApprovesWordingAndNothingElse() throws Exception {
        String approval = call();
        osei.answer(mailOf(osei, approval), DESK, "Yes.\n");
        assertThat(Post.text(osei.awaitMail("Your answer doesn't count. This isn't approved by mail.")))
                .contains("/approvals/" + approval);
        assertThat(state(approval)).isEqualTo("open");
        String words = wording();
        osei.answer(mailOf(osei, words), DESK, "OK\n");
        Household.await("the wording to be approved", () -> state(words).equals("approved"));
    }

    @Test
    void whatIsUnclearIsFeedbackOrNothing() throws Exception {
        String approval = wording();
        MimeMessage mail = mailOf(lucja, approval);
        lucja.answer(mail, DESK, "Dear all, I approve of the sea.\n");
        Household.await("the draft to be sent back", () -> state(approval).equals("sent-back"));
        assertThat(answered(approval).get(0).at("/data/answer").asString()).isEqualTo("feedback");
        String acting = call();
        MimeMessage asked = mailOf(lucja, acting);
        lucja.answer(asked, DESK, "Hm, yes, but only half of it\n");
        assertThat(Post.text(lucja.awaitMail("neither a plain yes nor a plain no")))
                .contains("/approvals/" + acting);
        lucja.send(
                "lucja@skerryline.example",
                DESK,
                "Out of office: " + asked.getSubject(),
                "no\n",
                "In-Reply-To: " + asked.getMessageID() + "\r\nAuto-Submitted: auto-replied\r\n");
        lucja.answer(asked, DESK, "I am out of the office until Monday.\n\nno\n");
        lucja.answer(asked, DESK, "\n\nOn 30 Nov 2026 the desk wrote:\n> no\n> decline\n");
        assertThat(answered(acting)).isEmpty();
        assertThat(state(acting)).isEqualTo("open");
    }

    @Test
    void aMailAnsweredAfterTheConsoleSaysThatItIsTooLate() throws Exception {
        String approval = call();
        MimeMessage mail = mailOf(osei, approval);
        household.run("--as", "lucja", "approval", "decide", approval, "--decline", "--reason", "Not now.");
        osei.answer(mail, DESK, "no, too much\n");
        assertThat(Post.text(osei.awaitMail("This approval is already declined")))
                .contains("/approvals/" + approval);
        assertThat(answered(approval).stream().map(entry -> entry.path("what").asString()))
                .containsExactlyInAnyOrder("approval-answered", "answer-refused");
    }

    @Test
    void ofTwoAnswersAtOnceOneCounts() {
        String approval = call();
        String link = link(mailOf(osei, approval));
        List<CompletableFuture<Integer>> both = Stream.of("Once.", "Twice.", "Thrice.")
                .map(reason -> CompletableFuture.supplyAsync(
                        () -> byLink(link, Map.of("decision", "decline", "reason", reason))
                                .status()))
                .toList();
        assertThat(both.stream().map(CompletableFuture::join))
                .containsOnlyOnce(200)
                .allMatch(s -> s == 200 || s == 409);
        assertThat(answered(approval).stream()
                        .filter(entry -> entry.path("what").asString().equals("approval-answered")))
                .hasSize(1);
    }

    @Test
    void ofAPersonalCaseNothingStandsInTheMail() {
        String id = household.open("ewan", "pay-question", "My bonus", "Where is my bonus of October?", Map.of());
        String approval = household.approvalOf(id);
        Post halvard = new Post(household, "halvard");
        MimeMessage mail = mailOf(halvard, approval);
        assertThat(Post.text(mail)).doesNotContain("bonus", "Ewan", "E-217");
        JsonNode shown = read(byLink(link(mail), null));
        assertThat(shown.toString()).doesNotContain("bonus", "Ewan", "E-217");
        assertThat(shown.path("mayApprove").asBoolean()).isFalse();
    }
}
