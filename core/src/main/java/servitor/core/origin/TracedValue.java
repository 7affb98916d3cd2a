package servitor.core.origin;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import servitor.core.document.FoundAt;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

/**
 * A value with where it came from.
 *
 * @param value the value itself
 * @param origins where the value as a whole came from
 * @param echoes fields (as dotted paths) whose value only repeats something of another origin, with that origin
 * @param machine fields (as dotted paths; empty for the whole) whose text a machine wrote, so that it may not reach
 *     people unreviewed
 * @param found where in a document fields (as dotted paths; empty for the whole) were found
 */
@JsonInclude(JsonInclude.Include.NON_EMPTY)
public record TracedValue(
        @JsonInclude(JsonInclude.Include.ALWAYS) JsonNode value,
        Set<Origin> origins,
        Map<String, Set<Origin>> echoes,
        Set<String> machine,
        Map<String, FoundAt> found) {
    private static final Set<String> WHOLE = Set.of("");
    private static final int SHORTEST_MENTION = 4;

    public TracedValue {
        origins = Set.copyOf(origins);
        echoes = echoes == null ? Map.of() : Map.copyOf(echoes);
        machine = machine == null ? Set.of() : Set.copyOf(machine);
        found = found == null ? Map.of() : Map.copyOf(found);
    }

    public TracedValue(JsonNode value, Set<Origin> origins, Map<String, Set<Origin>> echoes, Set<String> machine) {
        this(value, origins, echoes, machine, Map.of());
    }

    public TracedValue(JsonNode value, Set<Origin> origins, Map<String, Set<Origin>> echoes, boolean written) {
        this(value, origins, echoes, written ? WHOLE : Set.of());
    }

    public static TracedValue of(JsonNode value, Origin origin) {
        return new TracedValue(value, Set.of(origin), Map.of(), Set.of());
    }

    /** A map put together from traced values; each field keeps where it came from. */
    public static TracedValue fields(Map<String, TracedValue> fields) {
        var object = servitor.core.json.Json.object();
        Set<Origin> origins = EnumSet.noneOf(Origin.class);
        Map<String, Set<Origin>> each = new LinkedHashMap<>();
        Set<String> machine = new HashSet<>();
        Map<String, FoundAt> found = new LinkedHashMap<>();
        fields.forEach((name, value) -> {
            object.set(name, value.value());
            origins.addAll(value.originsAt(""));
            each.put(name, value.originsAt(""));
            value.echoes().forEach((path, echoed) -> each.put(name + "." + path, echoed));
            value.machine().forEach(at -> machine.add(at.isEmpty() ? name : name + "." + at));
            value.found().forEach((path, at) -> found.put(path.isEmpty() ? name : name + "." + path, at));
        });
        return new TracedValue(object, origins.isEmpty() ? Set.of(Origin.HANDBOOK) : origins, each, machine, found);
    }

    /** Text that a model produced. */
    public static TracedValue written(JsonNode value) {
        return new TracedValue(value, Set.of(Origin.MODEL), Map.of(), WHOLE);
    }

    /** What a model answered: its free texts are marked; choices among declared words, numbers and the like aren't. */
    public static TracedValue answered(JsonNode value, Shape shape) {
        Set<String> texts = new HashSet<>();
        texts("", value, shape, texts);
        return new TracedValue(value, Set.of(Origin.MODEL), Map.of(), texts);
    }

    private static void texts(String path, JsonNode value, Shape shape, Set<String> found) {
        String prefix = path.isEmpty() ? "" : path + ".";
        if (value.isObject()) {
            value.properties()
                    .forEach(e -> texts(
                            prefix + e.getKey(),
                            e.getValue(),
                            shape.field(e.getKey()).map(Shape.Field::shape).orElse(Shape.ANYTHING),
                            found));
        } else if (value.isArray()) {
            Shape item = shape instanceof Shape.ListOf list ? list.item() : Shape.ANYTHING;
            for (int i = 0; i < value.size(); i++) {
                texts(prefix + i, value.get(i), item, found);
            }
        } else if (value.isString() && (shape instanceof Shape.Text || shape instanceof Shape.Anything)) {
            found.add(path);
        }
    }

    /** Whether any part of it was written by a machine. */
    public boolean written() {
        return !machine.isEmpty();
    }

    /** The texts a machine wrote in it. */
    public List<String> machineTexts() {
        List<String> texts = new java.util.ArrayList<>();
        leaves("", value, (path, leaf) -> {
            if (leaf.isString() && isMachine(path)) {
                texts.add(leaf.stringValue());
            }
        });
        return texts;
    }

    private boolean isMachine(String path) {
        return machine.stream().anyMatch(at -> at.isEmpty() || path.equals(at) || path.startsWith(at + "."));
    }

    /** The marks of the part at {@code path}. */
    private Set<String> machineAt(String path) {
        if (path.isEmpty()) {
            return machine;
        }
        if (isMachine(path)) {
            return WHOLE;
        }
        Set<String> inside = new HashSet<>();
        machine.stream()
                .filter(at -> at.startsWith(path + "."))
                .forEach(at -> inside.add(at.substring(path.length() + 1)));
        return inside;
    }

    /** The answer of a tool that holds nothing people outside wrote, and puts nothing it is given into other words. */
    public static TracedValue answer(JsonNode value, Map<String, TracedValue> inputs) {
        return answer(value, inputs, Set.of(), true);
    }

    /**
     * The answer of a tool. A field that merely repeats an input keeps that input's origin: a lookup that echoes what
     * the requester typed proves nothing about it. What people outside wrote into the system is theirs, too. The answer counts as
     * machine-written when it carries machine text back, and every text in it when it may have been made from one.
     *
     * @param freeText dotted paths of fields that hold what people outside wrote
     * @param ownWords whether the tool never makes its texts from those it is given
     */
    public static TracedValue answer(
            JsonNode value, Map<String, TracedValue> inputs, Set<String> freeText, boolean ownWords) {
        Map<String, Set<Origin>> weak = new LinkedHashMap<>();
        Set<String> machineText = new HashSet<>();
        inputs.values()
                .forEach(input -> leaves("", input.value(), (path, leaf) -> {
                    Set<Origin> origins = input.originsAt(path);
                    if (Origin.weakest(origins).compareTo(Origin.LOOKUP) < 0) {
                        weak.merge(NormalForm.of(leaf), origins, TracedValue::union);
                    }
                    if (input.isMachine(path) && leaf.isString()) {
                        machineText.add(leaf.stringValue());
                    }
                }));
        Map<String, Set<Origin>> echoes = new LinkedHashMap<>();
        Set<String> machine = new HashSet<>();
        leaves("", value, (path, leaf) -> {
            Set<Origin> echoed = weak.get(NormalForm.of(leaf));
            if (echoed != null) {
                echoes.put(path, echoed);
            } else if (!mentioned(leaf, weak).isEmpty()) {
                echoes.put(path, union(Set.of(Origin.LOOKUP), mentioned(leaf, weak)));
            } else if (freeText.contains(path.replaceAll("\\.\\d+(?=\\.|$)", ""))) {
                echoes.put(path, Set.of(Origin.REQUESTER));
            }
            boolean made = !ownWords && !machineText.isEmpty();
            if (leaf.isString() && (made || machineText.stream().anyMatch(leaf.stringValue()::contains))) {
                machine.add(path);
            }
        });
        return new TracedValue(value, Set.of(Origin.LOOKUP), echoes, machine);
    }

    /** Where those of the weak values came from that a running text mentions. */
    private static Set<Origin> mentioned(JsonNode leaf, Map<String, Set<Origin>> weak) {
        Set<Origin> origins = EnumSet.noneOf(Origin.class);
        if (leaf.isString() && !weak.isEmpty()) {
            for (String form : NormalForm.mentioned(leaf.stringValue())) {
                if (form.length() >= SHORTEST_MENTION) {
                    origins.addAll(weak.getOrDefault(form, Set.of()));
                }
            }
        }
        return origins;
    }

    /** Where the field at {@code path} (dotted; empty for the whole) came from. */
    public Set<Origin> originsAt(String path) {
        Set<Origin> exact = echoes.get(path);
        if (exact != null) {
            return exact;
        }
        Set<Origin> all = originsAbove(path);
        for (Map.Entry<String, Set<Origin>> echo : echoes.entrySet()) {
            if (path.isEmpty() || echo.getKey().startsWith(path + ".")) {
                all = union(all, echo.getValue());
            }
        }
        return all;
    }

    /** What is known of the nearest field that holds the one at {@code path}. */
    private Set<Origin> originsAbove(String path) {
        for (int end = path.lastIndexOf('.'); end > 0; end = path.lastIndexOf('.', end - 1)) {
            Set<Origin> above = echoes.get(path.substring(0, end));
            if (above != null) {
                return above;
            }
        }
        return origins;
    }

    /** The field at {@code fields}, traced; null when it isn't there. */
    public @Nullable TracedValue at(List<String> fields) {
        JsonNode node = value;
        for (String field : fields) {
            node = node.isArray() && field.matches("[0-9]{1,6}") ? node.get(Integer.parseInt(field)) : node.get(field);
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
        return new TracedValue(
                node, originsAt(path), fields.isEmpty() ? echoes : inside, machineAt(path), foundAt(fields));
    }

    /** Where the parts of the field at {@code fields} were found. */
    private Map<String, FoundAt> foundAt(List<String> fields) {
        if (found.isEmpty() || fields.isEmpty()) {
            return found;
        }
        String path = String.join(".", fields);
        Map<String, FoundAt> inside = new LinkedHashMap<>();
        found.forEach((key, at) -> {
            if (key.startsWith(path + ".")) {
                inside.put(key.substring(path.length() + 1), at);
            } else if (key.isEmpty() || path.equals(key) || path.startsWith(key + ".")) {
                int above = key.isEmpty() ? 0 : key.split("\\.").length;
                JsonNode holder = value;
                for (String field : fields.subList(0, above)) {
                    holder = holder.path(field);
                }
                inside.put("", at.inside(fields.subList(above, fields.size()), holder));
            }
        });
        return inside;
    }

    /** Where the whole of it was found; empty when it wasn't found in a document. */
    public Optional<FoundAt> foundAt() {
        return Optional.ofNullable(found.get(""));
    }

    /** The same, found there in a document. */
    public TracedValue foundAt(FoundAt at) {
        return new TracedValue(value, origins, echoes, machine, Map.of("", at));
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
