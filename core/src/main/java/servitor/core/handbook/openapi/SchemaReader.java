package servitor.core.handbook.openapi;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Makes schemas of a description stand alone as JSON Schema 2020-12. References are written out as long as that is small; what
 * refers to itself, or would grow, is kept by reference under {@code $defs}. What OpenAPI 3.0 says in its own way ({@code
 * nullable}, {@code exclusiveMinimum: true}, {@code example}) is said as 2020-12 has it.
 */
final class SchemaReader {
    private static final Set<String> ONE = Set.of(
            "additionalProperties",
            "unevaluatedProperties",
            "unevaluatedItems",
            "propertyNames",
            "contains",
            "not",
            "if",
            "then",
            "else");
    private static final Set<String> NAMED = Set.of("properties", "patternProperties", "dependentSchemas");
    private static final Set<String> LISTED = Set.of("allOf", "anyOf", "oneOf", "prefixItems");
    /** Said of a schema without changing what fits it; or about its place, which it leaves. */
    private static final Set<String> LEFT_OUT = Set.of(
            "nullable", "discriminator", "xml", "externalDocs", "example", "$id", "$schema", "$anchor", "$comment");

    /** So many parts of one operation are written out; what comes after is kept by reference. */
    private static final int WRITTEN_OUT = 5_000;
    /** Levels of references that are written out. */
    private static final int DEEPEST = 12;

    private final Pointers document;
    private final boolean old;
    private final Set<String> notes = new LinkedHashSet<>();
    private final Deque<String> open = new ArrayDeque<>();
    private final Map<String, String> names = new LinkedHashMap<>();
    private final ObjectNode kept = Json.object();
    private int parts;
    private boolean forInput;

    /** {@code old} is whether the description is one of OpenAPI 3.0. */
    SchemaReader(Pointers document, boolean old) {
        this.document = document;
        this.old = old;
    }

    /** What is said in {@code schema} of a value that is sent, or answered. */
    JsonNode read(JsonNode schema, boolean sent) {
        forInput = sent;
        return schema(schema, false);
    }

    /** The schemas that others refer to by {@code #/$defs/…}, by their names; they go with the schema that is made of what was read. */
    ObjectNode defs() {
        return kept;
    }

    /** What couldn't be taken over, in sentences. */
    Set<String> notes() {
        return notes;
    }

    /** How much was read. */
    int parts() {
        return parts;
    }

    private JsonNode schema(JsonNode node, boolean byReference) {
        parts++;
        if (!node.isObject()) {
            return node.isBoolean() ? node : Json.object();
        }
        JsonNode reference = node.get("$ref");
        if (reference != null && reference.isString()) {
            return referred(node, reference.stringValue(), byReference);
        }
        return own(node, byReference);
    }

    /** What a reference leads to; in 3.1 there may be more beside it. */
    private JsonNode referred(JsonNode node, String reference, boolean byReference) {
        JsonNode target = document.at(reference);
        if (target.isMissingNode()) {
            notes.add(
                    "The reference ‘" + reference + "’ leads to nothing in this description; anything is taken there.");
            return Json.object();
        }
        boolean keep = byReference || open.contains(reference) || open.size() > DEEPEST || parts > WRITTEN_OUT;
        JsonNode meant =
                keep ? Json.object().put("$ref", "#/$defs/" + name(reference, target)) : writtenOut(reference, target);
        if (old || node.size() == 1) {
            return meant;
        }
        ObjectNode beside = node.deepCopy().asObject();
        beside.remove("$ref");
        ObjectNode both = own(beside, byReference);
        if (both.isEmpty()) {
            return meant;
        }
        if (meant.isObject() && isAnnotation(both)) {
            return meant.deepCopy().asObject().setAll(both);
        }
        return Json.object()
                .set("allOf", Json.mapper().createArrayNode().add(meant).add(both));
    }

    private static boolean isAnnotation(ObjectNode schema) {
        return Set.of("title", "description", "default", "deprecated", "examples", "readOnly", "writeOnly")
                .containsAll(schema.propertyNames());
    }

    private JsonNode writtenOut(String reference, JsonNode target) {
        open.push(reference);
        JsonNode read = schema(target, false);
        open.pop();
        return read;
    }

    private String name(String reference, JsonNode target) {
        String known = names.get(reference);
        if (known != null) {
            return known;
        }
        String last = reference.substring(reference.lastIndexOf('/') + 1).replaceAll("[^A-Za-z0-9_.-]", "_");
        String name = last;
        for (int i = 2; names.containsValue(name); i++) {
            name = last + "_" + i;
        }
        names.put(reference, name);
        kept.putObject(name);
        kept.set(name, schema(target, true));
        return name;
    }

