package servitor.core.mail;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Tells mails that no person wrote to us, so that no two machines answer each other for ever (RFC 3834). */
public final class Automatic {
    private static final Set<String> BULK = Set.of("bulk", "list", "junk", "auto_reply");
    private static final List<String> OF_LISTS = List.of("List-Id", "List-Post", "List-Unsubscribe", "List-Help");
    private static final List<String> OF_RESPONDERS = List.of("X-Autoreply", "X-Autorespond", "X-Auto-Response");

    private Automatic() {}

    /**
     * Why a mail is no person's request or answer; empty when it may be.
     *
     * @param own addresses that are ours
     */
    public static Optional<String> reason(Mail mail, Set<String> own) {
        if (mail.from().stream().anyMatch(from -> own.stream().anyMatch(from::is))) {
            return Optional.of("it comes from an address of ours");
        }
        if (isReport(mail)) {
            return Optional.of("it is a report of a mail server");
        }
        String submitted = word(mail, "Auto-Submitted");
        if (!submitted.isEmpty() && !submitted.equals("no")) {
            return Optional.of("a program sent it (Auto-Submitted: " + submitted + ")");
        }
        if (OF_RESPONDERS.stream().anyMatch(name -> mail.header(name).isPresent())) {
            return Optional.of("a responder sent it");
        }
        if (OF_LISTS.stream().anyMatch(name -> mail.header(name).isPresent())) {
            return Optional.of("it went to a mailing list");
        }
        String precedence = word(mail, "Precedence");
        return BULK.contains(precedence)
                ? Optional.of("it is sent in bulk (Precedence: " + precedence + ")")
                : Optional.empty();
    }

    /** Delivery reports (RFC 3464), which have the type of a report or nobody to answer to (RFC 5321, section 4.5.5). */
    public static boolean isReport(Mail mail) {
        return word(mail, "Content-Type").startsWith("multipart/report")
                || mail.header("Return-Path")
                        .map(String::strip)
                        .filter("<>"::equals)
                        .isPresent();
    }

    private static String word(Mail mail, String header) {
        return mail.header(header)
                .map(value -> value.split(";", 2)[0].strip().toLowerCase(Locale.ROOT))
                .map(value -> value.length() > 60 ? value.substring(0, 60) : value)
                .orElse("");
    }
}
