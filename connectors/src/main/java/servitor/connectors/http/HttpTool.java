package servitor.connectors.http;

import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpRequest;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.StringJoiner;
import servitor.core.engine.Reply;
import servitor.core.handbook.Tool.HttpOperation;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** Calls an operation of an HTTP API as its OpenAPI description lays it out. */
public final class HttpTool {
    private final JsonOverHttp http = new JsonOverHttp();

    /**
     * Makes one call.
     *
     * @param base the connection's URL
     * @param args inputs that already fit the operation's schema
     * @param limit how long it may take
     * @param key sent as {@code Idempotency-Key}; the same for every try of the same call
     */
    public Reply call(URI base, HttpOperation operation, ObjectNode args, String key, Duration limit)
            throws InterruptedException {
        String path = operation.path();
        for (String name : operation.inPath()) {
            path = path.replace("{" + name + "}", encode(args.path(name).asString("")));
        }
        StringJoiner query = new StringJoiner("&", "?", "").setEmptyValue("");
        for (String name : operation.inQuery()) {
            if (args.has(name)) {
                query.add(encode(name) + "=" + encode(args.get(name).asString("")));
            }
        }
        ObjectNode body = Json.object();
        operation.inBody().stream().sorted().filter(args::has).forEach(name -> body.set(name, args.get(name)));
        HttpRequest.BodyPublisher publisher = operation.inBody().isEmpty()
                ? HttpRequest.BodyPublishers.noBody()
                : HttpRequest.BodyPublishers.ofString(Json.write(body));
        HttpRequest request = JsonOverHttp.request(
                        URI.create(base.toString().replaceAll("/+$", "") + path + query), limit)
                .header("Content-Type", "application/json")
                .header("Idempotency-Key", key)
                .method(operation.method(), publisher)
                .build();
        return http.send(request);
    }

    private static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8)
                .replace("+", "%20")
                .replace(".", "%2E");
    }
}