    private ObjectNode own(JsonNode node, boolean byReference) {
        ObjectNode read = Json.object();
        for (Map.Entry<String, JsonNode> member : node.properties()) {
            String key = member.getKey();
            JsonNode value = member.getValue();
            if (ONE.contains(key)) {
                read.set(key, schema(value, byReference));
            } else if (NAMED.contains(key) && value.isObject()) {
                named(read.putObject(key), value, byReference);
            } else if (LISTED.contains(key) && value.isArray()) {
                ArrayNode list = read.putArray(key);
                value.forEach(one -> list.add(schema(one, byReference)));
            } else if (key.equals("items")) {
                read.set(value.isArray() ? "prefixItems" : key, items(value, byReference));
            } else if (!LEFT_OUT.contains(key) && !key.startsWith("x-")) {
                keyword(read, key, value);
            }
        }
        onlyOneWay(read);
        if (node.has("example") && !read.has("examples")) {
            read.set("examples", Json.mapper().createArrayNode().add(node.get("example")));
        }
        if (old && node.path("nullable").asBoolean(false)) {
            nullable(read);
        }
        return read;
    }

    private JsonNode items(JsonNode value, boolean byReference) {
        if (!value.isArray()) {
            return schema(value, byReference);
        }
        ArrayNode list = Json.mapper().createArrayNode();
        value.forEach(one -> list.add(schema(one, byReference)));
        return list;
    }

    private void named(ObjectNode into, JsonNode schemas, boolean byReference) {
        schemas.properties().forEach(one -> into.set(one.getKey(), schema(one.getValue(), byReference)));
    }

    private void keyword(ObjectNode read, String key, JsonNode value) {
        parts++;
        switch (key) {
            case "$dynamicRef", "$recursiveRef" -> notes.add("‘" + key + "’ isn't followed; anything is taken there.");
            case "exclusiveMinimum", "exclusiveMaximum" -> bound(read, key, value);
            case "required" -> {
                if (value.isArray()) {
                    read.set(key, value);
                }
            }
            case "pattern" -> pattern(read, value.asString(""));
            default -> read.set(key, value);
        }
    }

    /** In 3.0 these say of {@code minimum} and {@code maximum} whether they are in. */
    private static void bound(ObjectNode read, String key, JsonNode value) {
        if (!value.isBoolean()) {
            read.set(key, value);
        } else if (value.booleanValue()) {
            read.put(key, true);
        }
    }

    /** What is only sent isn't answered, and the other way round; and a bound that isn't in takes its number from beside it. */
    private void onlyOneWay(ObjectNode read) {
        for (String bound : new String[] {"Minimum", "Maximum"}) {
            if (read.path("exclusive" + bound).isBoolean()) {
                JsonNode number = read.remove(bound.toLowerCase(Locale.ROOT));
                if (number == null) {
                    read.remove("exclusive" + bound);
                } else {
                    read.set("exclusive" + bound, number);
                }
            }
        }
        String other = forInput ? "readOnly" : "writeOnly";
        if (read.path("properties") instanceof ObjectNode properties) {
            Set<String> dropped = new LinkedHashSet<>();
            properties.properties().forEach(one -> {
                if (one.getValue().path(other).asBoolean(false)) {
                    dropped.add(one.getKey());
                }
            });
            dropped.forEach(properties::remove);
            if (!dropped.isEmpty() && read.path("required").isArray()) {
                ArrayNode required = Json.mapper().createArrayNode();
                read.get("required").forEach(name -> {
                    if (!dropped.contains(name.asString(""))) {
                        required.add(name);
                    }
                });
                read.set("required", required);
            }
        }
    }

    private void pattern(ObjectNode read, String pattern) {
        try {
            Pattern.compile(pattern);
            read.put("pattern", pattern);
        } catch (PatternSyntaxException e) {
            notes.add("The pattern ‘" + pattern + "’ can't be used here, so that nothing is held to it: "
                    + e.getDescription() + ".");
        }
    }

    private static void nullable(ObjectNode read) {
        if (read.path("type").isString()) {
            String type = read.path("type").stringValue();
            read.putArray("type").add(type).add("null");
            if (read.path("enum") instanceof ArrayNode options
                    && options.valueStream().noneMatch(JsonNode::isNull)) {
                read.set("enum", options.deepCopy().addNull());
            }
        } else if (!read.isEmpty()) {
            ObjectNode either = read.deepCopy();
            read.removeAll();
            read.putArray("anyOf").add(either).add(Json.object().put("type", "null"));
        }
    }
}
