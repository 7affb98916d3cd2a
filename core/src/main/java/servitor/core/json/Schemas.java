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
    private static final Map<Same, Schema> KNOWN = new ConcurrentHashMap<>();
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
            if (faults.isEmpty()) {
                REGISTRY.getSchema(schema).initializeValidators(); // a reference that leads nowhere shows only here
            }
            return faults.isEmpty() ? Optional.empty() : Optional.of(faults.get(0));
        } catch (RuntimeException | StackOverflowError e) {
            return Optional.of(why(e));
        }
    }

    /** The same tree is found by its identity, which costs nothing; an equal one by its digest. */
    private static Schema compiled(JsonNode schema) {
        Schema known = KNOWN.get(new Same(schema));
        if (known == null) {
            if (COMPILED.size() > MOST_KEPT || KNOWN.size() > MOST_KEPT) {
                COMPILED.clear();
                KNOWN.clear();
            }
            known = COMPILED.computeIfAbsent(Json.digest(schema), key -> REGISTRY.getSchema(schema));
            KNOWN.put(new Same(schema), known);
        }
        return known;
    }

    private record Same(JsonNode tree) {
        @Override
        public boolean equals(Object other) {
            return other instanceof Same same && same.tree == tree;
        }

        @Override
        public int hashCode() {
            return System.identityHashCode(tree);
        }
    }

    private static String why(Throwable e) {
        return e instanceof StackOverflowError ? "it leads back to itself without end" : String.valueOf(e.getMessage());
    }

    /**
     * Says everything that is wrong with {@code value}; empty when it fits {@code schema}. Nothing fits a schema that can't be
     * used: this never throws, whatever either holds.
     */
    public static List<String> violations(JsonNode schema, JsonNode value) {
        try {
            return violated(schema, value);
        } catch (RuntimeException | StackOverflowError e) {
            return List.of("it can't be held against its schema: " + why(e));
        }
    }

    private static List<String> violated(JsonNode schema, JsonNode value) {
        return compiled(schema)
                .validate(value, context -> context.executionConfig(config -> config.formatAssertionsEnabled(true)))
                .stream()
                .map(error ->
                        (error.getInstanceLocation().toString().isEmpty() ? "" : error.getInstanceLocation() + ": ")
                                + error.getMessage())
                .toList();
    }
}
