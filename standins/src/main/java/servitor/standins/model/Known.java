package servitor.standins.model;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The values that were given, by the name of their field: what tools answered counts first, the newest before the older, then the
 * facts, then the fields of the request. Of a list with several entries none counts as the value; its entries are candidates.
 */
final class Known {
    private final Map<String, JsonNode> values = new LinkedHashMap<>();
    private final Map<String, JsonNode> lists = new LinkedHashMap<>();
    private final Map<String, List<JsonNode>> candidates = new LinkedHashMap<>();
    private final String words;

    Known(Asked asked) {
        List<JsonNode> sources = new ArrayList<>();
        asked.turns().stream()
                .filter(turn -> !turn.tool().startsWith("case__"))
                .forEach(turn -> sources.add(0, turn.answer()));
        sources.add(asked.tools().isEmpty() ? lookedUp(asked.facts()) : asked.facts());
        sources.add(asked.request());
        sources.forEach(source -> take("", source));
        this.words = asked.words();
    }

    /** The facts without what a model has judged before: when it is asked once more, things may be otherwise. */
    private static JsonNode lookedUp(JsonNode facts) {
        ObjectNode looked = Asked.JSON.createObjectNode();
        facts.properties().stream()
                .filter(e -> !(e.getValue().has("reason") && e.getValue().has("sure")))
                .forEach(e -> looked.set(e.getKey(), e.getValue()));
        return looked;
    }

    private void take(String name, JsonNode node) {
        if (node.isObject()) {
            node.properties().forEach(e -> take(e.getKey(), e.getValue()));
        } else if (node.isArray()) {
            if (!name.isEmpty()) {
                lists.putIfAbsent(name, node);
            }
            if (node.size() == 1) {
                take(name, node.get(0));
            } else {
                node.forEach(entry -> entry.propertyNames()
                        .forEach(field -> candidates
                                .computeIfAbsent(field, any -> new ArrayList<>())
                                .add(entry)));
            }
        } else if (!name.isEmpty() && !node.isNull() && !node.isMissingNode()) {
            values.putIfAbsent(name, node);
        }
    }

    /** The value of a field of this name. */
    Optional<JsonNode> named(String name) {
        return Optional.ofNullable(values.get(name));
    }

    /** The list of this name. */
    @Nullable
    JsonNode list(String name) {
        return lists.get(name);
    }

    /** The entries of lists that have a field of this name, each once. */
    List<JsonNode> candidates(String name) {
        return candidates.getOrDefault(name, List.of()).stream().distinct().toList();
    }

    /** What fits the pattern of an input: a value as a whole, or words of what was written. */
    Optional<JsonNode> fitting(JsonNode shape) {
        String pattern = shape.path("pattern").asString("").replaceAll("^\\^|\\$$", "");
        if (pattern.isEmpty()) {
            return Optional.empty();
        }
        Pattern whole = Pattern.compile(pattern);
        Optional<JsonNode> value = values.values().stream()
                .filter(one -> one.isString() && whole.matcher(one.asString("")).matches())
                .findFirst();
        if (value.isPresent()) {
            return value;
        }
        Matcher said = Pattern.compile("(?<![A-Za-z0-9])(?:" + pattern + ")(?![A-Za-z0-9])")
                .matcher(words);
        return said.find() ? Optional.of(Asked.JSON.getNodeFactory().stringNode(said.group())) : Optional.empty();
    }
}
