package servitor.demo;

import jakarta.mail.Authenticator;
import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Multipart;
import jakarta.mail.Part;
import jakarta.mail.PasswordAuthentication;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Properties;
import java.util.UUID;
import servitor.standins.MailHouse;

/** Somebody's mail program, at the stand-in mail server of a household. */
final class Post {
    private final MailHouse house;
    private final String own;

    /** That of {@code person}. */
    Post(Household household, String person) {
        this.house = household.standins.mail();
        this.own = person + "@" + MailHouse.DOMAIN;
    }

    /** Sends a mail, signed in; returns its Message-ID. */
    String send(String to, String subject, String text) {
        return send(own, to, subject, text, "");
    }

    /** Answers a mail. */
    String answer(MimeMessage mail, String to, String text) throws MessagingException {
        return send(own, to, "Re: " + mail.getSubject(), text, "In-Reply-To: " + mail.getMessageID() + "\r\n");
    }

    /** Sends a mail that says it is from {@code from}; headers are whole lines. */
    String send(String from, String to, String subject, String text, String headers) {
        return deliver(from, to, subject, text, headers, true);
    }

    /** Sends a mail as anybody could, without signing in. */
    String forge(String from, String to, String subject, String text, String headers) {
        return deliver(from, to, subject, text, headers, false);
    }

    private String deliver(String from, String to, String subject, String text, String headers, boolean signedIn) {
        String id = UUID.randomUUID() + "@program.example";
        String raw = "From: " + from + "\r\nTo: " + to + "\r\nSubject: " + subject + "\r\nMessage-ID: <" + id + ">\r\n"
                + headers + (headers.contains("Content-Type") ? "" : "Content-Type: text/plain; charset=utf-8\r\n")
                + "\r\n" + text;
        Properties properties = new Properties();
        properties.put("mail.smtp.host", "127.0.0.1");
        properties.put("mail.smtp.port", String.valueOf(house.smtp().getPort()));
        properties.put("mail.smtp.auth", String.valueOf(signedIn));
        properties.put("mail.smtp.from", own);
        Authenticator authenticator = new Authenticator() {
            @Override
            protected PasswordAuthentication getPasswordAuthentication() {
                return new PasswordAuthentication(own, Cast.PASSWORD);
            }
        };
        try {
            Session session = Session.getInstance(properties, signedIn ? authenticator : null);
            MimeMessage message =
                    new MimeMessage(session, new ByteArrayInputStream(raw.getBytes(StandardCharsets.UTF_8)));
            try (Transport transport = session.getTransport("smtp")) {
                transport.connect();
                transport.sendMessage(message, InternetAddress.parse(to));
            }
            return id;
        } catch (MessagingException e) {
            throw new IllegalStateException(e);
        }
    }

    /** What came, the oldest first. */
    List<MimeMessage> inbox() {
        return house.mails(own, "INBOX");
    }

    /** The newest mail whose text holds {@code words}. */
    MimeMessage awaitMail(String words) {
        return Household.await(
                "a mail to " + own + " with ‘" + words + "’",
                () -> inbox().stream()
                        .filter(mail -> text(mail).contains(words))
                        .reduce((first, second) -> second)
                        .orElse(null));
    }

    static String text(Part part) {
        try {
            Object content = part.getContent();
            return content instanceof Multipart parts
                    ? text(parts.getBodyPart(0)).replace("\r\n", "\n")
                    : String.valueOf(content).replace("\r\n", "\n");
        } catch (MessagingException | IOException e) {
            throw new IllegalStateException(e);
        }
    }

    static String header(Message mail, String name) {
        try {
            String[] values = mail.getHeader(name);
            return values == null ? "" : String.join(" | ", values);
        } catch (MessagingException e) {
            throw new IllegalStateException(e);
        }
    }
}
