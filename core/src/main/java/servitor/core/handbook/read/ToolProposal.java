package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Effect;
import servitor.core.handbook.finding.Suggest;
import servitor.core.handbook.openapi.ApiDescription;
import servitor.core.handbook.openapi.Documents;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A file of tools proposed from what an outside system says of itself. Effects are guessed on the strict side and marked, so that
 * a person confirms them.
 *
 * @param offered all that the system offers, wanted or not
 * @param files the file of tools with those that are wanted, and what stands beside it, by their paths in the handbook
 * @param notes what can't be taken over as it is, and what else is good to know, in sentences
 */
public record ToolProposal(List<Offered> offered, Map<String, String> files, List<String> notes) {
    /** A description up to here is kept whole, when all its operations are wanted. */
    private static final int LONGEST_AS_IT_IS = 300_000;

    private static final int LONGEST_KEPT = 1_000_000;
    /** What the schema of an object says that is nothing but its fields. */
    private static final Set<String> PLAIN =
            Set.of("$schema", "type", "properties", "required", "additionalProperties", "title", "description");

    private static final String CONFIRM = "  # proposed: is that so?";

    /**
     * Something that an outside system offers.
     *
     * @param id what it is called there
     * @param tool what it would be called here
     * @param effect proposed
     */
    public record Offered(String id, String tool, Effect effect, String description) {
        private static Offered of(String id, Effect effect, String description, List<Offered> before) {
            String tool = kebab(id).isEmpty() ? "tool" : kebab(id); // a name may have no Latin letters
            String free = tool;
            for (int i = 2; isTaken(free, before); i++) {
                free = tool + "-" + i;
            }
            return new Offered(id, free, effect, description.strip());
        }

        private static boolean isTaken(String tool, List<Offered> by) {
            return by.stream().anyMatch(one -> one.tool().equals(tool));
        }
    }

    /**
     * Tools for the operations of an OpenAPI 3 description, which stands beside the file of tools.
     *
     * @param name of the file of tools: lower-case letters and digits
     * @param only the operations that are wanted; null for all
     * @throws IllegalArgumentException when it isn't such a description, an operation isn't there, or a name can't be used
     */
    public static ToolProposal ofOpenApi(
            String name, String connection, String description, @Nullable List<String> only) {
        String file = name + ".openapi.yaml";
        ApiDescription api = read(description);
        List<Offered> offered = new ArrayList<>();
        List<String> notes = new ArrayList<>();
        StringBuilder yaml = new StringBuilder("connection: " + connection + "\nopenapi: " + file + "\ntools:\n");
        Collection<String> wanted = wanted(only, api.operations().keySet());
        api.operations().forEach((id, described) -> {
            Offered one = Offered.of(id, effect(described.method()), described.summary(), offered);
            offered.add(one);
            if (wanted.contains(id) && !api.isSpent()) {
                ApiDescription.Operation operation =
                        api.operation(id, connection).orElseThrow();
                operation.notes().forEach(note -> notes.add(id + ": " + note));
                if (operation.faults().isEmpty()) {
                    yaml.append("  ")
                            .append(one.tool())
                            .append(":\n    operation: ")
                            .append(Json.write(id))
                            .append('\n');
                    about(yaml, one, operation.inputs());
                } else {
                    operation.faults().forEach(fault -> notes.add(id + " was left out. " + fault));
                }
            }
        });
        if (api.isSpent()) {
            throw new IllegalArgumentException(
                    "That takes more from the description than is read of one: choose fewer operations, or make their schemas simpler.");
        }
        api.servers().forEach(server -> notes.add("The description has the API at " + server + "."));
        String kept = only == null && description.length() < LONGEST_AS_IT_IS
                ? description
                : Json.write(api.only(new HashSet<>(wanted)));
        if (kept.length() > LONGEST_KEPT) {
            throw new IllegalArgumentException("What these operations need of the description has " + kept.length()
                    + " characters, and a file of a handbook at most " + LONGEST_KEPT + ": choose fewer.");
        }
        return of(name, connection, offered, yaml, Map.of("tools/" + file, kept), notes);
    }

    private static ApiDescription read(String description) {
        ApiDescription api;
        try {
            api = new ApiDescription(Documents.read(description));
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("This isn't an OpenAPI 3 description: " + e.getMessage() + ".", e);
        }
        if (!api.isOpenApi3()) {
            throw new IllegalArgumentException(
                    "This isn't an OpenAPI 3.0 or 3.1 description: ‘openapi’ has to say which.");
        }
        if (api.operations().isEmpty()) {
            throw new IllegalArgumentException("This description has no operations.");
        }
        return api;
    }

    /** Tools for what a server of the Model Context Protocol offers, agreed to as they are now; else as {@link #ofOpenApi}. */
    public static ToolProposal ofServer(String name, String connection, JsonNode tools, @Nullable List<String> only) {
        List<Offered> offered = new ArrayList<>();
        StringBuilder yaml = new StringBuilder("connection: " + connection + "\ntools:\n");
        Collection<String> wanted = wanted(
                only,
                tools.valueStream().map(tool -> tool.path("name").asString("")).toList());
        for (JsonNode tool : tools) {
            Offered one = Offered.of(
                    tool.path("name").asString(""),
                    hinted(tool.path("effect").asString("")),
                    tool.path("description").asString(""),
                    offered);
            offered.add(one);
            if (wanted.contains(one.id())) {
                yaml.append("  ").append(one.tool()).append(":\n    remote: ").append(Json.write(one.id()));
                yaml.append("\n    agreed: ")
                        .append(tool.path("digest").asString(""))
                        .append('\n');
                declared(yaml, "inputs", tool.path("inputs"));
                declared(yaml, "outputs", tool.path("outputs"));
                about(yaml, one, tool.path("inputs"));
            }
        }
        return of(name, connection, offered, yaml, Map.of(), List.of());
    }

