package servitor.standins.model;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.core.type.TypeReference;

/** Translates phrase by phrase between English, German and French, and says that it does; what it has no phrase for stays. */
final class PhraseBook {
    /** Phrases that mean the same, by language. */
    private static final List<Map<String, String>> PHRASES = read();

    private static final Pattern TRANSLATE = Pattern.compile("(?i)\\b(translat\\w*|übersetz\\w*|tradui\\w*)\\b");

    private PhraseBook() {}

    private static List<Map<String, String>> read() {
        try (InputStream in = PhraseBook.class.getResourceAsStream("phrases.json")) {
            return Asked.JSON.readValue(Objects.requireNonNull(in), new TypeReference<List<Map<String, String>>>() {});
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    static boolean isAskedFor(String instruction) {
        return TRANSLATE.matcher(instruction).find();
    }

    /** The text in another language, marked as the phrase book's. */
    static String translate(String text, String language) {
        String from = Tongue.of(text);
        String translated = text;
        List<Map<String, String>> longest = PHRASES.stream()
                .sorted(Comparator.comparingInt((Map<String, String> phrase) ->
                                phrase.getOrDefault(from, "").length())
                        .reversed())
                .toList();
        for (Map<String, String> phrase : longest) {
            if (phrase.containsKey(from) && phrase.containsKey(language) && !from.equals(language)) {
                translated = Pattern.compile("(?iu)(?<!\\p{L})" + Pattern.quote(phrase.get(from)) + "(?!\\p{L})")
                        .matcher(translated)
                        .replaceAll(Matcher.quoteReplacement(phrase.get(language)));
            }
        }
        return "[phrase book] " + translated;
    }
}
