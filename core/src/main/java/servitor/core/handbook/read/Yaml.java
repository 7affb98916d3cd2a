package servitor.core.handbook.read;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.nodes.Tag;
import org.snakeyaml.engine.v2.schema.CoreSchema;
import servitor.core.handbook.Place;
import servitor.core.handbook.Places;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * A value of a YAML 1.2 document that knows where it stands. Reading never throws: what is wrong with the document is a
 * finding, and what could be read is kept. Aliases, deep nesting and large documents are refused, since a handbook
 * needs none of them and each is a known way to exhaust a reader.
 */
final class Yaml {
    private static final int MOST_CHARACTERS = 2_000_000;
    private static final Set<Tag> PLAIN = Set.of(Tag.STR, Tag.INT, Tag.FLOAT, Tag.BOOL, Tag.NULL, Tag.MAP, Tag.SEQ);
    private static final LoadSettings SETTINGS = LoadSettings.builder()
            .setSchema(new CoreSchema())
            .setAllowDuplicateKeys(false)
            .setMaxAliasesForCollections(0)
            .setCodePointLimit(MOST_CHARACTERS)
            .build();

    private final Place place;
    private final JsonNode scalar;
    private final @Nullable Map<String, Yaml> entries;
    private final Map<String, Place> keys;
    private final @Nullable List<Yaml> items;

    private Yaml(
            Place place,
            JsonNode scalar,
            @Nullable Map<String, Yaml> entries,
            Map<String, Place> keys,
            @Nullable List<Yaml> items) {
        this.place = place;
        this.scalar = scalar;
        this.entries = entries;
        this.keys = keys;
        this.items = items;
    }

    /** An empty map standing at {@code place}. */
    static Yaml empty(Place place) {
        return new Yaml(place, Json.of(null), Map.of(), Map.of(), null);
    }

    /** No value at all, missing at {@code place}. */
    static Yaml nothing(Place place) {
        return new Yaml(place, Json.of(null), null, Map.of(), null);
    }

    /** Reads {@code text}, whose first line is line {@code firstLine} of {@code file}. */
    static Yaml read(String file, int firstLine, String text, Findings findings) {
        Place top = new Place(file, firstLine, 1);
        try {
            Optional<Node> node = new Compose(SETTINGS).composeString(text);
            return node.isEmpty() ? empty(top) : new Reader(file, firstLine, findings).read(node.get(), 0);
        } catch (MarkedYamlEngineException e) {
            Optional<Mark> mark = e.getProblemMark();
            Place at = mark.map(m -> new Place(file, firstLine + m.getLine(), m.getColumn() + 1))
                    .orElse(top);
            findings.error(
                    at,
                    Code.YAML,
                    "This isn't valid YAML: " + e.getProblem() + ".",
                    "Mend the line; a text with ‘: ’, ‘#’ or a leading sign needs quotes.");
        } catch (YamlEngineException | StackOverflowError | IllegalArgumentException e) {
            String why = e instanceof StackOverflowError ? "it is nested too deeply" : e.getMessage();
            findings.error(top, Code.YAML, "This YAML can't be read: " + why + ".", "Make it shorter or simpler.");
        }
        return empty(top);
    }

    Place place() {
        return place;
    }

    boolean isMap() {
        return entries != null;
    }

    boolean isList() {
        return items != null;
    }

    boolean isEmptyValue() {
        return entries == null && items == null && scalar.isNull();
    }

    Map<String, Yaml> entries() {
        return entries == null ? Map.of() : entries;
    }

    List<Yaml> items() {
        return items == null ? List.of() : items;
    }

    @Nullable
    Yaml get(String key) {
        return entries().get(key);
    }

    /** Where the key itself stands. */
    Place placeOf(String key) {
        return keys.getOrDefault(key, place);
    }

    /** Where every value inside stands. */
    Places places(Place top) {
        Map<String, Place> places = new LinkedHashMap<>();
        gather("", places);
        return new Places(top, places);
    }

    private void gather(String path, Map<String, Place> places) {
        if (!path.isEmpty()) {
            places.put(path, place);
        }
        String prefix = path.isEmpty() ? "" : path + ".";
        entries().forEach((key, value) -> value.gather(prefix + key, places));
        for (int i = 0; i < items().size(); i++) {
            items().get(i).gather(prefix + i, places);
        }
    }

    JsonNode scalar() {
        return scalar;
    }

