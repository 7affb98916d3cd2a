package servitor.core.handbook.openapi;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.handbook.Binding.HttpOperation.Answer;
import servitor.core.handbook.HttpBody;
import servitor.core.handbook.HttpBody.Form;
import servitor.core.handbook.HttpParameter;
import servitor.core.handbook.HttpParameter.In;
import servitor.core.handbook.HttpParameter.Style;
import servitor.core.handbook.openapi.ApiDescription.Described;
import servitor.core.handbook.openapi.ApiDescription.Operation;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Reads one operation: its parameters, its body, and its answer. */
final class OperationReader {
    /** The service sends these itself, or the description has no say in them (OpenAPI 3.1.1, section 4.8.12). */
    private static final Set<String> OWN_HEADERS = Set.of("accept", "content-type", "authorization", "idempotency-key");

    private static final Pattern IN_BRACES = Pattern.compile("\\{([^}]*)}");
    private static final Map<String, Style> STYLES = Map.of(
            "simple", Style.SIMPLE,
            "label", Style.LABEL,
            "matrix", Style.MATRIX,
            "form", Style.FORM,
            "spaceDelimited", Style.SPACE_DELIMITED,
            "pipeDelimited", Style.PIPE_DELIMITED,
            "deepObject", Style.DEEP_OBJECT);
    /** What a schema may say at its top beside its fields, so that these can be inputs of their own. */
    private static final Set<String> PLAIN = Set.of(
            "type",
            "properties",
            "required",
            "additionalProperties",
            "title",
            "description",
            "examples",
            "default",
            "deprecated",
            "format",
            "readOnly",
            "writeOnly",
            "$schema");

    private final Pointers document;
    private final String connection;
    private final Described described;
    private final SchemaReader sent;
    private final SchemaReader answered;
    private final ObjectNode properties = Json.object();
    private final Set<String> required = new LinkedHashSet<>();
    private final List<HttpParameter> parameters = new ArrayList<>();
    private final List<String> faults = new ArrayList<>();
    private final List<String> notes = new ArrayList<>();

    OperationReader(Pointers document, boolean old, String connection, Described described) {
        this.document = document;
        this.connection = connection;
        this.described = described;
        this.sent = new SchemaReader(document, old);
        this.answered = new SchemaReader(document, old);
    }

    /** How much was read. */
    int parts() {
        return sent.parts() + answered.parts();
    }

    Operation read() {
        declared().values().forEach(this::parameter);
        missingInPath();
        HttpBody body = body(described.operation().path("requestBody"));
        ObjectNode inputs = Json.object().put("type", "object").put("additionalProperties", false);
        inputs.set("properties", properties);
        inputs.set("required", Json.of(required));
        withDefs(inputs, sent);
        Answered answer = answer(described.operation().path("responses"));
        elsewhere();
        notes.addAll(sent.notes());
        notes.addAll(answered.notes());
        return new Operation(
                described.summary(),
                inputs,
                answer.schema(),
                new HttpOperation(connection, described.method(), described.path(), parameters, body, answer.as()),
                faults,
                notes.stream().distinct().toList());
    }

    private static void withDefs(ObjectNode schema, SchemaReader reader) {
        if (!reader.defs().isEmpty()) {
            schema.set("$defs", reader.defs());
        }
    }

    /** The parameters of the path and of the operation, which counts where both have one (section 4.8.9). */
    private Map<String, JsonNode> declared() {
        Map<String, JsonNode> all = new LinkedHashMap<>();
        for (JsonNode list : List.of(
                described.item().path("parameters"), described.operation().path("parameters"))) {
            for (JsonNode reference : list) {
                JsonNode parameter = document.meant(reference);
                if (parameter.isMissingNode()) {
                    faults.add("One of its parameters is ‘"
                            + reference.path("$ref").asString("") + "’, which leads to nothing in this description.");
                } else {
                    all.put(
                            parameter.path("in").asString("") + " "
                                    + parameter.path("name").asString(""),
                            parameter);
                }
            }
        }
        return all;
    }

