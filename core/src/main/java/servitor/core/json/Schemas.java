package servitor.core.json;

import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaLocation;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import tools.jackson.databind.JsonNode;

/** Checks values against JSON Schema 2020-12. Compiled schemas are kept; remote references are never fetched. */
public final class Schemas {
    private static final SchemaRegistry REGISTRY =
            SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12);
    private static final Schema META =
            REGISTRY.getSchema(SchemaLocation.of(SpecificationVersion.DRAFT_2020_12.getDialectId()));
    private static final Map<String, Schema> COMPILED = new ConcurrentHashMap<>();
    private static final int MOST_KEPT = 2_000;

    private Schemas() {}

    /** What makes {@code schema} no JSON Schema, judged by the meta-schema; empty when it is one. */
    public static Optional<String> fault(JsonNode schema) {
        try {
            List<String> faults = META.validate(Json.write(schema), InputFormat.JSON).stream()
                    .map(error ->
                            (error.getInstanceLocation().toString().isEmpty() ? "" : error.getInstanceLocation() + ": ")
                                    + error.getMessage())
                    .toList();
            return faults.isEmpty() ? Optional.empty() : Optional.of(faults.get(0));
        } catch (RuntimeException e) {
            return Optional.of(String.valueOf(e.getMessage()));
        }
    }

    /** Says everything that is wrong with {@code value}; empty when it fits {@code schema}. */
    public static List<String> violations(JsonNode schema, JsonNode value) {
        if (COMPILED.size() > MOST_KEPT) {
            COMPILED.clear();
        }
        Schema compiled = COMPILED.computeIfAbsent(Json.digest(schema), key -> REGISTRY.getSchema(schema));
        return compiled
                .validate(
                        Json.write(value),
                        InputFormat.JSON,
                        context -> context.executionConfig(config -> config.formatAssertionsEnabled(true)))
                .stream()
                .map(error ->
                        (error.getInstanceLocation().toString().isEmpty() ? "" : error.getInstanceLocation() + ": ")
                                + error.getMessage())
                .toList();
    }
}
