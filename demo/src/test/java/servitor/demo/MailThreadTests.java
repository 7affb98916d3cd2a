package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.PlaywrightAssertions;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import jakarta.mail.Multipart;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** People write by mail, hear back by mail, and write again: through the relay and the mailboxes of the stand-in mail server. */
class MailThreadTests {
    private static final String PASSENGERS = "passengers@skerryline.example";
    private static final String IT = "it@skerryline.example";

    private static final Map<String, String> FILES = files(
            "kinds/shelf.yaml",
            "title: A question about a shelf\ndesk: it\nopen-to: [everybody]\n",
            "agents/helper.yaml",
            "title: Helper\ndesk: it\nmodel: writer\nbrief: { job: Asks about shelves. }\n",
            "mandates/helper.yaml",
            """
            title: What the helper may do
            for: [helper]
            ask: it-resolvers
            grants:
              - { name: tell, tools: ["case.*"], verdict: allow }
            """,
            "intake/shelf.yaml",
            """
            title: Shelves
            from: mail
            connection: it-mailbox
            kind: shelf
            when: message.subject.contains("shelf")
            """,
            "intake/bench.yaml",
            """
            title: Benches
            from: mail
            connection: it-mailbox
            kind: shelf
            when: message.subject.contains("bench")
            belongs-to: newest-open
            """,
            "kinds/echo.yaml",
            "title: An echo\ndesk: it\nopen-to: [everybody]\n",
            "intake/echo.yaml",
            """
            title: Echoes
            from: mail
            connection: it-mailbox
            kind: echo
            when: message.subject.contains("echo")
            """,
            "runbooks/echo.md",
            """
            ---
            title: Ask again and again
            desk: it
            agent: helper
            starts:
              - { on: case-opened, kind: echo }
            ---
            ## Ask
            ```step
            tell: requester
            text: "What do you hear, ${case.id}?"
            at-most: 4
            on: { exhausted: done }
            ```

            ## Wait
            ```step
            await: reply
            within: P1D
            go: { arrived: ask, expired: done }
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """,
            "kinds/cupboard.yaml",
            "title: A question about a cupboard\ndesk: it\nopen-to: [everybody]\npersonal: true\n",
            "intake/cupboard.yaml",
            """
            title: Cupboards
            from: mail
            connection: it-mailbox
            kind: cupboard
            when: message.subject.contains("My cup")
            """,
            "runbooks/cupboard.md",
            """
            ---
            title: Tell of a cupboard
            desk: it
            agent: helper
            starts:
              - { on: case-opened, kind: cupboard }
            ---
            ## Say it
            ```step
            tell: requester
            text: "Your cupboard has the number 217."
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """,
            "runbooks/shelf.md",
            """
            ---
            title: Ask about a shelf
            desk: it
            agent: helper
            starts:
              - { on: case-opened, kind: shelf }
            ---
            ## Ask
            ```step
            tell: requester
            text: "Which shelf of ${case.id} is it?"
            at-most: 3
            on: { exhausted: done }
            ```

            ## Wait
            ```step
            await: reply
            save: reply
            within: P1D
            go: { arrived: thank, expired: done }
            ```

            ## Thank
            ```step
            tell: requester
            by: mail
            text: "Thank you, the ${case.subject} by ${requester.proof}."
            go: done
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """);

    private static Household household;

    private static Map<String, String> files(String... namesAndTexts) {
        Map<String, String> files = new TreeMap<>();
        for (int i = 0; i < namesAndTexts.length; i += 2) {
            files.put(namesAndTexts[i], namesAndTexts[i + 1]);
        }
        return files;
    }

    @BeforeAll
    static void start() {
        household = Household.ofMails();
        household.add(FILES, "Shelves");
    }

    private static JsonNode caseOf(String subject) {
        return Household.await(
                "the case of ‘" + subject + "’",
                () -> household
                        .as("noor")
                        .get("/api/cases?limit=200")
                        .path("items")
                        .valueStream()
                        .filter(one -> one.path("subject").asString().equals(subject))
                        .findFirst()
                        .orElse(null));
    }

