package servitor.connectors.operation;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import org.apache.hc.client5.http.entity.mime.ByteArrayBody;
import org.apache.hc.client5.http.entity.mime.FormBodyPart;
import org.apache.hc.client5.http.entity.mime.FormBodyPartBuilder;
import org.apache.hc.client5.http.entity.mime.HttpMultipartMode;
import org.apache.hc.client5.http.entity.mime.MultipartEntityBuilder;
import org.apache.hc.core5.http.ContentType;
import org.apache.hc.core5.http.HttpEntity;
import servitor.connectors.http.HttpCall;
import servitor.core.handbook.HttpBody;
import servitor.core.handbook.HttpParameter;
import servitor.core.handbook.HttpParameter.In;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Writes the bodies of requests as their descriptions lay them out. */
final class HttpBodies {
    private HttpBodies() {}

    /** Adds the body to a request; nothing when none of its inputs is given and it isn't required. */
    static HttpCall into(HttpCall call, HttpBody body, ObjectNode args) {
        boolean given = body.whole() != null
                ? args.has(body.whole())
                : body.fields().stream().anyMatch(field -> args.has(field.input()));
        if (!given && (!body.required() || body.whole() != null)) {
            return call;
        }
        return switch (body.form()) {
            case JSON -> call.sending(body.type(), bytes(Json.write(value(body, args))));
            case URLENCODED -> call.sending(body.type(), bytes(Written.joined(pairs(body, args))));
            case MULTIPART -> multipart(call, body, args);
            case TEXT ->
                call.sending(withCharset(body.type()), bytes(value(body, args).asString("")));
            case FILE -> file(call, body.type(), value(body, args));
        };
    }

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    private static String withCharset(String type) {
        return type.contains("*")
                ? "text/plain; charset=utf-8"
                : type.contains("charset") ? type : type + "; charset=utf-8";
    }

    private static JsonNode value(HttpBody body, ObjectNode args) {
        if (body.whole() != null) {
            return args.path(body.whole());
        }
        ObjectNode value = Json.object();
        body.fields().stream()
                .filter(field -> args.has(field.input()))
                .forEach(field -> value.set(field.name(), args.get(field.input())));
        return value;
    }

    private static List<Written.Pair> pairs(HttpBody body, ObjectNode args) {
        List<Written.Pair> pairs = new ArrayList<>();
        for (HttpBody.Field field : body.fields()) {
            if (args.has(field.input())) {
                HttpParameter at =
                        new HttpParameter(field.input(), field.name(), In.QUERY, field.style(), field.explode());
                pairs.addAll(Written.inQuery(at, args.get(field.input())));
            }
        }
        return pairs;
    }

    private static HttpCall file(HttpCall call, String type, JsonNode file) {
        return call.sending(type.contains("*") ? mediaType(file, type) : type, held(file));
    }

    private static HttpCall multipart(HttpCall call, HttpBody body, ObjectNode args) {
        MultipartEntityBuilder parts = MultipartEntityBuilder.create().setMode(HttpMultipartMode.LEGACY);
        parts.setContentType(ContentType.create("multipart/form-data")); // it has no charset (RFC 7578, section 4.1)
        parts.setCharset(StandardCharsets.UTF_8);
        for (HttpBody.Field field : body.fields()) {
            JsonNode value = args.path(field.input());
            List<JsonNode> each = value.isArray() ? value.valueStream().toList() : List.of(value);
            if (!value.isMissingNode()) {
                each.forEach(one -> parts.addPart(part(field, one)));
            }
        }
        HttpEntity entity = parts.build();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            entity.writeTo(out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return call.sending(entity.getContentType(), out.toByteArray());
    }

    private static FormBodyPart part(HttpBody.Field field, JsonNode value) {
        String named = "form-data; name=\"" + quoted(field.name()) + "\"";
        String disposition = field.file()
                ? named + "; filename=\"" + quoted(value.path("name").asString("file")) + "\""
                : named;
        return FormBodyPartBuilder.create(field.name(), content(field, value))
                .setField("Content-Disposition", disposition)
                .build();
    }

    /** What would end the quotes, or the line, is written as browsers do (HTML, multipart form data). */
    private static String quoted(String text) {
        return text.replace("\"", "%22").replace("\r", "%0D").replace("\n", "%0A");
    }

    /** With a file name of its own, so that its type is written; the one that is sent stands in the disposition. */
    private static ByteArrayBody content(HttpBody.Field field, JsonNode value) {
        if (field.file()) {
            String type = field.type().isEmpty() || field.type().contains(",") ? mediaType(value, "*/*") : field.type();
            return new ByteArrayBody(held(value), ContentType.parse(type), "part");
        }
        String type = !field.type().isEmpty() ? field.type() : value.isContainer() ? "application/json" : "text/plain";
        String text = value.isContainer() || type.contains("json") ? Json.write(value) : value.asString("");
        return new ByteArrayBody(bytes(text), ContentType.parse(type).withCharset(StandardCharsets.UTF_8), "part");
    }

    private static String mediaType(JsonNode file, String allowed) {
        String type = file.path("type").asString("");
        boolean named = type.matches("[A-Za-z0-9.+-]{1,60}/[A-Za-z0-9.+-]{1,80}");
        return named && (allowed.startsWith("*") || type.startsWith(allowed.split("/")[0] + "/"))
                ? type
                : "application/octet-stream";
    }

    /** What a file holds, whichever way it was given. */
    private static byte[] held(JsonNode file) {
        return file.has("base64")
                ? Base64.getMimeDecoder().decode(file.path("base64").asString(""))
                : bytes(file.path("text").asString(""));
    }
}
