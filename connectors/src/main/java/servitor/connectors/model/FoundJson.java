package servitor.connectors.model;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import tools.jackson.databind.JsonNode;

/**
 * Finds the JSON in what a model said, whatever it said around it: thoughts, fences, prose. Only where exactly one value is found is
 * it taken; what can be read in two ways isn't guessed at.
 */
final class FoundJson {
    private static final Pattern THOUGHTS =
            Pattern.compile("<(think|thinking|reasoning)>.*?</\\1>", Pattern.DOTALL | Pattern.CASE_INSENSITIVE);
    /** Some servers leave out where thinking began. */
    private static final Pattern BEFORE = Pattern.compile("^.*</(think|thinking|reasoning)>", Pattern.DOTALL);

    private FoundJson() {}

    /** Throws {@link MalformedJson} when there is none, or more than one. */
    static JsonNode in(String said) throws MalformedJson {
        String words = BEFORE.matcher(THOUGHTS.matcher(said).replaceAll(""))
                .replaceFirst("")
                .replace("\uFEFF", "")
                .strip();
        try {
            return Outside.read(words);
        } catch (MalformedJson whole) {
            List<JsonNode> objects = objects(words);
            if (objects.size() > 1) {
                throw new MalformedJson("there is more than one object in it", whole);
            }
            if (objects.isEmpty()) {
                throw whole;
            }
            return objects.get(0);
        }
    }

    private static List<JsonNode> objects(String words) {
        List<JsonNode> found = new ArrayList<>();
        int at = words.indexOf('{');
        while (at >= 0 && found.size() < 2) {
            int end = end(words, at);
            Optional<JsonNode> object = end < 0 ? Optional.empty() : read(words.substring(at, end));
            object.ifPresent(found::add);
            at = words.indexOf('{', object.isPresent() ? end : at + 1);
            if (end < 0) {
                break; // nothing closes any more
            }
        }
        return found;
    }

    /** Behind the brace that closes the one at {@code start}; -1 when none does. */
    private static int end(String words, int start) {
        int open = 0;
        boolean quoted = false;
        for (int i = start; i < words.length(); i++) {
            char sign = words.charAt(i);
            if (quoted) {
                i += sign == '\\' ? 1 : 0;
                quoted = sign != '"';
            } else if (sign == '"') {
                quoted = true;
            } else if (sign == '{') {
                open++;
            } else if (sign == '}' && --open == 0) {
                return i + 1;
            }
        }
        return -1;
    }

    private static Optional<JsonNode> read(String text) {
        try {
            return Optional.of(Outside.read(text));
        } catch (MalformedJson e) {
            return Optional.empty();
        }
    }
}