    private static JsonNode note(String caseId, String words) {
        return Household.await(
                "a note with ‘" + words + "’",
                () -> household
                        .as("noor")
                        .get("/api/cases/" + caseId)
                        .path("notes")
                        .valueStream()
                        .filter(one -> one.path("text").asString().contains(words))
                        .findFirst()
                        .orElse(null));
    }

    private static void state(String caseId, String state) {
        Household.await(
                caseId + " to be " + state,
                () -> summary(caseId).path("state").asString().equals(state));
    }

    private static JsonNode summary(String caseId) {
        return household.as("noor").get("/api/cases/" + caseId).path("summary");
    }

    @Test
    void whoAsksByMailHearsByMailInOneThread() throws Exception {
        Post ines = new Post(household, "ines");
        String asked = ines.send(PASSENGERS, "My fare", "You cancelled SK-48213; please pay the fare back.");
        String id = caseOf("My fare").path("id").asString();
        assertThat(summary(id).path("channel").asString()).isEqualTo("mail");

        MimeMessage acknowledged = ines.awaitMail("We have your request, it is " + id);
        assertThat(Post.header(acknowledged, "In-Reply-To")).isEqualTo("<" + asked + ">");
        assertThat(Post.header(acknowledged, "Auto-Submitted")).isEqualTo("auto-replied");
        note(id, "We have your request");

        household.as("osei").post("/api/approvals/" + household.approvalOf(id) + "/answers", answer(id));
        MimeMessage told = ines.awaitMail("84.50 EUR is on its way");
        assertThat(Post.text(told))
                .startsWith("[Written with a machine's help, read by a person]")
                .contains("-- \nSkerry Line, passenger desk");
        assertThat(told.getSubject()).startsWith("Re: My fare [" + id + ".");
        assertThat(((Multipart) told.getContent()).getBodyPart(1).getContentType())
                .startsWith("text/html");
        assertThat(note(id, "84.50 EUR is on its way").path("channel").asString())
                .isEqualTo("mail");
        assertThat(household
                        .run("--as", "noor", "trail", "show", "--case", id, "--what", "call-answered", "--json")
                        .out())
                .contains("ines@skerryline.example");
        assertThat(household.standins.mail().mails(PASSENGERS, "Sent"))
                .as("the server files what it sends")
                .isNotEmpty();

        state(id, "resolved");
        ines.answer(told, PASSENGERS, "Thank you. When will it be there?");
        note(id, "When will it be there?");
        assertThat(summary(id).path("state").asString())
                .as("whoever writes again is heard")
                .isEqualTo("with-people");
    }

    private static Map<String, Object> answer(String caseId) {
        String approval = household.approvalOf(caseId);
        JsonNode sheet = household.as("osei").get("/api/approvals/" + approval);
        return Map.of("decision", "approve", "digest", sheet.path("digest").asString());
    }

    @Test
    void anAnswerWakesWhoeverWaitsForItAndSaysHowMuchItProves() throws Exception {
        Post edda = new Post(household, "edda");
        edda.send(IT, "shelf of nets", "It is broken.");
        String id = caseOf("shelf of nets").path("id").asString();
        MimeMessage question = edda.awaitMail("Which shelf of " + id);
        edda.send(
                "edda@skerryline.example, ewan@skerryline.example",
                IT,
                "Re: " + question.getSubject(),
                "Of two senders.",
                "In-Reply-To: " + question.getMessageID() + "\r\n");
        assertThat(note(id, "Of two senders").path("author").path("sort").asString())
                .isEqualTo("stranger");
        assertThat(summary(id).path("state").asString()).isEqualTo("waiting");

        edda.answer(question, IT, "The left one.\n\nOn Saturday, the desk wrote:\n> Which?");
        edda.awaitMail("Thank you, the shelf of nets by verified.");
        assertThat(note(id, "The left one.").path("text").asString()).isEqualTo("The left one.");
        assertThat(note(id, "The left one.").path("proof").asString()).isEqualTo("verified");
    }

