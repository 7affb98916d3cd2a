package servitor.core.handbook.read;

import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The operations of an OpenAPI 3.x description. Only references inside the document are followed, a bounded number of
 * levels deep; nothing is ever fetched.
 */
final class OpenApi {
    private static final int DEEPEST = 24;
    private static final Set<String> METHODS = Set.of("get", "put", "post", "delete", "patch", "head");

    /** What one operation may come to once its references are written out, and all that are asked for together. */
    private static final int MOST_NODES = 20_000;

    private static final int MOST_TOGETHER = 500_000;

    private final JsonNode document;
    private final Map<String, Described> operations = new LinkedHashMap<>();
    private int left;
    private int leftTogether = MOST_TOGETHER;

    OpenApi(JsonNode document) {
        this.document = document;
        document.path("paths")
                .properties()
                .forEach(path -> path.getValue().properties().forEach(e -> {
                    JsonNode id = e.getValue().path("operationId");
                    if (METHODS.contains(e.getKey()) && id.isString()) {
                        operations.put(
                                id.stringValue(),
                                new Described(e.getKey(), path.getKey(), path.getValue(), e.getValue()));
                    }
                }));
    }

    /** An operation as it stands in the description. */
    record Described(String method, String path, JsonNode pathItem, JsonNode operation) {
        String summary() {
            return operation
                    .path("description")
                    .asString(operation.path("summary").asString(""));
        }
    }

    /** One operation: its typed inputs and outputs, and where each input goes. */
    record Operation(String summary, ObjectNode inputs, JsonNode outputs, HttpOperation binding) {}

    /** The operations that have an id, by that, in the order of the description. */
    Map<String, Described> operations() {
        return operations;
    }

    /** Whether what was asked for so far comes to more than is read of one description; the last answers aren't whole. */
    boolean isSpent() {
        return leftTogether < 0;
    }

    Optional<Operation> operation(String id, String connection) {
        return Optional.ofNullable(operations.get(id)).map(described -> read(connection, described));
    }

    private Operation read(String connection, Described described) {
        JsonNode operation = described.operation();
        left = MOST_NODES;
        ObjectNode inputs = Json.object().put("type", "object").put("additionalProperties", false);
        ObjectNode properties = inputs.putObject("properties");
        Set<String> required = new LinkedHashSet<>();
        Set<String> inPath = new LinkedHashSet<>();
        Set<String> inQuery = new LinkedHashSet<>();
        Set<String> inBody = new LinkedHashSet<>();
        for (JsonNode list : new JsonNode[] {described.pathItem().path("parameters"), operation.path("parameters")}) {
            for (JsonNode reference : list) {
                JsonNode parameter = resolve(reference, 0);
                String name = parameter.path("name").asString("");
                String in = parameter.path("in").asString("");
                if (in.equals("path") || in.equals("query")) {
                    properties.set(name, resolve(parameter.path("schema"), 0));
                    (in.equals("path") ? inPath : inQuery).add(name);
                    if (parameter.path("required").asBoolean(false)) {
                        required.add(name);
                    }
                }
            }
        }
        JsonNode body = resolve(jsonSchema(resolve(operation.path("requestBody"), 0)), 0);
        body.path("properties").properties().forEach(e -> {
            properties.set(e.getKey(), e.getValue());
            inBody.add(e.getKey());
        });
        body.path("required").forEach(name -> required.add(name.asString("")));
        var list = inputs.putArray("required");
        required.forEach(list::add);
        return new Operation(
                described.summary(),
                inputs,
                outputs(operation.path("responses")),
                new HttpOperation(
                        connection,
                        described.method().toUpperCase(java.util.Locale.ROOT),
                        described.path(),
                        inPath,
                        inQuery,
                        inBody));
    }

    private JsonNode outputs(JsonNode responses) {
        for (String status : new String[] {"200", "201", "202", "2XX"}) {
            if (responses.has(status)) {
                JsonNode schema = jsonSchema(resolve(responses.get(status), 0));
                return schema.isMissingNode() ? Json.object() : resolve(schema, 0);
            }
        }
        return Json.object();
    }

    private static JsonNode jsonSchema(JsonNode holder) {
        return holder.path("content").path("application/json").path("schema");
    }

    private JsonNode target(String reference) {
        try {
            return reference.startsWith("#/")
                    ? document.at(reference.substring(1))
                    : Json.nodes().missingNode();
        } catch (IllegalArgumentException e) {
            return Json.nodes().missingNode(); // no JSON pointer (RFC 6901)
        }
    }

    /** Writes local references out, so that a schema stands on its own. */
    private JsonNode resolve(JsonNode node, int depth) {
        if (depth > DEEPEST || --left < 0 || --leftTogether < 0) {
            return Json.object(); // a schema that refers to itself: below this depth anything is accepted
        }
        if (node.isObject()) {
            JsonNode reference = node.get("$ref");
            if (reference != null && reference.isString()) {
                JsonNode meant = target(reference.stringValue());
                return meant.isMissingNode()
                        ? node
                        : resolve(meant, depth + 1); // what leads nowhere is found by checking
            }
            ObjectNode copy = Json.object();
            node.properties().forEach(e -> copy.set(e.getKey(), resolve(e.getValue(), depth + 1)));
            return copy;
        }
        if (node.isArray()) {
            var copy = Json.mapper().createArrayNode();
            node.forEach(item -> copy.add(resolve(item, depth + 1)));
            return copy;
        }
        return node;
    }
}
