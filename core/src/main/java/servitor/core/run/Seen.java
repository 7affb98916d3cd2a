package servitor.core.run;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import servitor.core.origin.Origin;
import servitor.core.origin.Traced;
import tools.jackson.databind.JsonNode;

/**
 * What a run has seen so far, to tell where a value that a model proposes came from. Short words, small numbers and
 * yes or no turn up everywhere and prove nothing, so they count as the model's own.
 */
final class Seen {
    private static final int SHORTEST = 4;

    private final Map<String, Set<Origin>> places = new HashMap<>();
    private final Map<String, JsonNode> records = new HashMap<>();

    private Seen() {}

    static Seen by(Turn turn) {
        Seen seen = new Seen();
        Map<String, Traced> scope = new LinkedHashMap<>(turn.scope());
        scope.remove("now");
        scope.remove("run");
        scope.remove("desk");
        scope.forEach((name, value) -> seen.add(value, List.of(), !name.equals("case") && !name.equals("requester")));
        if (turn.memory().pursuit() != null) {
            turn.memory().pursuit().found().forEach(answer -> seen.add(answer, List.of(), true));
        }
        return seen;
    }

    private void add(Traced root, List<String> path, boolean isRecord) {
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
        for (String name : names) {
            List<String> inside = new ArrayList<>(path);
            inside.add(name);
            add(root, inside, isRecord);
            JsonNode leaf = root.at(inside).value();
            if (isRecord && at.value().isObject() && (leaf.isString() || leaf.isNumber())) {
                records.putIfAbsent(key(leaf), at.value());
            }
        }
        if (at.value().isValueNode() && !at.value().isNull()) {
            places.merge(key(at.value()), at.originsAt(""), Traced::union);
        }
    }

    private static String key(JsonNode leaf) {
        return leaf.isNumber()
                ? leaf.decimalValue().stripTrailingZeros().toPlainString()
                : leaf.asString().strip().toLowerCase(Locale.ROOT);
    }

    private static boolean tells(JsonNode value) {
        return value.isString() && value.stringValue().strip().length() >= SHORTEST
                || value.isNumber() && key(value).replace("-", "").length() >= 3;
    }

    /** The value with the places it was seen in; a value seen nowhere is the model's own. */
    Traced trace(JsonNode value) {
        Set<Origin> origins = tells(value) ? places.get(key(value)) : null;
        return origins == null
                ? new Traced(value, Set.of(Origin.MODEL), Map.of(), value.isString())
                : new Traced(value, origins, Map.of(), origins.contains(Origin.MODEL) && value.isString());
    }

    /** The looked-up record that holds the value. */
    Optional<JsonNode> record(JsonNode value) {
        return tells(value) ? Optional.ofNullable(records.get(key(value))) : Optional.empty();
    }
}