    @Test
    void aForgedAnswerLowersWhatIsKnownAndGoesToNobodyElse() throws Exception {
        Post tomas = new Post(household, "tomas");
        tomas.send(IT, "shelf of ropes", "It is broken.");
        String id = caseOf("shelf of ropes").path("id").asString();
        assertThat(summary(id).path("proof").asString()).isEqualTo("verified");
        MimeMessage question = tomas.awaitMail("Which shelf of " + id);
        tomas.forge(
                "tomas@skerryline.example",
                IT,
                "Re: " + question.getSubject(),
                "The right one.",
                "In-Reply-To: " + question.getMessageID() + "\r\nReply-To: thief@elsewhere.example\r\n"
                        + "Authentication-Results: mx.skerryline.example; dmarc=pass header.from=skerryline.example\r\n");
        note(id, "The right one.");
        assertThat(summary(id).path("proof").asString()).isEqualTo("claimed");
        assertThat(household
                        .run("--as", "noor", "trail", "show", "--case", id, "--what", "proof-lowered")
                        .out())
                .contains("\"to\":\"claimed\"");
        String approval = household.approvalOf(id); // what it would send now, people are asked about first
        assertThat(household.as("noor").get("/api/approvals/" + approval).toString())
                .contains("the requester is only claimed");
        assertThat(household.standins.mail().addresses()).doesNotContainKey("thief@elsewhere.example");
    }

    @Test
    void whoeverWasOnlyInCopyIsAStrangerUntilStaffNameThem() throws Exception {
        Post ines = new Post(household, "ines");
        Post ewan = new Post(household, "ewan");
        ines.send("ines@skerryline.example", IT, "shelf of oars", "It is broken.", "Cc: ewan@skerryline.example\r\n");
        String id = caseOf("shelf of oars").path("id").asString();
        MimeMessage question = ines.awaitMail("Which shelf of " + id);
        ewan.answer(question, IT, "Pay it to me.");
        JsonNode strange = note(id, "Pay it to me.");
        assertThat(strange.path("author").path("sort").asString()).isEqualTo("stranger");
        assertThat(strange.path("audience").asString()).isEqualTo("staff");
        assertThat(household.as("ines").get("/api/cases/" + id).toString()).doesNotContain("Pay it to me.");
        assertThat(household.as("ines").get("/api/cases/" + id + "/mails")).hasSize(1);
        assertThat(summary(id).path("state").asString()).isEqualTo("waiting");

        assertThat(household.run("--as", "teun", "case", "name", id, "ewan").out())
                .contains("takes part");
        assertThat(household.run("--as", "sunniva", "case", "name", id, "bram").err())
                .as("another desk's")
                .contains("no case");
        ewan.answer(question, IT, "I carried it in.");
        JsonNode known = note(id, "I carried it in.");
        assertThat(known.path("author").path("id").asString()).isEqualTo("ewan");
        assertThat(summary(id).path("state").asString())
                .as("it isn't the requester's answer")
                .isEqualTo("waiting");
        assertThat(household.run("--as", "teun", "case", "show", id).out())
                .contains("Takes part: Ewan Mirza", "who takes no part in the case, by mail");

        Page page = new Console(household).open("teun", "/cases/" + id, ColorScheme.DARK);
        PlaywrightAssertions.assertThat(page.getByText("Whoever wrote this takes no part in the case"))
                .isVisible();
        page.getByText("Takes part: Ewan Mirza").click();
        page.getByLabel("Who else takes part").fill("nobody-here");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Name them"))
                .click();
        PlaywrightAssertions.assertThat(page.getByText("there is no person ‘nobody-here’"))
                .isVisible();
        page.getByLabel("Who else takes part").fill("bram");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Name them"))
                .click();
        PlaywrightAssertions.assertThat(page.getByText("Takes part: Bram Okafor, Ewan Mirza"))
                .isVisible();
        assertThat(Console.seriousFaults(page)).isEmpty();

        new Post(household, "teun").answer(question, IT, "I have looked at it.");
        assertThat(note(id, "I have looked at it.").path("audience").asString())
                .as("what the desk writes stays at the desk")
                .isEqualTo("staff");
        assertThat(household
                        .run("--as", "teun", "case", "name", id, "ewan", "--no-longer")
                        .out())
                .contains("no longer");
    }

