package servitor.core.mail;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What a mail answers to a question, by its first line alone: a plain yes or no, or nothing that is sure enough to act on. Whatever is
 * quoted, forwarded or said in a sentence is no decision.
 *
 * @param says what it is taken for
 * @param words what else was written, for a reason; all of it where it is unclear
 */
public record PlainAnswer(Says says, String words) {
    /** What an answer can be taken for. */
    public enum Says {
        YES,
        NO,
        UNCLEAR
    }

    private static final int FLAGS = Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE;
    private static final Pattern YES = Pattern.compile(
            "(?:yes|ok|okay|approved?|go ahead|ja|genehmigt|freigegeben|einverstanden|oui|d[’']accord|approuvée?)"
                    + "\\s*[.!,]?\\s*(?:(?:thanks|thank you|please|danke|bitte|merci)[.!]?)?",
            FLAGS);
    private static final Pattern NO = Pattern.compile(
            "(?:no|declined?|nein|abgelehnt|ablehnen|non|refusée?)(?:\\s*[.!]?|\\s*[,:;.!–-]\\s*(.+))", FLAGS);

    /** Reads the text of a mail. */
    public static PlainAnswer of(String text) {
        String fresh = Quoted.without(text).strip();
        String first = fresh.lines().findFirst().orElse("").strip();
        String rest = fresh.substring(Math.min(fresh.length(), first.length())).strip();
        Matcher no = NO.matcher(first);
        if (no.matches()) {
            String reason = no.group(1) == null ? "" : no.group(1);
            return new PlainAnswer(Says.NO, (reason + "\n" + rest).strip());
        }
        return YES.matcher(first).matches() && rest.isEmpty()
                ? new PlainAnswer(Says.YES, "")
                : new PlainAnswer(Says.UNCLEAR, fresh);
    }
}