    private void parameter(JsonNode parameter) {
        String name = parameter.path("name").asString("");
        boolean needed = parameter.path("required").asBoolean(false);
        switch (parameter.path("in").asString("")) {
            case "path" -> parameter(parameter, name, In.PATH, true);
            case "query" -> parameter(parameter, name, In.QUERY, needed);
            case "header" -> {
                if (!OWN_HEADERS.contains(name.toLowerCase(Locale.ROOT))) {
                    parameter(parameter, name, In.HEADER, needed);
                }
            }
            default ->
                (needed ? faults : notes)
                        .add("The parameter ‘" + name + "’ goes into a "
                                + parameter.path("in").asString("place nobody knows")
                                + ", where nothing is sent.");
        }
    }

    private void parameter(JsonNode parameter, String name, In in, boolean needed) {
        JsonNode content = parameter.path("content");
        boolean json = content.isObject() && !content.isEmpty();
        JsonNode schema = json ? first(content).path("schema") : parameter.path("schema");
        Style style = json ? Style.JSON : style(parameter, in, name);
        boolean explode = parameter.path("explode").asBoolean(style == Style.FORM || style == Style.DEEP_OBJECT);
        String input = inputName(name, in.name().toLowerCase(Locale.ROOT));
        properties.set(input, withDescription(sent.read(schema, true), parameter));
        if (needed) {
            required.add(input);
        }
        parameters.add(new HttpParameter(input, name, in, style, explode));
    }

    private static JsonNode first(JsonNode map) {
        return map.properties().iterator().next().getValue();
    }

    private Style style(JsonNode parameter, In in, String name) {
        String word = parameter.path("style").asString(in == In.QUERY ? "form" : "simple");
        Style style = STYLES.get(word);
        if (style == null) {
            faults.add("The parameter ‘" + name + "’ is written in a style ‘" + word + "’ that isn't known.");
            return Style.SIMPLE;
        }
        return style;
    }

    private static JsonNode withDescription(JsonNode schema, JsonNode parameter) {
        if (schema instanceof ObjectNode own && !own.has("description") && parameter.has("description")) {
            return own.deepCopy().set("description", parameter.get("description"));
        }
        return schema;
    }

    /** An input's name; one that is taken already says where it goes. */
    private String inputName(String name, String place) {
        return properties.has(name) ? place + "-" + name : name;
    }

    /** A path that names what no parameter gives can't be called. */
    private void missingInPath() {
        Matcher braces = IN_BRACES.matcher(described.path());
        while (braces.find()) {
            String name = braces.group(1);
            if (parameters.stream()
                    .noneMatch(one -> one.in() == In.PATH && one.name().equals(name))) {
                faults.add("The path names ‘" + name + "’, and no parameter gives it.");
            }
        }
    }

    private @Nullable HttpBody body(JsonNode reference) {
        JsonNode body = document.meant(reference);
        if (!reference.isMissingNode() && body.isMissingNode()) {
            faults.add("Its body is ‘" + reference.path("$ref").asString("")
                    + "’, which leads to nothing in this description.");
        }
        JsonNode content = body.path("content");
        if (content.isEmpty()) {
            return null;
        }
        boolean needed = body.path("required").asBoolean(false);
        for (Media media : Media.values()) {
            for (Map.Entry<String, JsonNode> one : content.properties()) {
                if (media.takes(one.getKey())) {
                    return body(media.form(), one.getKey(), one.getValue(), needed);
                }
            }
        }
        (needed ? faults : notes)
                .add("Its body is " + String.join(" or ", content.propertyNames()) + ", which isn't sent.");
        return null;
    }

    private HttpBody body(Form form, String type, JsonNode media, boolean needed) {
        String sentAs = type.contains("*") ? "application/json" : type;
        JsonNode schema = sent.read(media.path("schema"), true);
        if (form == Form.FILE) {
            schema = file();
        }
        ObjectNode fields = form == Form.TEXT || form == Form.FILE ? null : Flat.of(schema, sent.defs());
        if (fields == null || form == Form.JSON && !PLAIN.containsAll(fields.propertyNames())) {
            String input = inputName("body", "request");
            properties.set(input, schema);
            if (needed) {
                required.add(input);
            }
            if (form == Form.URLENCODED || form == Form.MULTIPART) {
                faults.add("Its body is a form whose fields aren't known.");
            }
            return new HttpBody(sentAs, form, needed, input, List.of());
        }
        return new HttpBody(sentAs, form, needed, null, fields(form, media, fields, needed));
    }

