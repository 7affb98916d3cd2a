package servitor.standins.model;

import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Which language a text is in, by the small words that each has most of. */
final class Tongue {
    private static final Map<String, List<String>> SMALL = Map.of(
            "en",
            List.of(
                    "the", "and", "is", "was", "we", "my", "for", "please", "need", "of", "i", "it", "have", "with",
                    "to"),
            "de",
            List.of(
                    "der", "die", "das", "und", "ist", "ich", "wir", "ein", "eine", "einen", "mein", "meinen", "nicht",
                    "bitte", "für", "auf", "mit", "hat", "seit", "am", "im", "zum"),
            "fr",
            List.of(
                    "le", "la", "les", "et", "est", "je", "nous", "un", "une", "mon", "ma", "pas", "pour", "des", "du",
                    "dans", "avec", "il", "depuis", "sur", "au", "de"));

    private Tongue() {}

    /** {@code en}, {@code de} or {@code fr}; English where nothing tells. */
    static String of(String text) {
        List<String> words = List.of(text.toLowerCase(Locale.ROOT).split("[^\\p{L}]+"));
        String best = "en";
        long most = count("en", words);
        for (String language : List.of("de", "fr")) {
            long count = count(language, words);
            if (count > most) {
                best = language;
                most = count;
            }
        }
        return best;
    }

    private static long count(String language, List<String> words) {
        List<String> small = SMALL.getOrDefault(language, List.of());
        return words.stream().filter(small::contains).count();
    }

    static boolean isSmall(String word) {
        return SMALL.values().stream().anyMatch(words -> words.contains(word));
    }
}
