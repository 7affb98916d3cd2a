package servitor.standins.model;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Lists of words: by which signs a label, a yes or a thing is known, in English, German and French. */
final class Lexicon {
    private static final Map<String, List<String>> SIGNS = read();
    private static final Pattern LACKS =
            Pattern.compile("\\w*\\W{1,3}(?:is |are |ist |sind |est )?(?:missing|fehlt|fehlen|manque)");
    private static final Map<String, Pattern> PATTERNS = new ConcurrentHashMap<>();
    private static final int SHORT = 4;
    private static final Pattern NOT = Pattern.compile(
            "\\b(no|not|never|without|isn't|doesn't|missing|kein\\w*|nicht|ohne|fehlt|pas|sans|aucune?|manque)\\b[^.,;:!?]{0,18}$",
            Pattern.UNICODE_CHARACTER_CLASS);

    private Lexicon() {}

    private static Map<String, List<String>> read() {
        try (InputStream in = Lexicon.class.getResourceAsStream("signs.json")) {
            return Asked.JSON.readValue(
                    Objects.requireNonNull(in),
                    new tools.jackson.core.type.TypeReference<Map<String, List<String>>>() {});
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The signs of a word; the word itself where there are none. */
    static List<String> signs(String word) {
        return SIGNS.getOrDefault(word, List.of(word.toLowerCase(Locale.ROOT).replace('_', ' ')));
    }

    static boolean knows(String word) {
        return SIGNS.containsKey(word);
    }

    /** How many signs of a word stand in a text, which is in lower case. */
    static long count(String word, String text) {
        return signs(word).stream()
                .filter(sign -> sign(sign).matcher(text).find())
                .count();
    }

    /** Whether a text, in lower case, holds a sign of a word that isn't denied just before it. */
    static boolean says(String word, String text) {
        for (String sign : signs(word)) {
            Matcher matcher = sign(sign).matcher(text);
            while (matcher.find()) {
                String before = text.substring(Math.max(0, matcher.start() - 30), matcher.start());
                if (!NOT.matcher(before).find()
                        && !LACKS.matcher(text.substring(matcher.end())).lookingAt()) {
                    return true;
                }
            }
        }
        return false;
    }

    /** Signs stand at the beginning of a word; short ones are whole words. */
    private static Pattern sign(String sign) {
        return PATTERNS.computeIfAbsent(sign, text -> {
            String before = Character.isLetterOrDigit(text.charAt(0)) ? "(?<![\\p{L}\\p{N}])" : "";
            String after = text.strip().length() <= SHORT && Character.isLetter(text.charAt(text.length() - 1))
                    ? "(?![\\p{L}\\p{N}])"
                    : "";
            return Pattern.compile(before + Pattern.quote(text) + after);
        });
    }

    /** The words of a text that say something, longest text order kept, in lower case. */
    static List<String> telling(String text) {
        List<String> words = new ArrayList<>();
        Stream.of(text.toLowerCase(Locale.ROOT).split("[^\\p{L}\\p{N}-]+"))
                .filter(word -> word.length() > 3 && !Tongue.isSmall(word))
                .forEach(words::add);
        return words;
    }
}