    private List<HttpBody.Field> fields(Form form, JsonNode media, ObjectNode schema, boolean needed) {
        List<String> wanted = schema.path("required")
                .valueStream()
                .map(name -> name.asString(""))
                .toList();
        List<HttpBody.Field> fields = new ArrayList<>();
        schema.path("properties").properties().forEach(one -> {
            String input = inputName(one.getKey(), "body");
            boolean file = form == Form.MULTIPART && isFile(one.getValue());
            properties.set(input, file ? files(one.getValue()) : one.getValue());
            if (needed && wanted.contains(one.getKey())) {
                required.add(input);
            }
            JsonNode encoding = media.path("encoding").path(one.getKey());
            Style style = STYLES.getOrDefault(encoding.path("style").asString("form"), Style.FORM);
            boolean nested = isObject(one.getValue()) && !encoding.has("style");
            fields.add(new HttpBody.Field(
                    input,
                    one.getKey(),
                    nested && form == Form.URLENCODED ? Style.JSON : style,
                    encoding.path("explode").asBoolean(style == Style.FORM || style == Style.DEEP_OBJECT),
                    encoding.path("contentType").asString(""),
                    file));
        });
        return fields;
    }

    private static boolean isObject(JsonNode schema) {
        return schema.has("properties") || schema.path("type").asString("").equals("object");
    }

    /** A string that holds a file's bytes: 3.0 says so by a format, 3.1 by a media type (section 4.8.14.3). */
    private static boolean isFile(JsonNode schema) {
        JsonNode one = schema.path("type").asString("").equals("array") ? schema.path("items") : schema;
        return one.path("format").asString("").equals("binary") || one.has("contentMediaType");
    }

    private static JsonNode files(JsonNode schema) {
        return schema.path("type").asString("").equals("array")
                ? Json.object().put("type", "array").set("items", file())
                : file();
    }

    private static ObjectNode file() {
        return (ObjectNode) Json.read(
                "{\"type\":\"object\",\"description\":\"A file: its name, its media type, and its content as text or in base64.\","
                        + "\"properties\":{\"name\":{\"type\":\"string\"},\"type\":{\"type\":\"string\"},\"text\":{\"type\":\"string\"},"
                        + "\"base64\":{\"type\":\"string\",\"contentEncoding\":\"base64\"}},\"required\":[\"name\"],"
                        + "\"oneOf\":[{\"required\":[\"text\"]},{\"required\":[\"base64\"]}],\"additionalProperties\":false}",
                JsonNode.class);
    }

    private record Answered(JsonNode schema, Answer as) {}

    /** What a call that goes well answers; the first status counts whose answer can be read. */
    private Answered answer(JsonNode responses) {
        List<String> successes = Stream.concat(
                        responses.propertyNames().stream()
                                .filter(status -> status.matches("2.."))
                                .sorted(),
                        Stream.of("default"))
                .toList();
        String unread = "";
        for (String status : successes) {
            JsonNode content = document.meant(responses.path(status)).path("content");
            for (Map.Entry<String, JsonNode> one : content.properties()) {
                if (Media.JSON.takes(one.getKey())) {
                    JsonNode schema = answered.read(one.getValue().path("schema"), false);
                    if (schema instanceof ObjectNode own) {
                        schema = own.deepCopy();
                        withDefs((ObjectNode) schema, answered);
                    }
                    return new Answered(schema, Answer.JSON);
                }
            }
            for (String type : content.propertyNames()) {
                if (type.toLowerCase(Locale.ROOT).startsWith("text/")) {
                    return new Answered(text(), Answer.TEXT);
                }
                unread = type;
            }
        }
        if (!unread.isEmpty()) {
            notes.add("It answers with " + unread + ", which isn't read: calls end as ‘invalid’.");
        }
        return new Answered(Json.object(), Answer.JSON);
    }

    private static ObjectNode text() {
        ObjectNode schema = Json.object().put("type", "object");
        schema.putObject("properties").putObject("text").put("type", "string");
        schema.putArray("required").add("text");
        return schema;
    }

    /** An operation that has a server of its own isn't where the connection leads. */
    private void elsewhere() {
        JsonNode own = described.operation().path("servers");
        List<String> servers = (own.isEmpty() ? described.item().path("servers") : own)
                .valueStream()
                .map(server -> server.path("url").asString(""))
                .toList();
        if (!servers.isEmpty()) {
            notes.add("The description has it at " + String.join(" or ", servers)
                    + "; calls go where the connection leads.");
        }
    }
}
