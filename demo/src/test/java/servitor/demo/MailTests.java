package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import com.icegreen.greenmail.store.FolderException;
import com.icegreen.greenmail.store.StoredMessage;
import com.icegreen.greenmail.user.GreenMailUser;
import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.PlaywrightAssertions;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import jakarta.mail.Flags;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.internet.MimeMessage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.JarURLConnection;
import java.net.URL;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.jar.JarEntry;
import java.util.jar.JarFile;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import servitor.cli.client.Client;
import tools.jackson.databind.JsonNode;

/** Mails of a server that nobody here wrote become cases, each once. */
class MailTests {
    private static final String INTAKE = """
            title: Lost things told by letter
            from: mail
            connection: mailbox
            kind: lost-thing
            when: "!message.subject.contains('newsletter')"
            fields:
              thing: "${message.subject}"
            """;
    private static final String RESULTS =
            "Authentication-Results: mx.skerryline.example; dmarc=pass header.from=skerryline.example\r\n"
                    + "Received: from x by mx.skerryline.example; now\r\n";

    private static Household household;
    private static GreenMail server;
    private static GreenMailUser inbox;

    @BeforeAll
    static void start() {
        household = Household.ofMails();
        server = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_IMAP));
        server.start();
        inbox = server.setUser("lost@skerryline.example", "lost@skerryline.example", "tide");
        household
                .as("admin")
                .put(
                        "/api/connections/mailbox",
                        Map.of(
                                "url",
                                "imap://127.0.0.1:" + server.getImap().getPort()
                                        + "?results-by=mx.skerryline.example&vouches-for=skerryline.example",
                                "inside",
                                true,
                                "signIn",
                                Map.of("kind", "password", "user", "lost@skerryline.example", "secret", "tide")));
        published(INTAKE);
    }

    @AfterAll
    static void stop() {
        server.stop();
    }

    private static void published(String intake) {
        household.add(Map.of("intake/lost-by-letter.yaml", intake), "Mail");
    }

    private static void arrives(String head, String subject, String text) {
        try {
            String raw = head + "Subject: " + subject + "\r\nMessage-ID: <" + java.util.UUID.randomUUID()
                    + "@x.example>\r\n\r\n" + text;
            inbox.deliver(new MimeMessage(
                    Session.getInstance(new Properties()),
                    new ByteArrayInputStream(raw.getBytes(StandardCharsets.UTF_8))));
        } catch (MessagingException e) {
            throw new IllegalStateException(e);
        }
    }

    private static JsonNode caseOf(String subject) {
        return Household.await("the case of ‘" + subject + "’", () -> {
            for (JsonNode one : household.as("noor").get("/api/cases?limit=200").path("items")) {
                if (one.path("subject").asString().equals(subject)) {
                    return one;
                }
            }
            return null;
        });
    }

    private static boolean isFlagged(String subject) {
        return stored(subject).getFlags().contains(Flags.Flag.FLAGGED);
    }

    private static StoredMessage stored(String subject) {
        try {
            for (StoredMessage stored :
                    server.getManagers().getImapHostManager().getInbox(inbox).getMessages()) {
                if (stored.getMimeMessage().getSubject().equals(subject)) {
                    return stored;
                }
            }
        } catch (MessagingException | FolderException e) {
            throw new IllegalStateException(e);
        }
        throw new AssertionError("there is no mail ‘" + subject + "’");
    }

    private static String reason(String subject) {
        return Household.await("the reason of ‘" + subject + "’", () -> {
            for (JsonNode one : household.as("sunniva").get("/api/intake/lost-by-letter/left-out")) {
                if (one.path("subject").asString().equals(subject)) {
                    return one.path("reason").asString();
                }
            }
            return null;
        });
    }

    @Test
    void aMailBecomesACaseWithWhatIsKnownOfItsSender() {
        arrives(
                RESULTS + "From: Ines <INES@skerryline.example>\r\n",
                "Re: A red scarf",
                "It lay on deck.\n\nOn Fri, 27 Nov 2026, X wrote:\n> old");
        JsonNode proven = caseOf("A red scarf");
        String id = proven.path("id").asString();
        JsonNode detail = household.as("ines").get("/api/cases/" + id);
        assertThat(detail.path("summary").path("proof").asString()).isEqualTo("verified");
        assertThat(detail.path("text").asString()).isEqualTo("It lay on deck.");
        JsonNode mail = household.as("ines").get("/api/cases/" + id + "/mails").path(0);
        assertThat(mail.path("sender").asString()).isEqualTo("INES@skerryline.example");
        Http.Answer original = Http.as(household, "ines")
                .get("/api/cases/" + id + "/mails/" + mail.path("id").asString());
        assertThat(original.body()).contains("> old");
        assertThat(original.response()
                        .headers()
                        .firstValue("Content-Disposition")
                        .orElseThrow())
                .startsWith("attachment");
        assertThat(Http.as(household, "bram").get("/api/cases/" + id + "/mails").status())
                .isEqualTo(404);

        arrives(
                "From: Ines <ines@skerryline.example>\r\n" + RESULTS.replace("Received", "X-Received"),
                "A blue scarf",
                "There.");
        assertThat(caseOf("A blue scarf").path("proof").asString()).isEqualTo("claimed");
        assertThat(household
                        .run("--as", "noor", "trail", "show", "--case", id, "--what", "mail-taken-in")
                        .out())
                .contains("\"proof\":\"verified\"");
    }

    @Test
    void whatComesWithAMailIsKept() {
        arrives(
                "From: bram@skerryline.example\r\nContent-Type: multipart/mixed; boundary=b\r\n",
                "A photo of it",
                "--b\r\n\r\nSee there.\r\n--b\r\nContent-Type: image/png; name=\"../scarf.png\"\r\n"
                        + "Content-Disposition: attachment\r\n\r\npng\r\n--b--\r\n");
        String id = caseOf("A photo of it").path("id").asString();
        assertThat(household
                        .as("bram")
                        .get("/api/cases/" + id)
                        .path("documents")
                        .path(0)
                        .path("name")
                        .asString())
                .isEqualTo(".._scarf.png");
    }

    @Test
    void whatIsNoRequestIsListedWithTheReasonAndTakenInByHand() {
        arrives("From: stranger@elsewhere.example\r\n", "Who am I", "x");
        arrives("From: ines@skerryline.example\r\nAuto-Submitted: auto-replied\r\n", "I am away", "x");
        arrives("From: ines@skerryline.example\r\nList-Id: <crew.example>\r\n", "Crew news", "x");
        arrives("From: lost@skerryline.example\r\n", "Of ourselves", "x");
        arrives("From: people@skerryline.example\r\n", "Of a desk of ours", "x");
        arrives("From: ines@skerryline.example\r\n", "Our newsletter of May: newsletter", "x");
        arrives("From: ines@skerryline.example\r\n", "<script>alert(1)</script>", "Words.");

        assertThat(reason("Who am I")).contains("nobody here has the address ‘stranger@elsewhere.example’");
        assertThat(reason("I am away")).contains("Auto-Submitted");
        assertThat(reason("Crew news")).contains("mailing list");
        assertThat(reason("Of ourselves")).contains("an address of ours");
        assertThat(reason("Of a desk of ours")).contains("an address of ours");
        assertThat(reason("Our newsletter of May: newsletter")).contains("condition");
        assertThat(caseOf("<script>alert(1)</script>").path("proof").asString()).isEqualTo("claimed");

        Household.await("the flag", () -> isFlagged("<script>alert(1)</script>"));
        assertThat(isFlagged("Who am I"))
                .as("what became no case stays as it is")
                .isFalse();

        String listed = household
                .run("--as", "sunniva", "intake", "left-out", "lost-by-letter")
                .out();
        String mail = listed.lines()
                .filter(line -> line.contains("Who am I"))
                .map(line -> line.substring(line.lastIndexOf(' ') + 1))
                .findFirst()
                .orElseThrow();
        assertThat(household
                        .run("--as", "teun", "intake", "take-in", "lost-by-letter", mail, "--for", "ines")
                        .err())
                .as("another desk's")
                .contains("There is no mail");
        assertThat(household
                        .run("--as", "sunniva", "intake", "take-in", "lost-by-letter", mail, "--for", "ines")
                        .out())
                .contains("Opened C-");
        assertThat(caseOf("Who am I").path("proof").asString()).isEqualTo("claimed");
        assertThat(household
                        .run("--as", "sunniva", "intake", "take-in", "lost-by-letter", mail, "--for", "ines")
                        .err())
                .contains("already");
        assertThat(household.run("--as", "sunniva", "intake", "list").out())
                .contains("mail, INBOX of mailbox ", "looked at");
    }

    @Test
    void whatWasLeftOutIsTakenInFromTheConsole() {
        arrives("From: friend@elsewhere.example\r\n", "A cap of Edda's", "It lay on the pier.");
        assertThat(reason("A cap of Edda's")).contains("nobody here has");
        Console console = new Console(household);
        Page page = console.open("sunniva", "/intake", ColorScheme.LIGHT);
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Take in A cap of Edda's"))
                .click();
        page.getByLabel("Whose case it is").fill("nobody-here");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Take it in"))
                .click();
        PlaywrightAssertions.assertThat(page.getByText("there is no person ‘nobody-here’"))
                .isVisible();
        assertThat(Console.seriousFaults(page)).isEmpty();
        page.getByLabel("Whose case it is").fill("edda");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Take it in"))
                .click();
        PlaywrightAssertions.assertThat(page.getByText("is only a claim")).isVisible();
        PlaywrightAssertions.assertThat(page.getByText("friend@elsewhere.example"))
                .isVisible();
    }

    /** That a mail is really from Ines says nothing of Bram, whom it names. */
    @Test
    void whoeverAMailNamesIsNotProvenByIt() {
        published(INTAKE + "requester: \"${message.subject}\"\n");
        arrives(RESULTS + "From: ines@skerryline.example\r\n", "bram@skerryline.example", "It is his.");
        JsonNode named = caseOf("bram@skerryline.example");
        assertThat(named.path("proof").asString()).isEqualTo("claimed");
        assertThat(household.as("bram").get("/api/cases").toString())
                .contains(named.path("id").asString());
        published(INTAKE);
    }

    /** What was taken in by a process that ended before it could mark it is marked by the next. */
    @Test
    void whatWasTakenInRightBeforeTheServiceDiedIsMarkedLater() throws Exception {
        arrives("From: edda@skerryline.example\r\n", "A lantern", "Of brass.");
        caseOf("A lantern");
        Household.await("the flag", () -> isFlagged("A lantern"));
        household.service.kill();
        stored("A lantern").setFlag(Flags.Flag.FLAGGED, false);
        household.start();
        Household.await("the flag of the next process", () -> isFlagged("A lantern"));
        caseOf("A lantern");
    }

    @Test
    void ofALargeMailThatIsLeftOutOnlyTheReasonIsKept() {
        arrives("From: flood@elsewhere.example\r\n", "Very much", "words ".repeat(400_000));
        assertThat(reason("Very much")).contains("kept in the mailbox alone", "nobody here has");
        String mail = household
                .as("sunniva")
                .get("/api/intake/lost-by-letter/left-out")
                .valueStream()
                .filter(one -> one.path("subject").asString().equals("Very much"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asString();
        assertThat(household
                        .run("--as", "sunniva", "intake", "take-in", "lost-by-letter", mail, "--for", "ines")
                        .err())
                .contains("isn't kept");
    }

    /** A folder that isn't there keeps nothing from being read, and is told until somebody mends it. */
    @Test
    void whatCannotBeMovedIsTakenInAllTheSame() {
        published(INTAKE + "taken: Nowhere\n");
        arrives("From: edda@skerryline.example\r\n", "A boot", "Left.");
        arrives("From: edda@skerryline.example\r\n", "Another boot", "Right.");
        caseOf("A boot");
        caseOf("Another boot");
        Household.await(
                "the trouble to be told",
                () -> household
                        .run("--as", "sunniva", "intake", "list", "--json")
                        .out()
                        .contains("moved to ‘Nowhere’"));
        published(INTAKE);
        Household.await(
                "the trouble to be over",
                () -> !household
                        .run("--as", "sunniva", "intake", "list", "--json")
                        .out()
                        .contains("Nowhere"));
    }

    private static byte[] with(String head, byte[] raw) throws IOException {
        ByteArrayOutputStream mail = new ByteArrayOutputStream();
        mail.write(head.getBytes(StandardCharsets.UTF_8));
        mail.write(raw);
        return mail.toByteArray();
    }

    /** Messages that break every rule, collected by those who wrote the library that reads them; some are of no address here. */
    @Test
    void whateverComesEndsInACaseOrInAReason() throws Exception {
        URL one = MailTests.class.getResource("/testmsgs/very-long-boundary.msg");
        int sent = 0;
        Client sunniva = household.as("sunniva");
        try (JarFile jar = ((JarURLConnection) one.openConnection()).getJarFile()) {
            for (JarEntry entry :
                    jar.stream().filter(file -> file.getName().endsWith(".msg")).toList()) {
                byte[] raw = jar.getInputStream(entry).readAllBytes();
                for (String head : List.of("", RESULTS + "From: ines@skerryline.example\r\n")) {
                    JsonNode taken =
                            sunniva.post("/api/intake/lost-by-letter/mails", "message/rfc822", with(head, raw));
                    boolean named = !taken.path("id").asString("").isEmpty()
                            || !taken.path("why").asString("").isEmpty();
                    assertThat(named).as(entry.getName() + ": " + taken).isTrue();
                    sent++;
                }
            }
        }
        assertThat(sent).isGreaterThan(140);
    }

    /**
     * Killed again and again while mails come: each becomes one case, and each is answered once. More of both with {@code
     * -Dmail.rounds=10 -Dmail.each=30}.
     */
    @Test
    void eachMailBecomesOneCaseAndIsAnsweredOnceWhateverHappensToTheService() throws Exception {
        Post edda = new Post(household, "edda");
        Gloves.play(
                household,
                Integer.getInteger("mail.rounds", 2),
                Integer.getInteger("mail.each", 8),
                subject -> edda.send("it@skerryline.example", subject, "Left or right."),
                () -> edda.inbox().stream().map(Post::text).toList());
    }
}
