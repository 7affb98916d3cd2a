package servitor.core.handbook;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A file of tools proposed from what an outside system says of itself. Effects are guessed on the strict side and marked, so that
 * a person confirms them.
 */
public final class ToolProposal {
    private static final String CONFIRM = "  # proposed: is that so?";

    private ToolProposal() {}

    /**
     * Tools for the operations of an OpenAPI 3 description.
     *
     * @param file the name the description gets beside the file of tools
     * @param only the operations that are wanted; empty for all
     * @throws IllegalArgumentException when it isn't such a description or an operation isn't there
     */
    public static String ofOpenApi(String connection, String file, String description, List<String> only) {
        Findings findings = new Findings();
        JsonNode document = Yaml.read(file, 1, description, findings).json();
        if (!findings.sorted().isEmpty()
                || !document.path("openapi").asString("").startsWith("3.")) {
            throw new IllegalArgumentException("This isn't an OpenAPI 3 description"
                    + findings.sorted().stream()
                            .findFirst()
                            .map(found -> ": " + found.what())
                            .orElse("."));
        }
        OpenApi api = new OpenApi(document);
        Map<String, String> methods = api.methods();
        wanted(only, methods.keySet());
        StringBuilder yaml = new StringBuilder("connection: " + connection + "\nopenapi: " + file + "\ntools:\n");
        methods.forEach((id, method) -> {
            if (only.isEmpty() || only.contains(id)) {
                OpenApi.Operation operation = api.operation(id, connection).orElseThrow();
                yaml.append("  ")
                        .append(kebab(id))
                        .append(":\n    operation: ")
                        .append(Json.write(id))
                        .append('\n');
                about(yaml, operation.summary(), effect(method), operation.inputs());
            }
        });
        return yaml.toString();
    }

    /** Tools for what a server of the Model Context Protocol offers, agreed to as they are now. */
    public static String ofServer(String connection, JsonNode offered, List<String> only) {
        Map<String, JsonNode> byName = new LinkedHashMap<>();
        offered.forEach(tool -> byName.put(tool.path("name").asString(""), tool));
        wanted(only, byName.keySet());
        StringBuilder yaml = new StringBuilder("connection: " + connection + "\ntools:\n");
        byName.forEach((name, tool) -> {
            if (only.isEmpty() || only.contains(name)) {
                yaml.append("  ").append(kebab(name)).append(":\n    remote: ").append(Json.write(name));
                yaml.append("\n    agreed: ")
                        .append(tool.path("digest").asString(""))
                        .append('\n');
                yaml.append("    inputs: ")
                        .append(Json.write(fields(tool.path("inputs"))))
                        .append('\n');
                yaml.append("    outputs: ")
                        .append(Json.write(fields(tool.path("outputs"))))
                        .append('\n');
                about(yaml, tool.path("description").asString(""), Effect.ONCE, tool.path("inputs"));
            }
        });
        return yaml.toString();
    }

    private static void wanted(List<String> only, java.util.Collection<String> known) {
        for (String id : only) {
            if (!known.contains(id)) {
                throw new IllegalArgumentException("There is no operation ‘" + id + "’. " + Suggest.mend(id, known));
            }
        }
    }

    private static Effect effect(String method) {
        return switch (method.toUpperCase(Locale.ROOT)) {
            case "GET", "HEAD" -> Effect.READ;
            case "PUT", "DELETE" -> Effect.WRITE;
            default -> Effect.ONCE;
        };
    }

    private static void about(StringBuilder yaml, String description, Effect effect, JsonNode inputs) {
        yaml.append("    description: ")
                .append(Json.write(description.strip()))
                .append(CONFIRM)
                .append('\n');
        yaml.append("    effect: ").append(effect.word()).append(CONFIRM).append('\n');
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

    /** The fields of an object's schema as tool files have them: what isn't required is marked so. */
    private static ObjectNode fields(JsonNode schema) {
        ObjectNode fields = Json.object();
        List<String> required = schema.path("required")
                .valueStream()
                .map(name -> name.asString(""))
                .toList();
        schema.path("properties").properties().forEach(e -> {
            if (e.getValue().isObject()) {
                ObjectNode own = (ObjectNode) e.getValue().deepCopy();
                fields.set(e.getKey(), required.contains(e.getKey()) ? own : own.put("optional", true));
            }
        });
        return fields;
    }

    private static ObjectNode example(JsonNode inputs) {
        ObjectNode example = Json.object();
        inputs.path("required").forEach(name -> {
            JsonNode schema = inputs.path("properties").path(name.asString(""));
            JsonNode given = schema.path("examples").path(0);
            if (schema.path("enum").isArray()) {
                example.set(name.asString(""), schema.path("enum").path(0));
            } else if (!given.isMissingNode()) {
                example.set(name.asString(""), given);
            } else {
                switch (schema.path("type").asString("string")) {
                    case "integer" -> example.put(name.asString(""), 1);
                    case "number" -> example.put(name.asString(""), 1.5);
                    case "boolean" -> example.put(name.asString(""), true);
                    case "array" -> example.putArray(name.asString(""));
                    case "object" -> example.putObject(name.asString(""));
                    default -> example.put(name.asString(""), name.asString(""));
                }
            }
        });
        return example;
    }

    private static String kebab(String id) {
        return id.replaceAll("([a-z0-9])([A-Z])", "$1-$2")
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]+", "-")
                .replaceAll("^-|-$", "");
    }
}
