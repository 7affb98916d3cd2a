package servitor.standins.model;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;

/** Chooses one of several labels for a text: by their signs, by the hints the instruction gives after a label, and by the examples. */
final class Labels {
    private static final int SIGN = 4;
    private static final int EXAMPLE = 2;

    private final Asked asked;
    private final String text;

    Labels(Asked asked) {
        this.asked = asked;
        this.text = (asked.words() + " " + asked.request().path("fields")).toLowerCase(Locale.ROOT);
    }

    /** The label that fits best; empty when none does. */
    Optional<String> of(JsonNode options) {
        Map<String, Long> scores = new HashMap<>();
        String best = "";
        for (JsonNode option : options) {
            String label = option.asString("");
            long score = SIGN * Lexicon.count(label, text) + hints(label) + examples(label);
            scores.put(label, score);
            if (score > scores.getOrDefault(best, 0L)) {
                best = label;
            }
        }
        return best.isEmpty() ? Optional.empty() : Optional.of(best);
    }

    /** How many words of the text stand after the label in the instruction: {@code delay: late, waiting}, {@code ‘delay’ (late)}. */
    private long hints(String label) {
        Matcher hint = Pattern.compile(
                        "(?i)[\"‘'“]?" + Pattern.quote(label) + "[\"’'”]?\\s*(?::|=|–|\\()\\s*([^.;)\\n]+)")
                .matcher(asked.instruction());
        return hint.find() ? shared(hint.group(1)) : 0;
    }

    private long examples(String label) {
        return asked.examples().stream()
                .filter(example -> example.toLowerCase(Locale.ROOT).endsWith(label.toLowerCase(Locale.ROOT)))
                .mapToLong(example -> EXAMPLE * shared(example))
                .max()
                .orElse(0);
    }

    private long shared(String words) {
        List<String> said = Lexicon.telling(text);
        return Lexicon.telling(words).stream()
                .map(word -> word.substring(0, Math.min(4, word.length())))
                .distinct()
                .filter(word -> said.stream().anyMatch(one -> one.startsWith(word)))
                .count();
    }
}
