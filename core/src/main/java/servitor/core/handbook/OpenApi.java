package servitor.core.handbook;

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

    /** What one operation may come to once its references are written out. */
    private static final int MOST_NODES = 20_000;

    private final JsonNode document;
    private int left;

    OpenApi(JsonNode document) {
        this.document = document;
    }

    /** One operation: its typed inputs and outputs, and where each input goes. */
    record Operation(String summary, ObjectNode inputs, JsonNode outputs, HttpOperation binding) {}

    Set<String> operationIds() {
        return methods().keySet();
    }

    /** The HTTP method of each operation that has an id, by that. */
    Map<String, String> methods() {
        Map<String, String> methods = new LinkedHashMap<>();
        document.path("paths")
                .forEach(path -> path.properties().forEach(e -> {
                    if (METHODS.contains(e.getKey())
                            && e.getValue().path("operationId").isString()) {
                        methods.put(e.getValue().get("operationId").stringValue(), e.getKey());
                    }
                }));
        return methods;
    }

    Optional<Operation> operation(String id, String connection) {
        for (var path : document.path("paths").properties()) {
            for (var method : path.getValue().properties()) {
                if (METHODS.contains(method.getKey())
                        && id.equals(method.getValue().path("operationId").asString(""))) {
                    return Optional.of(
                            read(connection, path.getKey(), method.getKey(), path.getValue(), method.getValue()));
                }
            }
        }
        return Optional.empty();
    }

    private Operation read(String connection, String path, String method, JsonNode pathItem, JsonNode operation) {
        left = MOST_NODES;
        ObjectNode inputs = Json.object().put("type", "object").put("additionalProperties", false);
        ObjectNode properties = inputs.putObject("properties");
        Set<String> required = new LinkedHashSet<>();
        Set<String> inPath = new LinkedHashSet<>();
        Set<String> inQuery = new LinkedHashSet<>();
        Set<String> inBody = new LinkedHashSet<>();
        for (JsonNode list : new JsonNode[] {pathItem.path("parameters"), operation.path("parameters")}) {
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
                operation.path("description").asString(operation.path("summary").asString("")),
                inputs,
                outputs(operation.path("responses")),
                new HttpOperation(
                        connection, method.toUpperCase(java.util.Locale.ROOT), path, inPath, inQuery, inBody));
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

    /** Writes local references out, so that a schema stands on its own. */
    private JsonNode resolve(JsonNode node, int depth) {
        if (depth > DEEPEST || --left < 0) {
            return Json.object(); // a schema that refers to itself: below this depth anything is accepted
        }
        if (node.isObject()) {
            JsonNode reference = node.get("$ref");
            if (reference != null && reference.isString()) {
                String pointer = reference.stringValue();
                return pointer.startsWith("#/") ? resolve(document.at(pointer.substring(1)), depth + 1) : Json.object();
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
