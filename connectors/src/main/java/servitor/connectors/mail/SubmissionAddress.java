package servitor.connectors.mail;

import java.net.URI;
import java.util.List;
import java.util.Map;

/**
 * Where mails are handed in to be sent (RFC 6409), in {@code smtps://host:465}, {@code smtp+tls://host:587} (STARTTLS) or {@code smtp}
 * without TLS, with {@code ?sent=CONNECTION&sent-folder=NAME&files-copies=yes}.
 *
 * @param secure how TLS is spoken
 * @param sent the connection to the mailbox that holds copies of what was sent; empty when nobody can look there
 * @param sentFolder the folder of that mailbox
 * @param filesCopies whether the server itself files a copy of everything it accepts, so that what isn't there wasn't sent
 */
public record SubmissionAddress(
        Secure secure, String host, int port, String sent, String sentFolder, boolean filesCopies) {
    public static final List<String> SCHEMES = List.of("smtp", "smtps", "smtp+tls");
    private static final List<String> SETTINGS = List.of("sent", "sent-folder", "files-copies");

    /** How TLS is spoken. */
    public enum Secure {
        NO,
        /** From the first byte (RFC 8314). */
        FROM_THE_START,
        /** After STARTTLS (RFC 3207), or not at all. */
        UPGRADED
    }

    /** Throws {@link IllegalArgumentException} with a sentence that says what is wrong. */
    public static SubmissionAddress of(URI address) {
        String scheme = String.valueOf(address.getScheme());
        String host = address.getHost();
        if (!SCHEMES.contains(scheme)
                || host == null
                || address.getUserInfo() != null
                || !String.valueOf(address.getRawPath()).matches("/?")) {
            throw new IllegalArgumentException(
                    "‘" + address
                            + "’ must name a mail server that sends, as in smtps://mail.example:465 or smtp+tls://mail.example:587.");
        }
        Map<String, String> settings = MailAddress.settings(address, SETTINGS);
        String sent = settings.getOrDefault("sent", "");
        if (!sent.isEmpty() && !sent.matches("[a-z0-9][a-z0-9-]{0,59}")) {
            throw new IllegalArgumentException("‘sent’ names the connection to a mailbox, as in sent=mailbox.");
        }
        String copies = settings.getOrDefault("files-copies", "no");
        if (!List.of("yes", "no").contains(copies) || sent.isEmpty() && settings.size() > 0) {
            throw new IllegalArgumentException(
                    "‘files-copies’ is yes or no, and goes with ‘sent’, the mailbox that the copies are filed in.");
        }
        Secure secure = switch (scheme) {
            case "smtps" -> Secure.FROM_THE_START;
            case "smtp+tls" -> Secure.UPGRADED;
            default -> Secure.NO;
        };
        int usual = switch (secure) {
            case FROM_THE_START -> 465;
            case UPGRADED -> 587;
            case NO -> 25;
        };
        return new SubmissionAddress(
                secure,
                host,
                address.getPort() > 0 ? address.getPort() : usual,
                sent,
                settings.getOrDefault("sent-folder", "Sent"),
                copies.equals("yes"));
    }
}
