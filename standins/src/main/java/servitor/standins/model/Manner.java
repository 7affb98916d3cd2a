package servitor.standins.model;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How a text is written: the rules of the house and of the brief, as far as they can be told by their words, the tone, and how long it
 * may be.
 */
final class Manner {
    private static final Pattern SORRY = Pattern.compile(
            "(?i)\\b(sorry|apolog\\w*|tut uns leid|entschuldig\\w*|désolés?|excus\\w*)\\b",
            Pattern.UNICODE_CHARACTER_CLASS);
    private static final Pattern PROMISE = Pattern.compile(
            "(?i)\\b(promis\\w*|guarant\\w*|versprech\\w*|garant\\w*|promett\\w*)\\b", Pattern.UNICODE_CHARACTER_CLASS);
    private static final Pattern SENTENCES = Pattern.compile(
            "(?i)\\b(?:in|with) (?:(?:one|two|three|four|\\d) (?:or|to) )?(one|two|three|four|\\d)(?: \\w+){0,2} sentences?\\b");
    private static final Pattern GREET = Pattern.compile("(?i)\\b(?:begin|greet|start)\\w* with [‘'\"“](.+?)[’'\"”]");
    private static final Pattern SIGN = Pattern.compile("(?i)\\bsign (?:as|with) [‘'\"“](.+?)[’'\"”]");
    private static final Pattern NO_NAME =
            Pattern.compile("(?i)\\b(?:no|without|leave out)(?: the| any| first| last)? names?\\b");
    private static final Pattern NO_GREETING = Pattern.compile("(?i)\\b(?:no|without a?) ?greetings?\\b");
    private static final Pattern ONE_SORRY = Pattern.compile("(?i)\\b(?:apolog|sorry)");
    private static final Map<String, Integer> COUNTS = Map.of("one", 1, "two", 2, "three", 3, "four", 4);
    private static final Map<String, String> FORMAL =
            Map.of("en", "Dear Sir or Madam, ", "de", "Sehr geehrte Damen und Herren, ", "fr", "Madame, Monsieur, ");
    private static final Pattern GREETING =
            Pattern.compile("^(Good day|Guten Tag|Bonjour)( [\\p{L}'-]+)?, ", Pattern.UNICODE_CHARACTER_CLASS);

    private final Asked asked;
    private final String language;

    Manner(Asked asked, String language) {
        this.asked = asked;
        this.language = language;
    }

    /** The text as the rules want it. */
    String keep(String text) {
        String kept = greeted(text);
        List<String> sentences = new ArrayList<>(List.of(kept.split("(?<=[.!?])\\s+(?=[\\p{Lu}(])")));
        boolean oneSorry = rule(ONE_SORRY);
        boolean noPromise =
                asked.rules().stream().anyMatch(rule -> PROMISE.matcher(rule).find())
                        || asked.instruction().toLowerCase(Locale.ROOT).contains("no promises");
        boolean sorry = false;
        for (int i = 0; i < sentences.size(); i++) {
            boolean says = SORRY.matcher(sentences.get(i)).find();
            boolean drop = oneSorry && says && sorry
                    || noPromise && i > 0 && PROMISE.matcher(sentences.get(i)).find();
            sorry |= says;
            if (drop) {
                sentences.remove(i--);
            }
        }
        int most = mostSentences();
        kept = String.join(" ", sentences.size() > most ? sentences.subList(0, most) : sentences);
        return signed(shortened(kept));
    }

    private boolean rule(Pattern pattern) {
        return asked.rules().stream().anyMatch(rule -> pattern.matcher(rule).find());
    }

    private String greeted(String text) {
        Matcher greeting = GREETING.matcher(text);
        if (!greeting.find()) {
            return text;
        }
        String rest = text.substring(greeting.end());
        if (rule(NO_GREETING)) {
            return rest.substring(0, 1).toUpperCase(Locale.ROOT) + rest.substring(1);
        }
        String name = greeting.group(2) == null || rule(NO_NAME) ? "" : greeting.group(2);
        for (String rule : asked.rules()) {
            Matcher wanted = GREET.matcher(rule);
            if (wanted.find()) {
                return wanted.group(1).replaceFirst(",\\s*$", "") + name + ", " + rest;
            }
        }
        if (asked.tone().contains("formal")) {
            return FORMAL.get(language) + rest;
        }
        return greeting.group(1) + name + ", " + rest;
    }

    private String signed(String text) {
        for (String rule : asked.rules()) {
            Matcher wanted = SIGN.matcher(rule);
            if (wanted.find()) {
                return text + " " + wanted.group(1);
            }
        }
        return text;
    }

    /** The fewest that the instruction or a rule allows. */
    private int mostSentences() {
        int most = Integer.MAX_VALUE;
        List<String> all = new ArrayList<>(asked.rules());
        all.add(asked.instruction());
        for (String one : all) {
            Matcher sentences = SENTENCES.matcher(one);
            while (sentences.find()) {
                String count = sentences.group(1).toLowerCase(Locale.ROOT);
                most = Math.min(most, COUNTS.containsKey(count) ? COUNTS.get(count) : Integer.parseInt(count));
            }
        }
        return most;
    }

    /** Cut at the end of a sentence where one is in reach, and at a word otherwise. */
    private String shortened(String text) {
        String[] words = text.split("\\s+");
        if (words.length <= asked.mostWords()) {
            return text;
        }
        String cut = String.join(" ", List.of(words).subList(0, asked.mostWords()));
        int end = cut.lastIndexOf(". ");
        return end > cut.length() / 2 ? cut.substring(0, end + 1) : cut;
    }
}
