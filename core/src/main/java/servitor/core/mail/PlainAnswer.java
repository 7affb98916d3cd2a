package servitor.core.mail;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What a mail answers to a question, by its first line: a plain yes with nothing else, a no, or nothing that is sure enough to act on.
 * Below a yes only what is known may stand: what we had written ourselves, a signature, a greeting with the person's own name, and
 * footers that their desk has declared. Whatever is quoted, forwarded or said in a sentence is no decision.
 *
 * @param says what it is taken for
 * @param words what else was written, for a reason; all of it where it is unclear
 */
public record PlainAnswer(Says says, String words) {
    /** What an answer can be taken for. */
    public enum Says {
        YES,
        NO,
        /** A yes with something else that may take it back: whoever wrote it is asked what they mean. */
        YES_AND_MORE,
        UNCLEAR,
        /** It only says that somebody is away. */
        AWAY
    }

    /**
     * What may stand in an answer without saying anything.
     *
     * @param name of the person who answers
     * @param footers lines that programs of the desk's people put below their mails, as the desk has declared them
     * @param sent the mail that is answered, which may stand below the answer
     */
    public record Known(String name, List<String> footers, String sent) {
        public Known {
            footers = List.copyOf(footers);
        }
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
    private static final Set<String> GREETINGS = Set.of(
            "regards",
            "best regards",
            "kind regards",
            "warm regards",
            "with kind regards",
            "best wishes",
            "best",
            "cheers",
            "thanks",
            "thank you",
            "many thanks",
            "thanks and regards",
            "yours",
            "yours sincerely",
            "sincerely",
            "mit freundlichen grüßen",
            "freundliche grüße",
            "viele grüße",
            "beste grüße",
            "liebe grüße",
            "schöne grüße",
            "grüße",
            "gruß",
            "mfg",
            "vg",
            "lg",
            "danke",
            "vielen dank",
            "cordialement",
            "bien cordialement",
            "salutations",
            "meilleures salutations",
            "bien à vous",
            "merci",
            "merci beaucoup");
    private static final Pattern SIGNATURE = Pattern.compile("^--\\s?$");
    /** From this length on a line that stands in the mail we sent is taken for a piece of it, however it was wrapped. */
    private static final int TELLING = 16;

    /** Reads the text of a mail. */
    public static PlainAnswer of(String text, Known known) {
        String fresh = Quoted.without(text).strip();
        String first = fresh.lines().findFirst().orElse("").strip();
        if (AWAY.matcher(fresh.lines().limit(3).collect(Collectors.joining(" ")))
                .find()) {
            return new PlainAnswer(Says.AWAY, "");
        }
        Matcher no = NO.matcher(first);
        if (no.matches()) {
            String reason = no.group(1) == null ? "" : no.group(1);
            String rest =
                    fresh.substring(Math.min(fresh.length(), first.length())).strip();
            return new PlainAnswer(Says.NO, (reason + "\n" + rest).strip());
        }
        if (!YES.matcher(first).matches()) {
            return new PlainAnswer(Says.UNCLEAR, fresh);
        }
        List<String> more = more(text, known);
        return more.isEmpty()
                ? new PlainAnswer(Says.YES, "")
                : new PlainAnswer(Says.YES_AND_MORE, String.join("\n", more));
    }

    /** The lines below the first that aren't known to say nothing. */
    private static List<String> more(String text, Known known) {
        List<String> lines = text.strip().lines().map(String::strip).toList();
        Set<String> nothing = sayNothing(known);
        String sent = plain(known.sent());
        Set<String> ours = known.sent().lines().map(PlainAnswer::plain).collect(Collectors.toSet());
        List<String> more = new ArrayList<>();
        for (int i = 1; i < lines.size(); i++) {
            String line = lines.get(i);
            if (SIGNATURE.matcher(line).matches()) {
                break;
            }
            String plain = plain(line);
            boolean quoted = line.startsWith(">")
                    || isAboveQuoted(lines, i)
                    || Quoted.isInHeading(lines, i)
                    || ours.contains(plain)
                    || plain.length() >= TELLING && sent.contains(plain);
            if (!plain.isEmpty() && !quoted && !nothing.contains(plain)) {
                more.add(line);
            }
        }
        return more;
    }

    /** Whether a line only says who wrote the quoted ones below it; it may be wrapped into two. */
    private static boolean isAboveQuoted(List<String> lines, int at) {
        return isAboveQuoted(lines, at, at) || isAboveQuoted(lines, at, at + 1) || isAboveQuoted(lines, at - 1, at);
    }

    private static boolean isAboveQuoted(List<String> lines, int first, int last) {
        if (first < 1 || last >= lines.size()) {
            return false;
        }
        int next = last + 1;
        while (next < lines.size() && lines.get(next).isEmpty()) {
            next++;
        }
        return next < lines.size()
                && lines.get(next).startsWith(">")
                && Quoted.isAttribution(String.join(" ", lines.subList(first, last + 1)));
    }

    private static Set<String> sayNothing(Known known) {
        String name = plain(known.name());
        Set<String> names = Stream.concat(Stream.of(name), Stream.of(name.split(" ")))
                .filter(part -> part.length() > 1)
                .collect(Collectors.toSet());
        return Stream.of(
                        GREETINGS.stream(),
                        names.stream(),
                        GREETINGS.stream().flatMap(greeting -> names.stream().map(own -> greeting + " " + own)),
                        known.footers().stream().map(PlainAnswer::plain))
                .flatMap(all -> all)
                .collect(Collectors.toSet());
    }

    /** Letters and digits in small, a space between words. */
    private static String plain(String line) {
        return line.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]+", " ").strip();
    }
}
