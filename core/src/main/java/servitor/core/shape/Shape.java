package servitor.core.shape;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What a value looks like, as far as it is declared. Immutable; equal shapes are equal values. */
public sealed interface Shape {
    Shape TEXT = new Text();
    Shape YES_NO = new YesNo();
    Shape NUMBER = new Number();
    Shape WHOLE = new Whole();
    Shape DATE = new Date();
    Shape ANYTHING = new Anything();

    record Text() implements Shape {}

    record YesNo() implements Shape {}

    /** A decimal number. */
    record Number() implements Shape {}

    /** A number without decimals. */
    record Whole() implements Shape {}

    /** A date of ISO 8601, kept as text. */
    record Date() implements Shape {}

    /** A text that is one of a few words. */
    record OneOf(List<String> options) implements Shape {
        public OneOf {
            options = List.copyOf(options);
        }
    }

    record ListOf(Shape item) implements Shape {}

    /** A map with named fields, in the order declared. */
    record Fields(Map<String, Field> fields) implements Shape {
        public Fields {
            fields = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(fields));
        }

        /** Fields that are always there. */
        public static Fields of(Map<String, Shape> shapes) {
            Map<String, Field> fields = new LinkedHashMap<>();
            shapes.forEach((name, shape) -> fields.put(name, new Field(shape, true)));
            return new Fields(fields);
        }

        /** The same with the fields of {@code other}, which count where both have one of a name. */
        public Fields and(Fields other) {
            Map<String, Field> all = new java.util.LinkedHashMap<>(fields);
            all.putAll(other.fields);
            return new Fields(all);
        }

        /** The same with one more field, always there. */
        public Fields with(String name, Shape shape) {
            Map<String, Field> more = new LinkedHashMap<>(fields);
            more.put(name, new Field(shape, true));
            return new Fields(more);
        }
    }

    /** One field of a map; {@code always} is false when it may be missing. */
    record Field(Shape shape, boolean always) {}

    /** Nothing is declared. */
    record Anything() implements Shape {}

    /** The shape in words for people, such as {@code list of text}. */
    default String words() {
        if (this instanceof Text) {
            return "text";
        } else if (this instanceof YesNo) {
            return "yes/no";
        } else if (this instanceof Number) {
            return "number";
        } else if (this instanceof Whole) {
            return "whole number";
        } else if (this instanceof Date) {
            return "date";
        } else if (this instanceof OneOf oneOf) {
            return "one of [" + String.join(", ", oneOf.options()) + "]";
        } else if (this instanceof ListOf list) {
            return "list of " + list.item().words();
        } else if (this instanceof Fields map) {
            return map.fields().entrySet().stream()
                    .map(e -> e.getKey() + ": " + e.getValue().shape().words())
                    .collect(Collectors.joining(", ", "{ ", " }"));
        }
        return "anything";
    }

    /** The field of this name; empty when there can't be one. A value of which nothing is declared may have any. */
    default Optional<Field> field(String name) {
        if (this instanceof Fields map) {
            return Optional.ofNullable(map.fields().get(name));
        }
        return this instanceof Anything ? Optional.of(new Field(ANYTHING, true)) : Optional.empty();
    }

    /** The shape of a value that may come from either. */
    default Shape or(Shape other) {
        return equals(other) ? this : ANYTHING;
    }

    /** JSON Schema (2020-12) of such a value. */
    default ObjectNode schema() {
        ObjectNode schema = Json.object();
        if (this instanceof Text) {
            return schema.put("type", "string").put("maxLength", 20_000);
        } else if (this instanceof YesNo) {
            return schema.put("type", "boolean");
        } else if (this instanceof Number) {
            return schema.put("type", "number");
        } else if (this instanceof Whole) {
            return schema.put("type", "integer");
        } else if (this instanceof Date) {
            return schema.put("type", "string").put("format", "date");
        } else if (this instanceof OneOf oneOf) {
            return schema.put("type", "string").set("enum", Json.of(oneOf.options()));
        } else if (this instanceof ListOf list) {
            return schema.put("type", "array")
                    .put("maxItems", 1_000)
                    .set("items", list.item().schema());
        } else if (this instanceof Fields map) {
            schema.put("type", "object").put("additionalProperties", false);
            ObjectNode properties = schema.putObject("properties");
            List<String> required = new ArrayList<>();
            map.fields().forEach((name, field) -> {
                properties.set(name, field.shape().schema());
                if (field.always()) {
                    required.add(name);
                }
            });
            return schema.set("required", Json.of(required));
        }
        return schema;
    }

    /** The shape that a JSON Schema declares; what it leaves open, or says in ways not known here, is anything. */
    static Shape ofSchema(JsonNode schema) {
        JsonNode options = schema.path("enum");
        if (options.isArray() && !options.isEmpty() && allTexts(options)) {
            List<String> words = new ArrayList<>();
            options.forEach(option -> words.add(option.stringValue()));
            return new OneOf(words);
        }
        return switch (schema.path("type").asString("")) {
            case "string" -> schema.path("format").asString("").equals("date") ? DATE : TEXT;
            case "boolean" -> YES_NO;
            case "number" -> NUMBER;
            case "integer" -> WHOLE;
            case "array" -> new ListOf(ofSchema(schema.path("items")));
            case "object" -> ofObject(schema);
            default -> ANYTHING;
        };
    }

    private static boolean allTexts(JsonNode options) {
        for (JsonNode option : options) {
            if (!option.isString()) {
                return false;
            }
        }
        return true;
    }

    private static Shape ofObject(JsonNode schema) {
        JsonNode properties = schema.path("properties");
        if (!properties.isObject() || properties.isEmpty()) {
            return ANYTHING;
        }
        List<String> required = new ArrayList<>();
        schema.path("required").forEach(name -> required.add(name.asString("")));
        Map<String, Field> fields = new LinkedHashMap<>();
        properties
                .properties()
                .forEach(e -> fields.put(e.getKey(), new Field(ofSchema(e.getValue()), required.contains(e.getKey()))));
        return new Fields(fields);
    }

    /**
     * The value with its numbers written as the shape says: a decimal number stays one even when it happens to be whole,
     * so that {@code 80} and {@code 80.0} mean the same to a condition.
     */
    default JsonNode fit(JsonNode value) {
        if (this instanceof Number && value.isIntegralNumber()) {
            return Json.nodes().numberNode(value.decimalValue().setScale(1));
        }
        if (this instanceof ListOf list && value.isArray()) {
            var items = Json.mapper().createArrayNode();
            value.forEach(item -> items.add(list.item().fit(item)));
            return items;
        }
        if (this instanceof Fields map && value.isObject()) {
            ObjectNode object = Json.object();
            value.properties().forEach(e -> {
                Field field = map.fields().get(e.getKey());
                object.set(
                        e.getKey(), field == null ? e.getValue() : field.shape().fit(e.getValue()));
            });
            return object;
        }
        return value;
    }
}
