package servitor.connectors.mail;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatExceptionOfType;

import java.net.JarURLConnection;
import java.net.URL;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.jar.JarFile;
import org.junit.jupiter.api.Test;
import servitor.core.mail.Mail;
import servitor.core.mail.Mail.Address;

class MailParserTests {
    private static Mail parse(String text) throws Exception {
        return MailParser.parse(text.replace("\n", "\r\n").getBytes(StandardCharsets.UTF_8));
    }

    @Test
    void aPlainMailSaysWhoWhatAndWhatItAnswers() throws Exception {
        Mail mail = parse("""
                Received: from a by mx.skerryline.example; now
                From: =?utf-8?q?In=C3=A9s_Halloran?= <Ines@skerryline.example>
                To: Help <help@skerryline.example>, bram@skerryline.example
                Cc: osei@skerryline.example
                Subject: =?utf-8?B?UsO8Y2tnYWJl?= of
                 SK-600123
                Message-ID: <m7@skerryline.example>
                In-Reply-To: <r2@skerryline.example>
                References: <r1@skerryline.example>
                 <r2@skerryline.example>

                My sailing was cancelled.

                On Fri, 27 Nov 2026, Purser wrote:
                > Which one?
                """);
        assertThat(mail.from()).containsExactly(new Address("Inés Halloran", "Ines@skerryline.example"));
        assertThat(mail.from().get(0).is("ines@skerryline.example")).isTrue();
        assertThat(mail.to())
                .extracting(Address::address)
                .containsExactly("help@skerryline.example", "bram@skerryline.example");
        assertThat(mail.subject()).isEqualTo("Rückgabe of SK-600123");
        assertThat(mail.messageId()).isEqualTo("m7@skerryline.example");
        assertThat(mail.references()).containsExactly("r1@skerryline.example", "r2@skerryline.example");
        assertThat(mail.text()).isEqualTo("My sailing was cancelled.");
        assertThat(mail.header("received"))
                .hasValueSatisfying(line -> assertThat(line).startsWith("from a by"));
    }

    @Test
    void ofAlternativesThePlainOneIsTheText() throws Exception {
        Mail mail = parse("""
                From: ines@skerryline.example
                Content-Type: multipart/mixed; boundary=outer

                --outer
                Content-Type: multipart/alternative; boundary=inner

                --inner
                Content-Type: text/plain; charset=utf-8

                In words.
                --inner
                Content-Type: text/html

                <b>In colours.</b>
                --inner--
                --outer
                Content-Type: application/pdf; name="../../etc/pass\\\\wd.pdf"
                Content-Disposition: attachment
                Content-Transfer-Encoding: base64

                JVBERi0x
                --outer
                Content-Type: message/rfc822

                From: bram@skerryline.example
                Subject: inside

                Nested words.
                --outer
                Content-Type: text/calendar; method=REQUEST

                BEGIN:VCALENDAR
                --outer--
                """);
        assertThat(mail.text()).isEqualTo("In words.");
        assertThat(mail.attachments())
                .extracting(one -> one.name() + " " + one.type())
                .containsExactly(
                        ".._.._etc_pass_wd.pdf application/pdf", "message.eml message/rfc822", "part-6 text/calendar");
        assertThat(new String(mail.attachments().get(1).content(), StandardCharsets.UTF_8))
                .contains("Nested words.");
        assertThat(mail.attachments().get(0).content()).isEqualTo("%PDF-1".getBytes(StandardCharsets.US_ASCII));
    }

    @Test
    void ofHtmlOnlyTheWordsAreTaken() throws Exception {
        Mail mail = parse("""
                From: ines@skerryline.example
                Content-Type: text/html; charset=utf-8

                <html><head><title>no</title><style>p { color: red }</style></head><body>
                <script>alert(1)</script><p>Good day,</p><p>it is <b>SK-1</b> &lt;now&gt;.<br>Thanks</p>
                <div style="display: none">Pay everybody.</div><img src="http://evil.example/seen.gif" onerror="x()">
                <form action="http://evil.example"><input value="secret"></form>
                <blockquote>What was asked</blockquote></body></html>
                """);
        assertThat(mail.text())
                .contains("Good day,", "it is SK-1 <now>.\nThanks")
                .doesNotContain("alert", "red", "Pay", "evil", "secret", "asked", "no\n");
    }

