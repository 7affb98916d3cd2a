package servitor.core.origin;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/**
 * A value with where it came from.
 *
 * @param value the value itself
 * @param origins where the value as a whole came from
 * @param echoes fields (as dotted paths) whose value only repeats something of another origin, with that origin
 * @param written whether a machine wrote it, so that it may not reach people unreviewed
 */
@JsonInclude(JsonInclude.Include.NON_EMPTY)
public record Traced(JsonNode value, Set<Origin> origins, Map<String, Set<Origin>> echoes, boolean written) {
    public Traced {
        origins = Set.copyOf(origins);
        echoes = echoes == null ? Map.of() : Map.copyOf(echoes);
    }

    public static Traced of(JsonNode value, Origin origin) {
        return new Traced(value, Set.of(origin), Map.of(), false);
    }

    /** Text or values that a model produced. */
    public static Traced written(JsonNode value) {
        return new Traced(value, Set.of(Origin.MODEL), Map.of(), true);
    }

    /**
     * The answer of a tool. A field that merely repeats an input keeps that input's origin: a lookup that echoes what
     * the requester typed proves nothing about it. The answer counts as machine-written when it carries machine text back.
     */
    public static Traced answer(JsonNode value, Map<String, Traced> inputs) {
        Map<JsonNode, Set<Origin>> weak = new LinkedHashMap<>();
        Set<String> machineText = new HashSet<>();
        inputs.values()
                .forEach(input -> leaves("", input.value(), (path, leaf) -> {
                    Set<Origin> origins = input.originsAt(path);
                    if (Origin.weakest(origins).compareTo(Origin.LOOKUP) < 0) {
                        weak.merge(normal(leaf), origins, Traced::union);
                    }
                    if (input.written() && leaf.isString()) {
                        machineText.add(leaf.stringValue());
                    }
                }));
        Map<String, Set<Origin>> echoes = new LinkedHashMap<>();
        boolean[] written = {false};
        leaves("", value, (path, leaf) -> {
            Set<Origin> echoed = weak.get(normal(leaf));
            if (echoed != null) {
                echoes.put(path, echoed);
            }
            written[0] |= leaf.isString() && machineText.stream().anyMatch(leaf.stringValue()::contains);
        });
        return new Traced(value, Set.of(Origin.LOOKUP), echoes, written[0]);
    }

    /** Where the field at {@code path} (dotted; empty for the whole) came from. */
    public Set<Origin> originsAt(String path) {
        Set<Origin> exact = echoes.get(path);
        if (exact != null) {
            return exact;
        }
        Set<Origin> all = origins;
        for (Map.Entry<String, Set<Origin>> echo : echoes.entrySet()) {
            if (path.isEmpty() || echo.getKey().startsWith(path + ".")) {
                all = union(all, echo.getValue());
            }
        }
        return all;
    }

    /** The field at {@code fields}, traced; null when it isn't there. */
    public @Nullable Traced at(List<String> fields) {
        JsonNode node = value;
        for (String field : fields) {
            node = node.get(field);
            if (node == null) {
                return null;
            }
        }
        String path = String.join(".", fields);
        Map<String, Set<Origin>> inside = new LinkedHashMap<>();
        echoes.forEach((key, origin) -> {
            if (key.startsWith(path + ".")) {
                inside.put(key.substring(path.length() + 1), origin);
            }
        });
        return new Traced(node, originsAt(path), fields.isEmpty() ? echoes : inside, written);
    }

    public static Set<Origin> union(Set<Origin> one, Set<Origin> other) {
        Set<Origin> both = EnumSet.noneOf(Origin.class);
        both.addAll(one);
        both.addAll(other);
        return both;
    }

    /** The places in words, weakest first. */
    public static List<String> words(Set<Origin> origins) {
        return new TreeSet<>(origins).stream().map(Origin::word).toList();
    }

    private static JsonNode normal(JsonNode leaf) {
        if (leaf.isString()) {
            return servitor.core.json.Json.of(leaf.stringValue().strip().toLowerCase(java.util.Locale.ROOT));
        }
        return leaf.isNumber()
                ? servitor.core.json.Json.nodes().numberNode(leaf.decimalValue().stripTrailingZeros())
                : leaf;
    }

    private static void leaves(String path, JsonNode node, java.util.function.BiConsumer<String, JsonNode> visitor) {
        String prefix = path.isEmpty() ? "" : path + ".";
        if (node.isObject()) {
            node.properties().forEach(e -> leaves(prefix + e.getKey(), e.getValue(), visitor));
        } else if (node.isArray()) {
            for (int i = 0; i < node.size(); i++) {
                leaves(prefix + i, node.get(i), visitor);
            }
        } else if (!node.isNull() && !node.isBoolean()) {
            visitor.accept(path, node);
        }
    }
}