    @Test
    void marksThatWereGuessedAreNoThread() throws Exception {
        Post bram = new Post(household, "bram");
        bram.send(IT, "shelf of lamps", "It is broken.");
        String id = caseOf("shelf of lamps").path("id").asString();
        MimeMessage question = bram.awaitMail("Which shelf of " + id);
        String guessed = question.getMessageID().replaceFirst("\\.[A-Za-z0-9_-]{16}@", ".AAAAAAAAAAAAAAAA@");
        bram.forge(
                "bram@skerryline.example",
                IT,
                "shelf of guesses [" + id + ".AAAAAAAAAAAAAAAA]",
                "A guess.",
                "In-Reply-To: " + guessed + "\r\n");
        assertThat(caseOf("shelf of guesses").path("id").asString())
                .as("a case of its own")
                .isNotEqualTo(id);

        bram.send(IT, "A bench as well", "By the way, two of them.");
        assertThat(note(newestOf("bram"), "By the way").path("proof").asString())
                .as("a proven sender's newest open case, as the intake says")
                .isEqualTo("verified");
    }

    private static String newestOf(String person) {
        return household
                .as("noor")
                .get("/api/cases?limit=200")
                .path("items")
                .valueStream()
                .filter(one -> one.path("requester").path("id").asString().equals(person)
                        && one.path("desk").asString().equals("it")
                        && !one.path("state").asString().equals("resolved"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asString();
    }

    @Test
    void ofAPersonalCaseAMailHoldsALinkAlone() throws Exception {
        Post ewan = new Post(household, "ewan");
        ewan.send(IT, "My cupboard", "Which one is mine?");
        String id = caseOf("My cupboard").path("id").asString();
        MimeMessage told = ewan.awaitMail("/cases/" + id);
        assertThat(Post.text(told))
                .startsWith("There is something new in your case")
                .doesNotContain("217");
        assertThat(told.getSubject()).contains("A question about a cupboard").doesNotContain("My cupboard");
        assertThat(note(id, "217").path("channel").asString()).isEqualTo("mail");
    }

    private static String run(String caseId) {
        return household
                .as("noor")
                .get("/api/cases/" + caseId)
                .path("runs")
                .path(0)
                .path("id")
                .asString();
    }

    @Test
    void aResponderThatKnowsNoMannersIsAnsweredNoMoreThanThePageAllows() {
        household.standins.mail().setAway("edda@skerryline.example", "!I am on the water, and always say so.");
        try {
            Post edda = new Post(household, "edda");
            edda.send(IT, "An echo", "I hear something.");
            String id = caseOf("An echo").path("id").asString();
            state(id, "resolved");
            note(id, "always say so");
            long asked = edda.inbox().stream()
                    .filter(mail -> Post.text(mail).contains("What do you hear, " + id))
                    .count();
            assertThat(asked).isEqualTo(4);
        } finally {
            household.standins.mail().setAway("edda@skerryline.example", "");
        }
    }

    @Test
    void aMailThatDidNotArriveIsTroubleOfItsCase() throws Exception {
        Post tomas = new Post(household, "tomas");
        tomas.send(IT, "shelf of bells", "It is broken.");
        String id = caseOf("shelf of bells").path("id").asString();
        MimeMessage question = tomas.awaitMail("Which shelf of " + id);
        String report = "--b\r\nContent-Type: text/plain\r\n\r\nNobody lives at this address.\r\n"
                + "--b\r\nContent-Type: text/rfc822-headers\r\n\r\nMessage-ID: " + question.getMessageID()
                + "\r\nSubject: x\r\n\r\n--b--\r\n";
        tomas.forge(
                "postmaster@elsewhere.example",
                IT,
                "Undelivered",
                report,
                "Content-Type: multipart/report; report-type=delivery-status; boundary=b\r\n");
        JsonNode trouble = Household.await(
                "the trouble",
                () -> household
                        .as("teun")
                        .get("/api/cases/" + id)
                        .path("runs")
                        .path(0)
                        .path("troubles")
                        .valueStream()
                        .filter(one -> one.path("what").asString().equals("undelivered"))
                        .findFirst()
                        .orElse(null));
        assertThat(trouble.path("detail").asString()).contains("Nobody lives at this address");
        household
                .as("teun")
                .post(
                        "/api/runs/" + run(id) + "/troubles/"
                                + trouble.path("id").asString(),
                        Map.of("does", "take-over", "reason", "I call him."));
    }

    @Test
    void aSubjectMakesNoHeadersOfItsOwn() throws Exception {
        Post ines = new Post(household, "ines");
        ines.send(IT, "=?utf-8?q?shelf_of_pins=0D=0ABcc:_thief@elsewhere.example?=", "It is broken.");
        String id =
                caseOf("shelf of pins Bcc: thief@elsewhere.example").path("id").asString();
        MimeMessage question = ines.awaitMail("Which shelf of " + id);
        assertThat(question.getHeader("Bcc")).isNull();
        assertThat(question.getAllRecipients()).hasSize(1);
        assertThat(household.standins.mail().addresses()).doesNotContainKey("thief@elsewhere.example");
    }

    /** A mail server that takes a mail and hangs up before it says so. */
    private static ServerSocket hangsUp() throws IOException {
        ServerSocket listening = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        CompletableFuture.runAsync(() -> {
            while (!listening.isClosed()) {
                try (var socket = listening.accept();
                        var in = socket.getInputStream()) {
                    var out = socket.getOutputStream();
                    for (String answer : List.of("220 x", "250 x", "250 ok", "250 ok", "354 go")) {
                        out.write((answer + "\r\n").getBytes());
                        StringBuilder line = new StringBuilder();
                        while (line.indexOf(answer.startsWith("354") ? "\r\n.\r\n" : "\r\n") < 0) {
                            int next = in.read();
                            if (next < 0) {
                                break;
                            }
                            line.append((char) next);
                        }
                    }
                } catch (IOException e) {
                    // the next one, then
                }
            }
        });
        return listening;
    }

    @Test
    void aMailOfWhichItIsNotKnownWhetherItWentOutIsAPersonsToSettle() throws Exception {
        try (ServerSocket server = hangsUp()) {
            household
                    .as("admin")
                    .put(
                            "/api/connections/broken-post",
                            Map.of("url", "smtp://127.0.0.1:" + server.getLocalPort(), "inside", true));
            household.add(
                    Map.of(
                            "desks.yaml",
                            household
                                    .files(1)
                                    .get("desks.yaml")
                                    .replace("connection: it-post", "connection: broken-post")),
                    "A broken server");
            Post bram = new Post(household, "bram");
            bram.forge("bram@skerryline.example", IT, "shelf of doubts", "It is broken.", "");
            String id = caseOf("shelf of doubts").path("id").asString();
            String approval = household.approvalOf(id);
            JsonNode sheet = household.as("teun").get("/api/approvals/" + approval);
            household
                    .as("teun")
                    .post(
                            "/api/approvals/" + approval + "/answers",
                            Map.of(
                                    "decision",
                                    "approve",
                                    "digest",
                                    sheet.path("digest").asString()));
            Household.await(
                    "the run to be in doubt",
                    () -> household
                            .as("teun")
                            .get("/api/runs/" + run(id))
                            .path("status")
                            .asString()
                            .equals("in-doubt"));
            assertThat(household.as("noor").get("/api/cases/" + id).path("notes"))
                    .as("what may not have been told stands nowhere as told")
                    .isEmpty();
            household
                    .as("teun")
                    .post(
                            "/api/runs/" + run(id) + "/settlement",
                            Map.of("happened", true, "reason", "He called and had it.", "result", Map.of()));
            assertThat(note(id, "Which shelf").path("channel").asString()).isEqualTo("mail");
        } finally {
            household.add(Map.of("desks.yaml", household.files(1).get("desks.yaml")), "It is mended");
        }
    }

    @Test
    void aMailFromAFileIsTriedAndTakenIn() throws Exception {
        var file = household.folder.resolve("a.eml");
        java.nio.file.Files.writeString(
                file,
                "From: edda@skerryline.example\r\nSubject: shelf of files\r\nMessage-ID: <f1@x.example>\r\n\r\nIt is broken.\r\n");
        assertThat(household
                        .run("--as", "teun", "intake", "try", "shelf", file.toString())
                        .out())
                .contains("This would open a case of kind shelf for edda");
        assertThat(household
                        .run("--as", "teun", "intake", "send", "shelf", file.toString())
                        .out())
                .contains("Opened C-");
        assertThat(household
                        .run("--as", "teun", "intake", "send", "shelf", file.toString())
                        .out())
                .contains("already");
        assertThat(caseOf("shelf of files").path("proof").asString()).isEqualTo("claimed");
        assertThat(household
                        .run("--as", "sunniva", "intake", "try", "shelf", file.toString())
                        .err())
                .as("another desk's")
                .isNotBlank();
        java.nio.file.Files.writeString(file, "From: nobody@x.example\r\nSubject: shelf\r\n\r\nx");
        assertThat(household
                        .run("--as", "teun", "intake", "try", "shelf", file.toString())
                        .out())
                .contains("Left out: nobody here has");
    }

    @Test
    void aDeskIsToldInItsRoomAndPeopleByMailOrNote() {
        household.add(Map.of("runbooks/tell-others.md", """
                        ---
                        title: Tell others
                        desk: it
                        agent: helper
                        ---
                        ## In the room
                        ```step
                        tell: it
                        by: chat
                        text: "The mast of ${case.id} is down."
                        ```

                        ## By mail
                        ```step
                        tell: it-resolvers
                        by: mail
                        text: "Please see to the mast of ${case.id}."
                        ```

                        ## By a note
                        ```step
                        tell: person:teun
                        by: note
                        text: "The mast of ${case.id} is yours."
                        ```

                        ## To whom nobody shows it
                        ```step
                        tell: person:bram
                        by: note
                        text: "You don't see ${case.id}."
                        on: { refused: done }
                        ```

                        ## Done
                        ```step
                        finish: with-people
                        ```
                        """), "Others");
        String id = household.open("ewan", "cupboard", "The mast", "It fell.", Map.of());
        state(id, "resolved");
        household.as("teun").post("/api/cases/" + id + "/runs", Map.of("page", "tell-others"));
        Household.await(
                "the room to hear it",
                () -> household.standins.room().said().stream().anyMatch(said -> said.contains(id)));
        assertThat(household.standins.room().said())
                .as("of a personal case a room hears where it is, and no more")
                .noneMatch(said -> said.contains("mast"))
                .anyMatch(said -> said.contains("/cases/" + id));
        new Post(household, "teun").awaitMail("/cases/" + id);
        JsonNode note = note(id, "is yours");
        assertThat(note.path("told").asString()).isEqualTo("Teun Abara");
        assertThat(note.path("audience").asString()).isEqualTo("staff");
        state(id, "with-people");
        assertThat(household.as("noor").get("/api/cases/" + id).toString()).doesNotContain("You don't see");
    }
}
