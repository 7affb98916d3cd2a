package servitor.core.mail;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

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
        UNCLEAR,
        /** It only says that somebody is away. */
        AWAY
    }

    private static final int FLAGS = Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE;
    private static final Pattern YES = Pattern.compile(
            "(?:yes|ok|okay|approved?|go ahead|ja|genehmigt|freigegeben|einverstanden|oui|d[’']accord|approuvée?)"
                    + "\\s*[.!,]?\\s*(?:(?:thanks|thank you|please|danke|bitte|merci)[.!]?)?",
            FLAGS);
    private static final Pattern NO = Pattern.compile(
            "(?:no|declined?|nein|abgelehnt|ablehnen|non|refusée?)(?:\\s*[.!]?|\\s*[,:;.!–-]\\s*(.+))", FLAGS);

    private static final Pattern AWAY = Pattern.compile(
            "\\b(?:out of (?:the )?office|on (?:annual |sick )?leave|on (?:vacation|holiday)|away until|back in the office|abwesend|nicht im büro|"
                    + "im urlaub|außer haus|absente?|en congé|hors du bureau)\\b",
            FLAGS | Pattern.UNICODE_CHARACTER_CLASS);
    /** What may stand below a plain yes: a greeting and a name, and nothing that takes it back. */
    private static final Pattern SIGN_OFF =
            Pattern.compile("(?:[\\p{L}’'.,-]+\\s*){1,4}(?:\\R(?:[\\p{L}’'.,-]+\\s*){1,4})?");

    private static final Pattern BUT = Pattern.compile(
            "\\b(?:but|except|only|unless|not|no|change|without|if|aber|nur|nicht|kein\\w*|außer|wenn|ohne|mais|sauf|pas|si|seulement)\\b",
            FLAGS | Pattern.UNICODE_CHARACTER_CLASS);

    /** Reads the text of a mail. */
    public static PlainAnswer of(String text) {
        String fresh = Quoted.without(text).strip();
        String first = fresh.lines().findFirst().orElse("").strip();
        String rest = fresh.substring(Math.min(fresh.length(), first.length())).strip();
        if (AWAY.matcher(fresh.lines().limit(3).collect(Collectors.joining(" ")))
                .find()) {
            return new PlainAnswer(Says.AWAY, "");
        }
        Matcher no = NO.matcher(first);
        if (no.matches()) {
            String reason = no.group(1) == null ? "" : no.group(1);
            return new PlainAnswer(Says.NO, (reason + "\n" + rest).strip());
        }
        boolean plainly = rest.isEmpty()
                || SIGN_OFF.matcher(rest).matches() && !BUT.matcher(rest).find();
        return YES.matcher(first).matches() && plainly
                ? new PlainAnswer(Says.YES, "")
                : new PlainAnswer(Says.UNCLEAR, fresh);
    }
}
