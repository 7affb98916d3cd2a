package servitor.core.run;

import java.text.Normalizer;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What somebody wants of a run, read from their words in English, German or French. It is read back to them before it counts. Only a
 * phrase that stands alone is an order; what merely holds such a word, or asks, is unclear.
 *
 * @param text for a change: what should be different; otherwise the words as they are
 */
public record Steering(Said said, String text) {
    /** What was said. */
    public enum Said {
        GO,
        CHANGE,
        SKIP,
        STOP,
        UNCLEAR;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    private static final Set<String> POLITE = Set.of(
            "please",
            "bitte",
            "thanks",
            "thank",
            "you",
            "danke",
            "merci",
            "now",
            "jetzt",
            "maintenant",
            "then",
            "just",
            "mal",
            "svp");

    private static final Map<Said, Set<String>> PHRASES = Map.of(
            Said.GO,
            Set.of(
                    "go",
                    "go ahead",
                    "go on",
                    "yes",
                    "yes go ahead",
                    "ok",
                    "okay",
                    "ok go ahead",
                    "do it",
                    "yes do it",
                    "carry on",
                    "continue",
                    "proceed",
                    "resume",
                    "try again",
                    "retry",
                    "ja",
                    "ja mach",
                    "mach weiter",
                    "weiter",
                    "weitermachen",
                    "los",
                    "in ordnung",
                    "einverstanden",
                    "nochmal",
                    "oui",
                    "vas y",
                    "allez y",
                    "continuez",
                    "d accord",
                    "réessaie"),
            Said.SKIP,
            Set.of(
                    "skip",
                    "skip it",
                    "skip that",
                    "skip this",
                    "skip the step",
                    "leave it out",
                    "leave that out",
                    "überspringen",
                    "überspring das",
                    "lass das weg",
                    "lass es weg",
                    "weglassen",
                    "passe",
                    "saute",
                    "saute ça",
                    "laisse ça"),
            Said.STOP,
            Set.of(
                    "stop",
                    "stop it",
                    "stop that",
                    "stop here",
                    "stop the run",
                    "halt",
                    "stopp",
                    "aufhören",
                    "hör auf",
                    "abbrechen",
                    "brich ab",
                    "arrête",
                    "arrêtez",
                    "arrêter",
                    "annule"));
    /** Words by which a short sentence could be an order, and isn't one of the phrases. */
    private static final Pattern HINT = Pattern.compile(
            "\\b(stop|halt|stopp|skip|überspring\\w*|abbrechen|arrêt\\w*|saute)\\b", Pattern.UNICODE_CHARACTER_CLASS);

    /** A yes before another phrase to go on adds nothing. */
    private static final Pattern YES = Pattern.compile(
            "^(?:yes|ja|oui|ok|okay) (?=(?:go|do|carry|continue|proceed|mach|weiter|los|vas|allez|continuez)\\b)");

    private static final int SHORT = 6;
    private static final Pattern NO = Pattern.compile("(?is)\\s*(?:no|nein|non)\\b\\s*[,.:;–-]*\\s*");
    private static final Pattern THIS_WAY = Pattern.compile(
            "(?is)\\s*(?:do it this way|mach es so|fais comme ça|instead|stattdessen|plutôt)\\b\\s*[,.:;–-]*\\s*");

    /** Reads what somebody wrote. */
    public static Steering read(String words) {
        Optional<Said> order = order(words);
        if (order.isPresent()) {
            return new Steering(order.get(), words.strip());
        }
        String rest = without(THIS_WAY, without(NO, words));
        if (rest.length() < words.length()) {
            return changed(rest.strip());
        }
        String plain = plain(words);
        boolean hints = HINT.matcher(plain).find() && plain.split(" ").length <= SHORT;
        return plain.isEmpty() || hints || words.strip().endsWith("?")
                ? unclear(words)
                : new Steering(Said.CHANGE, words.strip());
    }

    private static String without(Pattern beginning, String words) {
        Matcher matcher = beginning.matcher(words);
        return matcher.lookingAt() ? words.substring(matcher.end()) : words;
    }

    /** What follows on a no may itself be an order, such as to stop; to go on it isn't. */
    private static Steering changed(String rest) {
        Optional<Said> order = order(rest);
        return plain(rest).isEmpty() || order.equals(Optional.of(Said.GO))
                ? unclear(rest)
                : new Steering(order.orElse(Said.CHANGE), rest);
    }

    private static Optional<Said> order(String words) {
        String plain = YES.matcher(plain(words)).replaceFirst("");
        return PHRASES.entrySet().stream()
                .filter(phrases -> phrases.getValue().contains(plain))
                .map(Map.Entry::getKey)
                .findFirst();
    }

    private static Steering unclear(String words) {
        return new Steering(Said.UNCLEAR, words.strip());
    }

    private static String plain(String words) {
        StringBuilder plain = new StringBuilder();
        for (String word : Normalizer.normalize(words, Normalizer.Form.NFC)
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^\\p{L}\\p{N}]+", " ")
                .strip()
                .split(" ")) {
            if (!POLITE.contains(word)) {
                plain.append(plain.isEmpty() ? "" : " ").append(word);
            }
        }
        return plain.toString();
    }
}