    /** The text of a scalar as written; empty for maps and lists. */
    String text() {
        return scalar.isNull() ? "" : scalar.asString("");
    }

    /** The whole value as plain JSON. */
    JsonNode json() {
        if (entries != null) {
            var object = Json.object();
            entries.forEach((key, value) -> object.set(key, value.json()));
            return object;
        }
        if (items != null) {
            var array = Json.mapper().createArrayNode();
            items.forEach(item -> array.add(item.json()));
            return array;
        }
        return scalar;
    }

    private static final class Reader {
        private static final int DEEPEST = 40;
        private final String file;
        private final int firstLine;
        private final Findings findings;
        private final IdentityHashMap<Node, Boolean> seen = new IdentityHashMap<>();

        Reader(String file, int firstLine, Findings findings) {
            this.file = file;
            this.firstLine = firstLine;
            this.findings = findings;
        }

        private Place placeOf(Node node) {
            return node.getStartMark()
                    .map(mark -> new Place(file, firstLine + mark.getLine(), mark.getColumn() + 1))
                    .orElse(Place.top(file));
        }

        Yaml read(Node node, int depth) {
            Place at = placeOf(node);
            if (depth > DEEPEST) {
                findings.error(
                        at, Code.YAML, "This is nested more than " + DEEPEST + " levels deep.", "Make it flatter.");
                return empty(at);
            }
            if (seen.put(node, true) != null) {
                findings.error(
                        at,
                        Code.YAML,
                        "Aliases (‘*name’) aren't used in a handbook.",
                        "Write the value out, or put the text in quotes.");
                return empty(at);
            }
            if (!PLAIN.contains(node.getTag())) {
                findings.error(
                        at,
                        Code.QUOTE,
                        "‘" + node.getTag().getValue() + "’ was read as a YAML tag, not as text.",
                        "Quote this condition.");
                return new Yaml(at, Json.of(""), null, Map.of(), null);
            }
            if (node instanceof MappingNode map) {
                Map<String, Yaml> entries = new LinkedHashMap<>();
                Map<String, Place> keys = new LinkedHashMap<>();
                for (NodeTuple tuple : map.getValue()) {
                    Place keyAt = placeOf(tuple.getKeyNode());
                    if (!(tuple.getKeyNode() instanceof ScalarNode key)) {
                        findings.error(
                                keyAt,
                                Code.YAML,
                                "A key must be a plain word.",
                                "If this was meant to be an expression, put it in quotes.");
                        continue;
                    }
                    if (keys.put(key.getValue(), keyAt) != null) {
                        findings.error(
                                keyAt,
                                Code.DUPLICATE_KEY,
                                "‘" + key.getValue() + "’ stands here twice.",
                                "Keep one of them.");
                    }
                    entries.put(key.getValue(), read(tuple.getValueNode(), depth + 1));
                }
                return new Yaml(at, Json.of(null), entries, keys, null);
            }
            if (node instanceof SequenceNode list) {
                List<Yaml> items = new ArrayList<>();
                list.getValue().forEach(item -> items.add(read(item, depth + 1)));
                return new Yaml(at, Json.of(null), null, Map.of(), items);
            }
            ScalarNode scalar = (ScalarNode) node;
            return new Yaml(content(at, scalar.getScalarStyle()), scalarOf(scalar), null, Map.of(), null);
        }

        /** Where the text itself begins: behind its opening quote, or on the line after {@code |} or {@code >}. */
        private static Place content(Place at, ScalarStyle style) {
            return switch (style) {
                case SINGLE_QUOTED, DOUBLE_QUOTED -> new Place(at.file(), at.line(), at.column() + 1);
                case LITERAL, FOLDED -> new Place(at.file(), at.line() + 1, 1);
                default -> at;
            };
        }

        private static JsonNode scalarOf(ScalarNode node) {
            String text = node.getValue();
            Tag tag = node.getTag();
            try {
                if (tag.equals(Tag.NULL)) {
                    return Json.of(null);
                }
                if (tag.equals(Tag.BOOL)) {
                    return Json.of(Boolean.valueOf(text));
                }
                if (tag.equals(Tag.INT)) {
                    return Json.nodes().numberNode(new BigInteger(text));
                }
                if (tag.equals(Tag.FLOAT)) {
                    return Json.nodes().numberNode(new BigDecimal(text));
                }
            } catch (NumberFormatException e) {
                return Json.of(text); // 0x1F, .inf and the like: a handbook means the text
            }
            return Json.of(text);
        }
    }
}
