package servitor.core.mail;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;

/** Takes out of a text what its writer didn't write now: the mail it answers, the signature, and what a house adds below all mail. */
public final class Quoted {
    private static final int NEAR = 2;
    /** The line above a quoted mail, in the languages that mail programs write it in. */
    private static final Pattern ATTRIBUTION = Pattern.compile(
            "(?i)^\\s*(on|am|le|el|il|op|den|em|w dniu)\\b.{4,200}(wrote|schrieb|a écrit|escribió|ha scritto|schreef|skrev|escreveu|napisał\\(?a?\\)?)[^:]{0,120}:\\s*$");

    private static final Pattern ORIGINAL = Pattern.compile(
            "(?i)^\\s*[-_]{2,}\\s*(original message|forwarded message|ursprüngliche nachricht|weitergeleitete nachricht|message d'origine|mensaje original)\\s*[-_]{2,}\\s*$");
    private static final Pattern RULE = Pattern.compile("^\\s*_{10,}\\s*$");
    private static final Pattern QUOTED_FROM = Pattern.compile("(?i)^\\s*\\*?(from|von|de|da|van|från)\\*?:\\s.+$");
    private static final Pattern QUOTED_SENT = Pattern.compile(
            "(?i)^\\s*\\*?(sent|date|gesendet|datum|envoyé|enviado|inviato|verzonden|skickat|to|an|à)\\*?:\\s.+$");
    private static final Pattern HEADING = Pattern.compile("^\\s*\\*?[\\p{L} ]{1,12}\\*?:\\s.+$");
    private static final Pattern SIGNATURE = Pattern.compile("^--\\s?$");
    private static final Pattern SENT_FROM =
            Pattern.compile("(?i)^\\s*(sent from my|von meinem|envoyé de mon|enviado desde mi)\\b.{0,60}$");
    private static final Pattern DISCLAIMER = Pattern.compile(
            "(?is)^.{0,200}\\b(confidential|intended (solely|only) for|vertraulich|confidentiel)\\b.{0,3000}\\b(recipient|empfänger|destinataire|delete|löschen|supprimer)\\b.*$");

    private Quoted() {}

    /** Whether a line stands among those that name another mail's writer, time and subject, as some programs put them above it. */
    static boolean isInHeading(List<String> lines, int at) {
        if (ORIGINAL.matcher(lines.get(at)).matches()) {
            return true;
        }
        if (RULE.matcher(lines.get(at)).matches()) {
            return isHeading(lines, at + 1);
        }
        for (int first = at; first >= 0 && HEADING.matcher(lines.get(first)).matches(); first--) {
            if (isHeading(lines, first)) {
                return true;
            }
        }
        return false;
    }

    /** Whether a line is one that mail programs write above what they quote. */
    static boolean isAttribution(String line) {
        return ATTRIBUTION.matcher(line).matches();
    }

    /** What is new in {@code text}; the whole of it when nothing would be left. */
    public static String without(String text) {
        List<String> lines = new ArrayList<>(text.lines().toList());
        int end = end(lines);
        List<String> kept = new ArrayList<>(lines.subList(0, end));
        while (!kept.isEmpty()
                && (kept.get(kept.size() - 1).isBlank()
                        || kept.get(kept.size() - 1).startsWith(">"))) {
            kept.remove(kept.size() - 1);
        }
        String fresh = withoutDisclaimer(String.join("\n", kept).strip());
        return fresh.isEmpty() ? text.strip() : fresh;
    }

    /** The line where what was written before begins, or the signature. */
    private static int end(List<String> lines) {
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i);
            boolean attribution = ATTRIBUTION.matcher(line).matches()
                    || i + 1 < lines.size()
                            && ATTRIBUTION
                                    .matcher(line + " " + lines.get(i + 1))
                                    .matches();
            if (ORIGINAL.matcher(line).matches()
                    || RULE.matcher(line).matches() && isHeading(lines, i + 1)
                    || isHeading(lines, i) && i > 0
                    || SIGNATURE.matcher(line).matches()
                    || SENT_FROM.matcher(line).matches()
                    || attribution && quotesFrom(lines, i + 1)) {
                return i;
            }
        }
        return lines.size();
    }

    /** Lines that name another mail's writer and time, as some programs put them above it. */
    private static boolean isHeading(List<String> lines, int at) {
        return at + 1 < lines.size()
                && QUOTED_FROM.matcher(lines.get(at)).matches()
                && QUOTED_SENT.matcher(lines.get(at + 1)).matches();
    }

    /** Whether nothing but quoted lines follows: an answer between the lines stays as it is. */
    private static boolean quotesFrom(List<String> lines, int from) {
        List<String> rest = lines.subList(Math.min(from, lines.size()), lines.size());
        long own = rest.stream()
                .filter(line -> !line.isBlank() && !line.startsWith(">"))
                .count();
        return rest.stream().noneMatch(line -> line.startsWith(">")) || own <= NEAR;
    }

    private static String withoutDisclaimer(String text) {
        int last = text.lastIndexOf("\n\n");
        return last > 0 && DISCLAIMER.matcher(text.substring(last)).matches()
                ? text.substring(0, last).strip()
                : text;
    }
}
