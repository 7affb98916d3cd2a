package servitor.core.handbook.openapi;

import java.util.LinkedHashSet;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Makes one object's schema of one that is put together by {@code allOf}. */
final class Flat {
    private Flat() {}

    /** The schema with all fields at its top; null when it isn't that of an object with named fields. */
    static @Nullable ObjectNode of(JsonNode schema, ObjectNode defs) {
        ObjectNode flat = Json.object();
        ObjectNode properties = Json.object();
        Set<String> required = new LinkedHashSet<>();
        if (!gather(schema, defs, flat, properties, required, 0) || properties.isEmpty()) {
            return null;
        }
        flat.set("properties", properties);
        flat.set("required", Json.of(required));
        return flat;
    }

    private static boolean gather(
            JsonNode schema, ObjectNode defs, ObjectNode flat, ObjectNode properties, Set<String> required, int depth) {
        JsonNode meant = schema;
        if (schema.path("$ref").isString()) {
            meant = defs.path(schema.path("$ref").stringValue().replace("#/$defs/", ""));
        }
        if (depth > 8 || !meant.isObject() || !isObject(meant)) {
            return false;
        }
        for (var member : meant.properties()) {
            switch (member.getKey()) {
                case "properties" ->
                    member.getValue().properties().forEach(one -> properties.set(one.getKey(), one.getValue()));
                case "required" -> member.getValue().forEach(name -> required.add(name.asString("")));
                case "allOf" -> {
                    for (JsonNode part : member.getValue()) {
                        if (!gather(part, defs, flat, properties, required, depth + 1)) {
                            return false;
                        }
                    }
                }
                case "additionalProperties" -> {
                    if (!member.getValue().isBoolean() || member.getValue().booleanValue()) {
                        return false; // more than the named fields may be given
                    }
                }
                default -> flat.set(member.getKey(), member.getValue());
            }
        }
        return true;
    }

    private static boolean isObject(JsonNode schema) {
        JsonNode type = schema.path("type");
        return type.isMissingNode()
                || type.asString("").equals("object")
                || type.isArray()
                        && type.valueStream().anyMatch(one -> one.asString("").equals("object"));
    }
}