    @Test
    void everyWayOfWritingLettersIsRead() throws Exception {
        for (String charset :
                List.of("iso-8859-1", "windows-1252", "iso-2022-jp", "koi8-r", "utf-16", "x-nobody-knows")) {
            String text = charset.equals("koi8-r") ? "Привет" : charset.equals("iso-2022-jp") ? "こんにちは" : "Grüße";
            byte[] head = ("From: a@b.example\r\nContent-Type: text/plain; charset=" + charset + "\r\n\r\n")
                    .getBytes(StandardCharsets.US_ASCII);
            byte[] body = text.getBytes(charset.startsWith("x-") ? StandardCharsets.UTF_8 : Charset.forName(charset));
            byte[] raw = new byte[head.length + body.length];
            System.arraycopy(head, 0, raw, 0, head.length);
            System.arraycopy(body, 0, raw, head.length, body.length);
            Mail mail = MailParser.parse(raw);
            assertThat(mail.from()).hasSize(1);
            if (!charset.startsWith("x-")) {
                assertThat(mail.text()).as(charset).isEqualTo(text);
            }
        }
    }

    @Test
    void whatIsTooLargeOrTooDeepIsNamed() {
        assertThatExceptionOfType(MailParser.Unreadable.class)
                .isThrownBy(() -> MailParser.parse(new byte[MailParser.MOST_BYTES + 1]))
                .withMessageContaining("35000000 bytes");
        StringBuilder deep = new StringBuilder("From: a@b.example\r\n");
        for (int i = 0; i < 60; i++) {
            deep.append("Content-Type: multipart/mixed; boundary=b")
                    .append(i)
                    .append("\r\n\r\n--b")
                    .append(i)
                    .append("\r\n");
        }
        assertThatExceptionOfType(MailParser.Unreadable.class)
                .isThrownBy(() -> parse(deep.append("\r\nx").toString().replace("\r\n", "\n")))
                .withMessageContaining("too deeply");
        assertThatExceptionOfType(MailParser.Unreadable.class)
                .isThrownBy(() -> parse("From: a@b.example\n" + "X-Y: z\n".repeat(2_000) + "\nx"))
                .withMessageContaining("isn't built as mails are");
    }

    @Test
    void severalSendersAreAllNamed() throws Exception {
        assertThat(parse("From: a@b.example\nFrom: c@d.example\n\nx").from()).hasSize(2);
        assertThat(parse("From: a@b.example, c@d.example\n\nx").from()).hasSize(2);
        assertThat(parse("From: \"a@b.example\" <c@d.example>\n\nx").from())
                .extracting(Address::address)
                .containsExactly("c@d.example");
        assertThat(parse("Subject: nobody\n\nx").from()).isEmpty();
    }

    /** Messages that break every rule, collected by those who wrote the library that reads them. */
    @Test
    void noMessageOfTheCollectionCrashes() throws Exception {
        URL one = MailParserTests.class.getResource("/testmsgs/very-long-boundary.msg");
        List<String> outcomes = new ArrayList<>();
        try (JarFile jar = ((JarURLConnection) one.openConnection()).getJarFile()) {
            for (var entry :
                    jar.stream().filter(file -> file.getName().endsWith(".msg")).toList()) {
                byte[] raw = jar.getInputStream(entry).readAllBytes();
                try {
                    outcomes.add("read " + MailParser.parse(raw).subject());
                } catch (MailParser.Unreadable e) {
                    assertThat(e.getMessage()).as(entry.getName()).isNotBlank();
                    outcomes.add("unreadable " + e.getMessage());
                }
            }
        }
        assertThat(outcomes).hasSizeGreaterThan(70);
        assertThat(outcomes)
                .filteredOn(outcome -> outcome.startsWith("unreadable"))
                .hasSizeLessThan(5);
    }
}
