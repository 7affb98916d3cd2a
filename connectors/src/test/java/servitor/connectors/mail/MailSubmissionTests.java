package servitor.connectors.mail;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.Multipart;
import jakarta.mail.internet.MimeMessage;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.mail.Letter;
import servitor.core.mail.Mail;

/** Against a mail server that nobody here wrote, and against ones that break off. */
class MailSubmissionTests {
    private static final Duration LONG = Duration.ofSeconds(20);
    private GreenMail server;

    @BeforeEach
    void start() {
        server = new GreenMail(new ServerSetup[] {
            new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP),
            new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTPS),
            new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_IMAP)
        });
        server.start();
        server.setUser("desk@line.example", "desk", "tide");
        server.setUser("ines@line.example", "ines", "tide");
    }

    @AfterEach
    void stop() {
        server.stop();
    }

    private static Access at(String address) {
        return new Access(URI.create(address), new Credentials.Password("desk", "tide"), true);
    }

    private Access access() {
        return at("smtp://127.0.0.1:" + server.getSmtp().getPort());
    }

    private static Letter letter(String subject, String text) {
        return new Letter(
                "k1.C-7.abc@line.example",
                new Mail.Address("Passenger desk, Skerry", "desk@line.example"),
                List.of(new Mail.Address("Inés “Ino” Halloran", "ines@line.example")),
                subject,
                "Written by a machine",
                text,
                "Yours,\nthe desk",
                "en",
                List.of("first@x.example", "asked@x.example"),
                Instant.parse("2026-11-28T10:00:00Z"));
    }

    @Test
    void aMailArrivesAsItWasMeant() throws Exception {
        Reply reply = MailSubmission.send(
                access(),
                letter("Re: Überfahrt [C-7.x]", "It lay on deck.\n\n<script>alert(1)</script> & more."),
                Deadline.in(LONG));
        assertThat(reply).isInstanceOf(Reply.Answered.class);
        assertThat(((Reply.Answered) reply).body().path("message").asString()).isEqualTo("k1.C-7.abc@line.example");

        MimeMessage got = server.getReceivedMessages()[0];
        assertThat(got.getMessageID()).isEqualTo("<k1.C-7.abc@line.example>");
        assertThat(got.getSubject()).isEqualTo("Re: Überfahrt [C-7.x]");
        assertThat(got.getHeader("In-Reply-To")).containsExactly("<asked@x.example>");
        assertThat(got.getHeader("References")[0]).contains("<first@x.example>", "<asked@x.example>");
        assertThat(got.getHeader("Auto-Submitted")).containsExactly("auto-replied");
        assertThat(got.getFrom()[0].toString()).contains("desk@line.example");
        assertThat(got.getAllRecipients()).hasSize(1);
        Multipart both = (Multipart) got.getContent();
        assertThat(both.getBodyPart(0).getContent().toString().replace("\r\n", "\n"))
                .isEqualTo(
                        "[Written by a machine]\n\nIt lay on deck.\n\n<script>alert(1)</script> & more.\n\n-- \nYours,\nthe desk\n");
        assertThat(both.getBodyPart(1).getContent().toString())
                .contains("&lt;script&gt;alert(1)&lt;/script&gt; &amp; more.", "<p>It lay on deck.</p>")
                .doesNotContain("<script", "http", "src=");
    }

    @Test
    void aLineThatIsAnAddressIsALinkThatSaysWhereItLeads() throws Exception {
        String text =
                "See it:\nhttps://desk.line.example/approvals/R-1-2\n\nand javascript:alert(1)\njavascript:alert(1)"
                        + "\nhttps://line.example/\" onclick=\"x\n| https://line.example/quoted";
        MailSubmission.send(access(), letter("A", text), Deadline.in(LONG));
        Multipart both = (Multipart) server.getReceivedMessages()[0].getContent();
        Document page = Jsoup.parse(both.getBodyPart(1).getContent().toString());
        assertThat(page.select("a").eachAttr("href")).containsExactly("https://desk.line.example/approvals/R-1-2");
        assertThat(page.select("a").eachText()).containsExactly("https://desk.line.example/approvals/R-1-2");
    }

    @Test
    void whatWasSentIsFoundByItsMessageId() throws Exception {
        MailSubmission.send(access(), letter("A", "B"), Deadline.in(LONG));
        Access mailbox = new Access(
                URI.create("imap://127.0.0.1:" + server.getImap().getPort()),
                new Credentials.Password("ines", "tide"),
                true);
        try (MailFolder inbox = MailFolder.open(mailbox, "INBOX")) {
            assertThat(inbox.holds("k1.C-7.abc@line.example")).isTrue();
            assertThat(inbox.holds("k2.C-7.abc@line.example")).isFalse();
        }
    }

    @Test
    void aTestSignsInAndSendsNothing() {
        assertThat(MailSubmission.test(access(), Deadline.in(LONG))).isInstanceOf(Reply.Answered.class);
        assertThat(server.getReceivedMessages()).isEmpty();
        Access wrong = new Access(access().address(), new Credentials.Password("desk", "ebb"), true);
        assertThat(MailSubmission.test(wrong, Deadline.in(LONG)).detail()).contains("can't be asked");
        Access secure = at("smtps://127.0.0.1:" + server.getSmtps().getPort());
        assertThat(MailSubmission.test(secure, Deadline.in(LONG)).detail()).contains("certificate");
        Access outside = new Access(access().address(), new Credentials.None(), false);
        assertThat(MailSubmission.test(outside, Deadline.in(LONG)).detail()).contains("leads into a private network");
        Access upgraded = at("smtp+tls://127.0.0.1:" + server.getSmtp().getPort());
        assertThat(MailSubmission.test(upgraded, Deadline.in(LONG)))
                .as("without STARTTLS nothing is said to it")
                .isInstanceOf(Reply.NotSent.class);
    }

    /** A server that says one line to each command, and hangs up or falls silent where its script ends. */
    private static ServerSocket scripted(String... answers) throws IOException {
        ServerSocket listening = new ServerSocket(0, 1, InetAddress.getLoopbackAddress());
        CompletableFuture.runAsync(() -> {
            try (Socket socket = listening.accept()) {
                var in = new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.US_ASCII));
                for (String answer : answers) {
                    if (answer.equals("silence")) {
                        while (in.readLine() != null) {
                            // says nothing for as long as somebody is there
                        }
                        return;
                    }
                    socket.getOutputStream().write((answer + "\r\n").getBytes(StandardCharsets.US_ASCII));
                    String line = in.readLine();
                    while (answer.startsWith("354") && line != null && !line.equals(".")) {
                        line = in.readLine();
                    }
                }
            } catch (IOException e) {
                // the other side has gone
            }
        });
        return listening;
    }

    @ParameterizedTest
    @CsvSource({
        "220 x/250 x/451 later, NotSent",
        "220 x/250 x/550 no such sender, Refused",
        "220 x/250 x/250 ok/450 full, NotSent",
        "220 x/250 x/250 ok/550 nobody, Refused",
        "220 x/250 x/250 ok/250 ok/354 go/452 no room, NotSent",
        "220 x/250 x/250 ok/250 ok/354 go/554 not wanted, Refused",
        "220 x/250 x/250 ok/250 ok/354 go/250 taken, Answered",
        "220 x/250 x/250 ok/250 ok/354 go, Unknown",
        "220 x/250 x/250 ok/250 ok/354 go/silence, Unknown",
        "220 x/250 x/250 ok, NotSent",
        "220 x/silence, NotSent",
        "554 closed, NotSent",
    })
    void whatCameOfItIsWhatTheServerSaidOfIt(String script, String reply) throws IOException {
        try (ServerSocket listening = scripted(script.split("/"))) {
            Access access = new Access(
                    URI.create("smtp://127.0.0.1:" + listening.getLocalPort()), new Credentials.None(), true);
            Duration time = script.endsWith("silence") ? Duration.ofSeconds(1) : LONG;
            assertThat(MailSubmission.send(access, letter("A", "B"), Deadline.in(time))
                            .getClass()
                            .getSimpleName())
                    .isEqualTo(reply);
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"A\r\nBcc: all@x.example", "A\nB", "A\u2028B", "A\0"})
    void nothingMakesAHeaderOfItsOwn(String subject) {
        assertThatIllegalArgumentException().isThrownBy(() -> letter(subject, "x"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "http://x",
                "smtp://user@x",
                "smtp://x/folder",
                "smtp://x?files-copies=yes",
                "smtp://x?sent=a&files-copies=maybe",
                "smtp://x?sent=../a",
                "smtps://x?other=1"
            })
    void anAddressThatSaysSomethingElseIsRefused(String address) {
        assertThatIllegalArgumentException().isThrownBy(() -> SubmissionAddress.of(URI.create(address)));
    }

    @Test
    void anAddressSaysWhereCopiesAre() {
        assertThat(SubmissionAddress.of(URI.create("smtp+tls://mail.line.example?sent=mailbox&files-copies=yes")))
                .isEqualTo(new SubmissionAddress(
                        SubmissionAddress.Secure.UPGRADED, "mail.line.example", 587, "mailbox", "Sent", true));
    }
}
