package servitor.core.run;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.origin.Formats;
import servitor.core.origin.NormalForm;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.StepProgress.Found;
import tools.jackson.databind.JsonNode;

/**
 * What a run has seen so far, to tell where a value that a model proposes came from. A lookup vouches only by fields of a declared
 * format, and only for inputs of that format: a passenger's name may read like a booking, and is none. What the requester wrote is
 * the requester's wherever it stands. Short words, small numbers and yes or no turn up everywhere and prove nothing.
 */
final class OriginIndex {
    private static final int SHORTEST = 4;
    private static final int FEWEST_DIGITS = 3;
    /** What is known of the requester, and as what. */
    private static final JsonNode REQUESTER = requester();

    private final Map<Value, Set<Origin>> typed = new HashMap<>();
    private final Map<Value, JsonNode> records = new HashMap<>();
    private final Map<String, Set<Origin>> said = new HashMap<>();
    private final Map<String, String> where = new HashMap<>();

    private record Value(String format, String form) {}

    private OriginIndex() {}

    private static JsonNode requester() {
        var properties = Json.object();
        properties.putObject("account").put("format", "account");
        properties.putObject("id").put("format", "person");
        properties.putObject("manager").put("format", "person");
        return Json.object().set("properties", properties);
    }

    static OriginIndex by(TransitionBuilder turn) {
        OriginIndex seen = new OriginIndex();
        Map<String, TracedValue> scope = new LinkedHashMap<>(turn.scope());
        List.of("now", "run", "desk").forEach(scope::remove);
        scope.forEach((name, value) -> {
            Optional<Tool> tool = Lookups.answerOf(turn, name);
            JsonNode schema = tool.map(Tool::outputs).orElse(name.equals("requester") ? REQUESTER : Json.object());
            seen.add(name, value, List.of(), schema, tool.isPresent());
        });
        if (turn.memory().pursuit() != null) {
            int look = 1;
            for (Found found : turn.memory().pursuit().found()) {
                Optional<Tool> tool = Lookups.of(turn, found.tool());
                seen.add(
                        "answer " + look++,
                        found.answer(),
                        List.of(),
                        tool.map(Tool::outputs).orElse(Json.object()),
                        tool.isPresent());
            }
        }
        return seen;
    }

    private void add(String name, TracedValue root, List<String> path, JsonNode schema, boolean isRecord) {
        TracedValue at = root.at(path);
        if (at == null) {
            return;
        }
        List<String> names = new ArrayList<>();
        if (at.value().isObject()) {
            names.addAll(at.value().propertyNames());
        } else {
            for (int i = 0; i < at.value().size(); i++) {
                names.add(String.valueOf(i));
            }
        }
        for (String field : names) {
            List<String> inside = new ArrayList<>(path);
            inside.add(field);
            JsonNode of = Formats.inside(schema, field);
            add(name, root, inside, of, isRecord);
            JsonNode leaf = Objects.requireNonNull(root.at(inside)).value();
            if (isRecord && at.value().isObject() && (leaf.isString() || leaf.isNumber())) {
                Formats.of(of)
                        .ifPresent(format -> records.putIfAbsent(new Value(format, NormalForm.of(leaf)), at.value()));
            }
        }
        if (at.value().isValueNode() && !at.value().isNull()) {
            note(
                    at,
                    path.isEmpty() ? name : name + "." + String.join(".", path),
                    Formats.of(schema).orElse(null));
        }
    }

    private void note(TracedValue leaf, String place, @Nullable String format) {
        Set<Origin> origins = leaf.originsAt("");
        String form = NormalForm.of(leaf.value());
        where.putIfAbsent(form, place);
        if (format != null) {
            typed.merge(new Value(format, form), origins, TracedValue::union);
        }
        if (Origin.weakest(origins).compareTo(Origin.LOOKUP) < 0) {
            say(form, origins, place);
            if (leaf.value().isString() && leaf.value().stringValue().contains(" ")) {
                NormalForm.mentioned(leaf.value().stringValue()).stream()
                        .filter(mentioned -> mentioned.chars().anyMatch(Character::isDigit) || mentioned.contains("@"))
                        .forEach(mentioned -> say(mentioned, origins, place));
            }
        }
    }

    private void say(String form, Set<Origin> origins, String place) {
        said.merge(form, origins, TracedValue::union);
        where.putIfAbsent(form, place);
    }

    /** Where the value was seen first, such as {@code slips.rows.0.net}; empty when what was seen there says nothing of it. */
    Optional<String> place(JsonNode value, JsonNode schema) {
        return origins(value, schema).isEmpty()
                ? Optional.empty()
                : Optional.ofNullable(where.get(NormalForm.of(value)));
    }

    /** Whether a value says anything by turning up somewhere: not a short word, a small number, or a choice among words. */
    private static boolean tells(JsonNode value, JsonNode schema) {
        if (schema.has("enum")) {
            return false;
        }
        return value.isString() && value.stringValue().strip().length() >= SHORTEST
                || value.isNumber()
                        && NormalForm.of(value).replaceAll("[-.]", "").length() >= FEWEST_DIGITS;
    }

    private Set<Origin> origins(JsonNode value, JsonNode schema) {
        if (!tells(value, schema)) {
            return Set.of();
        }
        String form = NormalForm.of(value);
        Set<Origin> looked = Formats.of(schema)
                .map(format -> typed.getOrDefault(new Value(format, form), Set.of()))
                .orElse(Set.of());
        return TracedValue.union(looked, said.getOrDefault(form, Set.of()));
    }

    /**
     * The value with the places it was seen in; a value seen nowhere is the model's own.
     *
     * @param schema of the input that it is proposed for
     */
    TracedValue trace(JsonNode value, JsonNode schema) {
        Set<Origin> origins = origins(value, schema);
        return origins.isEmpty()
                ? new TracedValue(value, Set.of(Origin.MODEL), Map.of(), value.isString())
                : new TracedValue(value, origins, Map.of(), origins.contains(Origin.MODEL) && value.isString());
    }

    /** The looked-up record that holds the value as what the input's schema says it is. */
    Optional<JsonNode> record(JsonNode value, JsonNode schema) {
        return tells(value, schema)
                ? Formats.of(schema).map(format -> records.get(new Value(format, NormalForm.of(value))))
                : Optional.empty();
    }
}
