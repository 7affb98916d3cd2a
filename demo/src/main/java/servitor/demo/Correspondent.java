package servitor.demo;

import jakarta.activation.DataHandler;
import jakarta.mail.Authenticator;
import jakarta.mail.MessagingException;
import jakarta.mail.PasswordAuthentication;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeBodyPart;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import jakarta.mail.util.ByteArrayDataSource;
import java.io.ByteArrayInputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.Properties;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import servitor.standins.MailHouse;

/** Writes mails by the stand-in mail server, as people do. */
public final class Correspondent {
    private final URI smtp;

    public Correspondent(URI smtp) {
        this.smtp = smtp;
    }

    /** Opens somebody's mailbox, unless it is there. */
    public static void openBox(MailHouse house, String name) {
        house.open(DemoSeeder.address(name), Cast.PASSWORD);
    }

    /**
     * Sends a mail, and returns its Message-ID.
     *
     * @param signedIn who signs in; null for nobody, and then the mail only says whom it is from
     * @param to a name at the line, such as that of a desk
     * @param headers further ones, each with its line end
     */
    public String send(@Nullable String signedIn, String from, String to, String subject, String text, String headers) {
        String id = UUID.randomUUID() + "@" + MailHouse.DOMAIN;
        String raw = "From: " + DemoSeeder.address(from) + "\r\nTo: " + DemoSeeder.address(to) + "\r\nSubject: "
                + subject + "\r\nMessage-ID: <" + id + ">\r\n"
                + (headers.contains("Content-Type:") ? "" : "Content-Type: text/plain; charset=UTF-8\r\n") + headers
                + "\r\n" + text + "\r\n";
        Session session = session(signedIn);
        try (Transport transport = session.getTransport("smtp")) {
            transport.connect();
            MimeMessage message =
                    new MimeMessage(session, new ByteArrayInputStream(raw.getBytes(StandardCharsets.UTF_8)));
            transport.sendMessage(message, InternetAddress.parse(DemoSeeder.address(to)));
            return id;
        } catch (MessagingException e) {
            throw new IllegalStateException("the stand-in mail server doesn't take a mail: " + e.getMessage(), e);
        }
    }

    /** A file that comes with a mail. */
    public record Enclosed(String name, String type, byte[] content) {}

    /**
     * Sends a mail with files, and returns its Message-ID.
     *
     * @param answers the Message-ID that it answers, with its angle brackets; empty for none
     */
    public String send(String from, String to, String subject, String text, String answers, Enclosed... files) {
        Session session = session(from);
        try (Transport transport = session.getTransport("smtp")) {
            transport.connect();
            MimeMessage message = new MimeMessage(session);
            message.setFrom(DemoSeeder.address(from));
            message.setSubject(subject);
            if (!answers.isEmpty()) {
                message.setHeader("In-Reply-To", answers);
                message.setHeader("References", answers);
            }
            MimeMultipart parts = new MimeMultipart();
            MimeBodyPart words = new MimeBodyPart();
            words.setText(text, "UTF-8");
            parts.addBodyPart(words);
            for (Enclosed file : files) {
                MimeBodyPart part = new MimeBodyPart();
                part.setDataHandler(new DataHandler(new ByteArrayDataSource(file.content(), file.type())));
                part.setFileName(file.name());
                parts.addBodyPart(part);
            }
            message.setContent(parts);
            message.saveChanges();
            transport.sendMessage(message, InternetAddress.parse(DemoSeeder.address(to)));
            return message.getMessageID();
        } catch (MessagingException e) {
            throw new IllegalStateException("the stand-in mail server doesn't take a mail: " + e.getMessage(), e);
        }
    }

    private Session session(@Nullable String signedIn) {
        Properties properties = new Properties();
        properties.put("mail.smtp.host", smtp.getHost());
        properties.put("mail.smtp.port", String.valueOf(smtp.getPort()));
        properties.put("mail.smtp.auth", String.valueOf(signedIn != null));
        return Session.getInstance(
                properties,
                signedIn == null
                        ? null
                        : new Authenticator() {
                            @Override
                            protected PasswordAuthentication getPasswordAuthentication() {
                                return new PasswordAuthentication(DemoSeeder.address(signedIn), Cast.PASSWORD);
                            }
                        });
    }
}
