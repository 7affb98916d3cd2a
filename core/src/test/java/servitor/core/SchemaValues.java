package servitor.core;

import java.util.Random;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** Values that fit a schema: by chance, or always the same. */
public final class SchemaValues {
    private SchemaValues() {}

    /**
     * A value that fits.
     *
     * @param text what texts say
     * @param random null for always the same
     */
    public static JsonNode value(JsonNode schema, String text, @Nullable Random random) {
        if (schema.path("enum").isArray()) {
            JsonNode options = schema.path("enum");
            return options.get(random == null ? 0 : random.nextInt(options.size()));
        }
        return switch (schema.path("type").asString("string")) {
            case "object" -> {
                var object = Json.object();
                schema.path("properties")
                        .properties()
                        .forEach(e -> object.set(e.getKey(), value(e.getValue(), text, random)));
                yield object;
            }
            case "array" -> {
                var array = Json.mapper().createArrayNode();
                for (int i = 0; i < (random == null ? 2 : random.nextInt(4)); i++) {
                    array.add(value(schema.path("items"), text, random));
                }
                yield array;
            }
            case "boolean" -> Json.of(random == null || random.nextBoolean());
            case "integer" -> Json.of(3);
            case "number" -> Json.of(schema.has("maximum") ? 0.9 : 84.5);
            default -> Json.of(schema.path("format").asString("").equals("date") ? "2026-11-30" : text);
        };
    }
}
