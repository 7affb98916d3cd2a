package servitor.core.origin;

import java.util.Optional;
import java.util.Set;
import tools.jackson.databind.JsonNode;

/**
 * What a field says it holds, by the {@code format} of its JSON Schema: a booking's reference, an account, an amount. Two values
 * are the same thing only under the same format; how a number is stored says nothing.
 */
public final class Formats {
    private static final Set<String> STORAGE =
            Set.of("int32", "int64", "float", "double", "decimal", "byte", "binary", "password");

    private Formats() {}

    /** The format that a schema declares; empty when it declares none that tells what the value is. */
    public static Optional<String> of(JsonNode schema) {
        return Optional.of(schema.path("format").asString(""))
                .filter(format -> !format.isEmpty() && !STORAGE.contains(format));
    }

    /** Whether it holds an amount of money. */
    public static boolean isAmount(JsonNode schema) {
        return of(schema).filter("amount"::equals).isPresent();
    }

    /** The schema of one field, or of one item when {@code schema} is a list's. */
    public static JsonNode inside(JsonNode schema, String field) {
        JsonNode items = schema.path("items");
        return items.isObject() ? items : schema.path("properties").path(field);
    }

    /** The format of the field at {@code path} of what {@code schema} describes. */
    public static Optional<String> at(JsonNode schema, Iterable<String> path) {
        JsonNode at = schema;
        for (String field : path) {
            at = inside(at, field);
        }
        return of(at);
    }
}
