package servitor.standins;

import jakarta.mail.Address;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.LinkedHashSet;
import java.util.Properties;
import java.util.Set;
import java.util.UUID;
import org.subethamail.smtp.MessageContext;
import org.subethamail.smtp.MessageHandler;
import org.subethamail.smtp.RejectException;

/**
 * One mail on its way through the relay. Whatever it says of its own checks is taken out; what the relay knows is written on top (RFC
 * 8601): that it is from an address here passes only for whoever signed in with that address.
 */
final class Relay implements MessageHandler {
    private static final String RESULTS = "Authentication-Results";

    private final MailHouse house;
    private final MessageContext context;
    private final Set<String> recipients = new LinkedHashSet<>();
    private String from = "";

    Relay(MailHouse house, MessageContext context) {
        this.house = house;
        this.context = context;
    }

    @Override
    public void from(String address) {
        from = address;
    }

    @Override
    public void recipient(String address) throws RejectException {
        if (!house.takes(address)) {
            throw new RejectException(550, "there is no mailbox " + address);
        }
        recipients.add(address);
    }

    @Override
    public String data(InputStream data) throws RejectException, IOException {
        try {
            MimeMessage message = new MimeMessage(Session.getInstance(new Properties()), data);
            byte[] stamped = stamped(message, results(message));
            recipients.forEach(to -> house.deliver(to, stamped));
            String signedIn = signedIn();
            if (!signedIn.isEmpty()) {
                house.file(signedIn, stamped);
            }
            recipients.forEach(to -> answerAway(to, message));
            return "taken";
        } catch (MessagingException e) {
            throw new RejectException(554, "this is no mail: " + e.getMessage());
        }
    }

    private String signedIn() {
        return context.getAuthenticationHandler()
                .map(handler -> String.valueOf(handler.getIdentity()))
                .orElse("");
    }

    private static byte[] stamped(MimeMessage message, String results) throws MessagingException, IOException {
        message.removeHeader(RESULTS);
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        String top = RESULTS + ": " + MailHouse.SERVER + "; " + results + "\r\n"
                + "Received: from relay by " + MailHouse.SERVER + "; "
                + OffsetDateTime.now(ZoneOffset.UTC).format(DateTimeFormatter.RFC_1123_DATE_TIME) + "\r\n";
        bytes.write(top.getBytes(StandardCharsets.US_ASCII));
        message.writeTo(bytes);
        return bytes.toByteArray();
    }

    private String results(MimeMessage message) throws MessagingException {
        String signedIn = signedIn();
        Address[] all = message.getFrom();
        String shown = all != null && all.length == 1 && all[0] instanceof InternetAddress one ? one.getAddress() : "";
        String domain = shown.replaceAll(".*@", "").replaceAll("[^A-Za-z0-9.-]", "");
        if (signedIn.isEmpty()) {
            return "auth=none; dmarc=" + (domain.equals(MailHouse.DOMAIN) ? "fail" : "none") + " header.from=" + domain;
        }
        boolean own = signedIn.equalsIgnoreCase(shown);
        return "auth=pass smtp.auth=" + signedIn + "; dmarc=" + (own ? "pass" : "fail") + " header.from=" + domain;
    }

    /** A mailbox of somebody who is away answers people, and no machines (RFC 3834). */
    private void answerAway(String who, MimeMessage message) {
        house.awayText(who).ifPresent(text -> {
            try {
                if (from.isEmpty() || message.getHeader("Auto-Submitted") != null && !text.startsWith("!")) {
                    return;
                }
                String id = message.getMessageID() == null ? "" : message.getMessageID();
                String answer = "From: " + who + "\r\nTo: " + from + "\r\nSubject: I am away\r\n"
                        + (text.startsWith("!") ? "" : "Auto-Submitted: auto-replied\r\n") + "Message-ID: <"
                        + UUID.randomUUID() + "@" + MailHouse.DOMAIN + ">\r\n"
                        + (id.isEmpty() ? "" : "In-Reply-To: " + id + "\r\nReferences: " + id + "\r\n")
                        + "\r\n" + text.replaceFirst("^!", "") + "\r\n";
                MimeMessage made = new MimeMessage(
                        Session.getInstance(new Properties()),
                        new ByteArrayInputStream(answer.getBytes(StandardCharsets.UTF_8)));
                String own = "auth=pass smtp.auth=" + who + "; dmarc=pass header.from=" + MailHouse.DOMAIN;
                house.deliver(from, stamped(made, own));
            } catch (MessagingException | IOException e) {
                throw new IllegalStateException("the answer of " + who + " can't be written", e);
            }
        });
    }

    @Override
    public void done() {
        // what was said has been delivered
    }
}