    private static ToolProposal of(
            String name,
            String connection,
            List<Offered> offered,
            StringBuilder yaml,
            Map<String, String> beside,
            List<String> notes) {
        for (String given : List.of(name, connection)) {
            if (!given.matches("[a-z0-9][a-z0-9-]{0,59}")) {
                throw new IllegalArgumentException(
                        "‘" + given
                                + "’ can't be the name of a file of tools or of a connection: use lower-case letters and digits.");
            }
        }
        Map<String, String> files = new TreeMap<>(beside);
        files.put("tools/" + name + ".yaml", yaml.toString());
        return new ToolProposal(List.copyOf(offered), files, List.copyOf(notes));
    }

    private static Collection<String> wanted(@Nullable List<String> only, Collection<String> known) {
        if (only == null) {
            return known;
        }
        Set<String> there = new HashSet<>(known);
        for (String id : only) {
            if (!there.contains(id)) {
                throw new IllegalArgumentException("There is no operation ‘" + id + "’. " + Suggest.remedy(id, known));
            }
        }
        return Set.copyOf(only);
    }

    private static Effect effect(String method) {
        return switch (method.toUpperCase(Locale.ROOT)) {
            case "GET", "HEAD" -> Effect.READ;
            case "PUT", "DELETE" -> Effect.WRITE;
            default -> Effect.ONCE;
        };
    }

    private static void about(StringBuilder yaml, Offered one, JsonNode inputs) {
        yaml.append("    description: ")
                .append(Json.write(one.description()))
                .append(CONFIRM)
                .append('\n');
        yaml.append("    effect: ").append(one.effect().word()).append(CONFIRM).append('\n');
        ObjectNode example = example(inputs);
        if (Schemas.fault(inputs).isEmpty()
                && Schemas.violations(inputs, example).isEmpty()) {
            yaml.append("    examples: [")
                    .append(Json.write(example))
                    .append("]")
                    .append(CONFIRM)
                    .append('\n');
        }
    }

    /** Field by field where a schema is just that, and whole where it says more. */
    private static void declared(StringBuilder yaml, String key, JsonNode schema) {
        boolean plain = PLAIN.containsAll(schema.propertyNames())
                && schema.path("properties").valueStream().allMatch(JsonNode::isObject)
                && !schema.path("additionalProperties").asBoolean(false);
        yaml.append("    ")
                .append(plain ? key : key + "-schema")
                .append(": ")
                .append(Json.write(plain ? fields(schema) : schema))
                .append('\n');
    }

    /** What a server says of its tool's effect; the strictest when it says nothing. */
    private static Effect hinted(String word) {
        for (Effect effect : Effect.values()) {
            if (effect.word().equals(word)) {
                return effect;
            }
        }
        return Effect.ONCE;
    }

    /** The fields of an object's schema as tool files have them: what isn't required is marked so. */
    private static ObjectNode fields(JsonNode schema) {
        ObjectNode fields = Json.object();
        List<String> required = schema.path("required")
                .valueStream()
                .map(name -> name.asString(""))
                .toList();
        schema.path("properties").properties().forEach(e -> {
            ObjectNode own = e.getValue().deepCopy().asObject();
            fields.set(e.getKey(), required.contains(e.getKey()) ? own : own.put("optional", true));
        });
        return fields;
    }

    private static ObjectNode example(JsonNode inputs) {
        ObjectNode example = Json.object();
        inputs.path("required")
                .forEach(name -> example.set(
                        name.asString(""),
                        value(name.asString(""), inputs.path("properties").path(name.asString("")), 0)));
        return example;
    }

    /** A value as the description shows one, or else the simplest there is. */
    private static JsonNode value(String name, JsonNode schema, int depth) {
        JsonNode shown = schema.path("examples").path(0);
        if (schema.path("enum").isArray()) {
            return schema.path("enum").path(0);
        } else if (!shown.isMissingNode()) {
            return shown;
        }
        return switch (schema.path("type").asString("string")) {
            case "integer" -> Json.of(1);
            case "number" -> Json.of(1.5);
            case "boolean" -> Json.of(true);
            case "array" -> {
                var list = Json.mapper().createArrayNode();
                yield depth > 3 ? list : list.add(value(name, schema.path("items"), depth + 1));
            }
            case "object" -> depth > 3 ? Json.object() : example(schema, depth);
            default -> Json.of(name);
        };
    }

    private static ObjectNode example(JsonNode schema, int depth) {
        ObjectNode example = Json.object();
        JsonNode properties = schema.path("properties");
        boolean anyDoes = schema.path("required").isEmpty() && !properties.isEmpty();
        for (String name : anyDoes
                ? List.of(properties.propertyNames().iterator().next())
                : schema.path("required")
                        .valueStream()
                        .map(one -> one.asString(""))
                        .toList()) {
            example.set(name, value(name, properties.path(name), depth + 1));
        }
        return example.isEmpty() ? example.put("name", "value") : example;
    }

    private static String kebab(String id) {
        return id.replaceAll("([a-z0-9])([A-Z])", "$1-$2")
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]+", "-")
                .replaceAll("^-|-$", "");
    }
}
