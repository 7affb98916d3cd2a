package servitor.core.handbook;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What sort of case; declares the fields a case of this kind has. */
public record Kind(String name, String title, String desk, Map<String, Field> fields, Places places) {

    public Kind {
        fields = new LinkedHashMap<>(fields);
    }

    /**
     * One field of a case.
     *
     * @param type {@code text}, {@code number}, {@code yes/no} or {@code date}
     * @param pattern a regular expression a text must match; empty for none
     * @param hint what the requester is told beside the field; may be empty
     */
    public record Field(String name, String title, String type, boolean required, String pattern, String hint) {
        Shape shape() {
            return switch (type) {
                case "number" -> Shape.NUMBER;
                case "yes/no" -> Shape.YES_NO;
                case "date" -> Shape.DATE;
                default -> Shape.TEXT;
            };
        }

        ObjectNode schema() {
            ObjectNode schema = shape().schema();
            if (type.equals("text")) {
                schema.put("maxLength", 4_000);
            }
            if (!pattern.isEmpty()) {
                schema.put("pattern", pattern);
            }
            return schema;
        }
    }

    /** What the fields of a case of this kind look like to a condition. */
    Shape.Fields shape() {
        Map<String, Shape.Field> shapes = new LinkedHashMap<>();
        fields.values().forEach(field -> shapes.put(field.name(), new Shape.Field(field.shape(), field.required())));
        return new Shape.Fields(shapes);
    }

    /** JSON Schema of the fields of a case of this kind. */
    public ObjectNode schema() {
        ObjectNode schema = Json.object().put("type", "object").put("additionalProperties", false);
        ObjectNode properties = schema.putObject("properties");
        var required = schema.putArray("required");
        fields.values().forEach(field -> {
            properties.set(field.name(), field.schema());
            if (field.required()) {
                required.add(field.name());
            }
        });
        return schema;
    }

    /** Everything that is wrong with the fields of a new case; empty when they are complete and right. */
    public List<String> violations(JsonNode values) {
        return Schemas.violations(schema(), values);
    }
}
