package servitor.core.handbook;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What sort of case; declares the fields a case of this kind has. */
public record Kind(String name, String title, String desk, Map<String, Field> fields, Place place) {

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
        ObjectNode schema() {
            ObjectNode schema = Json.object();
            switch (type) {
                case "number" -> schema.put("type", "number");
                case "yes/no" -> schema.put("type", "boolean");
                case "date" -> schema.put("type", "string").put("format", "date");
                default -> schema.put("type", "string").put("maxLength", 4_000);
            }
            if (!pattern.isEmpty()) {
                schema.put("pattern", pattern);
            }
            return schema;
        }
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
