package servitor.core.rehearsal;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Puts made-up values of the same form in the place of what tells about people: the same for the same, wherever it stands. Words of the
 * handbook, numbers, dates and yes/no stay, as pages decide by them; free text becomes a placeholder of the same length.
 */
final class Veil {
    private static final List<String> NAMES = List.of(
            "Alva Brenn",
            "Corin Dale",
            "Mira Holt",
            "Joss Penrow",
            "Tilda Marsh",
            "Rafe Anders",
            "Nella Quist",
            "Oda Veld");
    private static final int LONGEST_WORD = 60;
    private static final Pattern DATE = Pattern.compile("\\d{4}-\\d{2}-\\d{2}([T ].*)?");
    private static final Pattern MAIL = Pattern.compile("[^@\\s]+@[^@\\s]+");
    private static final Pattern HAS_DIGIT = Pattern.compile(".*\\d.*", Pattern.DOTALL);
    private static final Pattern NAME = Pattern.compile("\\p{Lu}\\p{L}+([ -]\\p{Lu}\\p{L}+)+");

    private final String handbook;
    private final Map<String, String> madeUp = new LinkedHashMap<>();
    private int names;

    /** A veil that lets the words of these files through. */
    Veil(String handbook) {
        this.handbook = handbook;
    }

    /** A person's name, and the parts of it, from now on have a made-up one. */
    String name(String name) {
        if (name.isBlank()) {
            return name;
        }
        String known = madeUp.get(name);
        if (known != null) {
            return known;
        }
        String other = NAMES.get(names++ % NAMES.size());
        madeUp.put(name, other);
        String[] parts = name.split(" ");
        madeUp.putIfAbsent(parts[0], other.split(" ")[0]);
        madeUp.putIfAbsent(parts[parts.length - 1], other.split(" ")[1]);
        return other;
    }

    /** A free text: a placeholder of the same length. */
    static String text(String text) {
        if (text.isBlank()) {
            return text;
        }
        String said = "a text of " + text.length() + " characters";
        return text.length() <= said.length()
                ? said.substring(0, text.length()).replaceAll(" $", "_")
                : said + " " + "·".repeat(text.length() - said.length() - 1);
    }

    /** A short value, such as an account, a mail address or a word. */
    String word(String word) {
        String known = madeUp.get(word);
        if (known != null) {
            return known;
        }
        if (word.length() > LONGEST_WORD || word.contains("\n")) {
            return text(word);
        }
        if (DATE.matcher(word).matches() || isOfTheHandbook(word)) {
            return word;
        }
        String other = word;
        if (MAIL.matcher(word).matches()) {
            other = "person-" + (madeUp.size() + 1) + "@mail.example";
        } else if (NAME.matcher(word).matches()) {
            return name(word);
        } else if (word.contains(" ")) {
            other = hidden(word);
        } else if (HAS_DIGIT.matcher(word).matches()) {
            other = otherDigits(word);
        }
        madeUp.put(word, other);
        return other;
    }

    /** Several words: those of the handbook stay, as pages may decide by them; of the others their lengths. */
    private String hidden(String words) {
        return Stream.of(words.split(" "))
                .map(word -> isOfTheHandbook(word) ? word : "·".repeat(word.length()))
                .collect(Collectors.joining(" "));
    }

    /** What was filled in by hand: several words are free text. */
    JsonNode fields(JsonNode fields) {
        ObjectNode told = Json.object();
        fields.properties().forEach(e -> {
            String text = e.getValue().asString("");
            told.set(
                    e.getKey(),
                    e.getValue().isString() && text.contains(" ") ? Json.of(text(text)) : value(e.getValue()));
        });
        return told;
    }

    private boolean isOfTheHandbook(String word) {
        return !word.isEmpty()
                && Pattern.compile("(?<![\\p{L}\\d])" + Pattern.quote(word) + "(?![\\p{L}\\d])")
                        .matcher(handbook)
                        .find();
    }

    /** Other digits in the same places; the same digit isn't always the same, the same word is. */
    private static String otherDigits(String word) {
        StringBuilder other = new StringBuilder();
        String digest = Json.digest("veil " + word);
        int at = 0;
        for (char c : word.toCharArray()) {
            if (c >= '0' && c <= '9') {
                int digit = Character.digit(digest.charAt(at++ % digest.length()), 16) % 9 + 1;
                other.append((char) ('0' + digit));
            } else {
                other.append(c);
            }
        }
        return other.toString();
    }

    /** Every text in a value. */
    JsonNode value(JsonNode value) {
        if (value.isString()) {
            return Json.of(word(value.asString("")));
        } else if (value.isArray()) {
            List<JsonNode> all = new ArrayList<>();
            value.forEach(one -> all.add(value(one)));
            return Json.of(all);
        } else if (value.isObject()) {
            ObjectNode all = Json.object();
            value.properties().forEach(e -> all.set(e.getKey(), value(e.getValue())));
            return all;
        }
        return value;
    }

    /** Of inputs what can be told by itself: not texts that are put together of several. */
    JsonNode inputs(JsonNode inputs) {
        ObjectNode told = Json.object();
        inputs.properties().stream()
                .filter(e -> !e.getValue().isString() || isPlain(e.getValue().asString("")))
                .forEach(e -> told.set(e.getKey(), value(e.getValue())));
        return told;
    }

    private static boolean isPlain(String text) {
        return text.length() <= LONGEST_WORD && !text.contains(" ");
    }
}
