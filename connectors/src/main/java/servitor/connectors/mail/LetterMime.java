package servitor.connectors.mail;

import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeBodyPart;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import java.io.UnsupportedEncodingException;
import java.util.Date;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jsoup.nodes.Document;
import org.jsoup.nodes.Element;
import servitor.core.mail.Letter;
import servitor.core.mail.Mail;

/** A mail as it is sent: the same words as text and as HTML (RFC 2046, section 5.1.4), which loads nothing. */
final class LetterMime {
    private static final String UTF_8 = "UTF-8";
    /** A line that is nothing but an address; it becomes a link that says where it leads. */
    private static final Pattern LINK = Pattern.compile("https?://[\\w.:\\[\\]-]+/[\\w./#?=&%~+-]*");

    private LetterMime() {}

    static MimeMessage of(Session session, Letter letter) throws MessagingException {
        MimeMessage message = new MimeMessage(session) {
            @Override
            protected void updateMessageID() throws MessagingException {
                setHeader("Message-ID", bracketed(letter.messageId()));
            }
        };
        message.setFrom(address(letter.from()));
        for (Mail.Address to : letter.to()) {
            message.addRecipient(Message.RecipientType.TO, address(to));
        }
        message.setSubject(letter.subject(), UTF_8);
        message.setSentDate(Date.from(letter.at()));
        message.setHeader("Auto-Submitted", "auto-replied"); // RFC 3834, section 5: no machine answers it
        message.setHeader("Content-Language", letter.language());
        if (!letter.references().isEmpty()) {
            String answered = letter.references().get(letter.references().size() - 1);
            message.setHeader("In-Reply-To", bracketed(answered));
            message.setHeader(
                    "References",
                    letter.references().stream().map(LetterMime::bracketed).collect(Collectors.joining("\r\n ")));
        }
        MimeBodyPart text = new MimeBodyPart();
        text.setText(letter.plain(), UTF_8);
        MimeBodyPart html = new MimeBodyPart();
        html.setText(html(letter), UTF_8, "html");
        message.setContent(new MimeMultipart("alternative", text, html));
        message.saveChanges();
        return message;
    }

    private static InternetAddress address(Mail.Address address) throws MessagingException {
        try {
            InternetAddress made = address.name().isEmpty()
                    ? new InternetAddress(address.address())
                    : new InternetAddress(address.address(), address.name(), UTF_8);
            made.validate();
            return made;
        } catch (UnsupportedEncodingException e) {
            throw new IllegalStateException("every Java has UTF-8", e);
        }
    }

    private static String bracketed(String id) {
        return "<" + id + ">";
    }

    /** Paragraphs and lines as they are in the text; nothing in it is taken for HTML. */
    private static String html(Letter letter) {
        Document page = Document.createShell("");
        page.outputSettings().charset(UTF_8).prettyPrint(false);
        page.child(0).attr("lang", letter.language());
        page.body().attr("style", "font:16px/1.5 system-ui,sans-serif;max-width:40rem;overflow-wrap:anywhere");
        if (!letter.label().isEmpty()) {
            paragraph(page.body(), letter.label()).attr("style", "color:#555;font-style:italic");
        }
        for (String part : letter.text().strip().split("\\R{2,}")) {
            paragraph(page.body(), part);
        }
        if (!letter.signature().isEmpty()) {
            paragraph(page.body(), letter.signature()).attr("style", "color:#555");
        }
        return "<!doctype html>" + page.outerHtml();
    }

    private static Element paragraph(Element body, String text) {
        Element paragraph = body.appendElement("p");
        String[] lines = text.split("\\R");
        for (int i = 0; i < lines.length; i++) {
            if (i > 0) {
                paragraph.appendElement("br");
            }
            if (LINK.matcher(lines[i].strip()).matches()) {
                String link = lines[i].strip();
                paragraph.appendElement("a").attr("href", link).text(link);
            } else {
                paragraph.appendText(lines[i]);
            }
        }
        return paragraph;
    }
}
