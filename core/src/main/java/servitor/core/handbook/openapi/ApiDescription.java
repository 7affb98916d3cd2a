package servitor.core.handbook.openapi;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** An OpenAPI 3.0 or 3.1 description: its operations, and what calling them takes. Not safe for several threads. */
public final class ApiDescription {
    private static final Set<String> METHODS = Set.of("get", "put", "post", "delete", "patch", "head", "options");

    /** What all operations that are asked for may come to together, in parts of their schemas. */
    private static final int MOST_TOGETHER = 1_000_000;

    private final Pointers document;
    private final Map<String, Described> operations = new LinkedHashMap<>();
    private int left = MOST_TOGETHER;

    public ApiDescription(JsonNode document) {
        this.document = new Pointers(document);
        document.path("paths").properties().forEach(path -> {
            JsonNode item = this.document.meant(path.getValue());
            item.properties().forEach(member -> {
                if (METHODS.contains(member.getKey())) {
                    Described described = new Described(
                            member.getKey().toUpperCase(Locale.ROOT), path.getKey(), item, member.getValue());
                    operations.put(name(described), described);
                }
            });
        });
    }

    /** Its {@code operationId}; one without, or with that of another, is called by method and path. */
    private String name(Described described) {
        String id = described.operation().path("operationId").asString("");
        return id.isBlank() || operations.containsKey(id) ? described.method() + " " + described.path() : id;
    }

    /**
     * An operation as it stands in the description.
     *
     * @param method in capitals
     */
    public record Described(String method, String path, JsonNode item, JsonNode operation) {
        /** What it is for, in the description's words. */
        public String summary() {
            return operation
                    .path("description")
                    .asString(operation.path("summary").asString(""));
        }
    }

    /**
     * What calling an operation takes.
     *
     * @param inputs JSON Schema of an object
     * @param outputs JSON Schema of the answer
     * @param faults why it can't be called, in sentences; empty when it can
     * @param notes what was left out, in sentences
     */
    public record Operation(
            String summary,
            ObjectNode inputs,
            JsonNode outputs,
            HttpOperation binding,
            List<String> faults,
            List<String> notes) {
        public Operation {
            faults = List.copyOf(faults);
            notes = List.copyOf(notes);
        }
    }

    /** Whether this is a description that can be read. */
    public boolean isOpenApi3() {
        return document.document().path("openapi").asString("").matches("3\\.[01](\\..*)?");
    }

    /** The operations by their names, in the order of the description. */
    public Map<String, Described> operations() {
        return operations;
    }

    /** Whether what was asked for so far comes to more than is read of one description. */
    public boolean isSpent() {
        return left < 0;
    }

    /** What calling an operation over {@code connection} takes; empty when there is none of that name. */
    public Optional<Operation> operation(String name, String connection) {
        return Optional.ofNullable(operations.get(name)).map(described -> {
            OperationReader reader = new OperationReader(document, isOld(), connection, described);
            Operation read = reader.read();
            left -= reader.parts();
            return read;
        });
    }

    private boolean isOld() {
        return document.document().path("openapi").asString("").startsWith("3.0");
    }

    /** Where the description says that the API is, with the defaults of its variables; none is where it was found itself. */
    public List<String> servers() {
        List<String> servers = new ArrayList<>();
        for (JsonNode server : document.document().path("servers")) {
            String url = server.path("url").asString("");
            for (Map.Entry<String, JsonNode> variable : server.path("variables").properties()) {
                url = url.replace(
                        "{" + variable.getKey() + "}",
                        variable.getValue().path("default").asString(""));
            }
            servers.add(url);
        }
        return servers;
    }

    /** The same description with some operations only, and what these refer to. */
    public ObjectNode only(Set<String> names) {
        ObjectNode cut = Json.object();
        for (String key : List.of("openapi", "info", "servers")) {
            if (document.document().has(key)) {
                cut.set(key, document.document().get(key));
            }
        }
        ObjectNode paths = cut.putObject("paths");
        operations.forEach((name, described) -> {
            if (names.contains(name)) {
                ObjectNode item = paths.path(described.path()) instanceof ObjectNode there
                        ? there
                        : paths.putObject(described.path());
                described.item().properties().forEach(member -> {
                    if (!METHODS.contains(member.getKey()) && !member.getKey().equals("trace")) {
                        item.set(member.getKey(), member.getValue());
                    }
                });
                ObjectNode operation = described.operation().deepCopy().asObject();
                operation.remove(List.of("callbacks", "x-codeSamples", "externalDocs"));
                item.set(described.method().toLowerCase(Locale.ROOT), operation);
            }
        });
        new Referred(document, cut).gather();
        return cut;
    }
}
