package servitor.core.mail;

import java.time.Instant;
import java.util.List;

/**
 * A mail that goes out: about a case, to addresses on record, in a thread of its own.
 *
 * @param messageId without brackets, the same for every try
 * @param subject one line
 * @param label what stands over words of a machine; empty for a person's words
 * @param text what is told
 * @param signature what stands under it; may be empty
 * @param language of the text, as in BCP 47
 * @param references the mails before it in its thread, without brackets, the one that it answers last; empty for a thread that
 *     begins
 */
public record Letter(
        String messageId,
        Mail.Address from,
        List<Mail.Address> to,
        String subject,
        String label,
        String text,
        String signature,
        String language,
        List<String> references,
        Instant at) {
    private static final int LONGEST_SUBJECT = 300;

    /** Throws {@link IllegalArgumentException} for what can't be a mail: nobody it goes to, or more than a line where one stands. */
    public Letter {
        to = List.copyOf(to);
        references = List.copyOf(references);
        if (to.isEmpty()) {
            throw new IllegalArgumentException("a mail goes to somebody");
        }
        String lines = subject + from.name() + from.address() + messageId + String.join("", references) + language;
        if (to.stream().anyMatch(one -> breaks(one.name() + one.address())) || breaks(lines)) {
            throw new IllegalArgumentException("a header is one line");
        }
        subject = subject.length() <= LONGEST_SUBJECT ? subject : subject.substring(0, LONGEST_SUBJECT);
    }

    private static boolean breaks(String text) {
        return text.chars().anyMatch(c -> Character.isISOControl(c) || c == '\u2028' || c == '\u2029');
    }

    /** All of it as plain text; what stands under the line of two dashes is known for a signature everywhere (RFC 3676, section 4.3). */
    public String plain() {
        String over = label.isEmpty() ? "" : "[" + label + "]\n\n";
        String under = signature.isEmpty() ? "" : "\n\n-- \n" + signature;
        return over + text.strip() + under + "\n";
    }
}
