package servitor.core.run;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import servitor.core.json.Json;
import servitor.core.origin.NormalForm;
import servitor.core.origin.Origin;
import servitor.core.origin.Traced;
import tools.jackson.databind.JsonNode;

/**
 * What a run has seen so far, to tell where a value that a model proposes came from. Short words, small numbers and
 * yes or no turn up everywhere and prove nothing, so they count as the model's own.
 */
final class Seen {
    private static final int SHORTEST = 4;
    private static final int FEWEST_DIGITS = 3;

    private final Map<String, Set<Origin>> places = new HashMap<>();
    private final Map<String, JsonNode> records = new HashMap<>();
    private final Map<String, String> where = new HashMap<>();

    private Seen() {}

    static Seen by(Turn turn) {
        Seen seen = new Seen();
        Map<String, Traced> scope = new LinkedHashMap<>(turn.scope());
        scope.remove("now");
        scope.remove("run");
        scope.remove("desk");
        scope.forEach(
                (name, value) -> seen.add(name, value, List.of(), !name.equals("case") && !name.equals("requester")));
        if (turn.memory().pursuit() != null) {
            int look = 1;
            for (Traced answer : turn.memory().pursuit().found()) {
                seen.add("answer " + look++, answer, List.of(), true);
            }
        }
        return seen;
    }

    private void add(String name, Traced root, List<String> path, boolean isRecord) {
        Traced at = root.at(path);
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
            add(name, root, inside, isRecord);
            JsonNode leaf = root.at(inside).value();
            if (isRecord && at.value().isObject() && (leaf.isString() || leaf.isNumber())) {
                records.putIfAbsent(NormalForm.of(leaf), at.value());
            }
        }
        if (at.value().isValueNode() && !at.value().isNull()) {
            String place = path.isEmpty() ? name : name + "." + String.join(".", path);
            note(NormalForm.of(at.value()), at.originsAt(""), place);
            if (at.value().isString() && at.value().stringValue().contains(" ")) {
                NormalForm.mentioned(at.value().stringValue()).stream()
                        .filter(form -> form.chars().anyMatch(Character::isDigit) || form.contains("@"))
                        .forEach(form -> note(form, at.originsAt(""), place));
            }
        }
    }

    private void note(String form, Set<Origin> origins, String place) {
        places.merge(form, origins, Traced::union);
        where.putIfAbsent(form, place);
    }

    /** Where the value was seen first, such as {@code slips.rows.0.net}. */
    Optional<String> place(JsonNode value) {
        return tells(value, Json.object()) ? Optional.ofNullable(where.get(NormalForm.of(value))) : Optional.empty();
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

    /**
     * The value with the places it was seen in; a value seen nowhere is the model's own.
     *
     * @param schema of the input that it is proposed for
     */
    Traced trace(JsonNode value, JsonNode schema) {
        Set<Origin> origins = tells(value, schema) ? places.get(NormalForm.of(value)) : null;
        return origins == null
                ? new Traced(value, Set.of(Origin.MODEL), Map.of(), value.isString())
                : new Traced(value, origins, Map.of(), origins.contains(Origin.MODEL) && value.isString());
    }

    /** The looked-up record that holds the value. */
    Optional<JsonNode> record(JsonNode value) {
        return tells(value, Json.object()) ? Optional.ofNullable(records.get(NormalForm.of(value))) : Optional.empty();
    }
}
