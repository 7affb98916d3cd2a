package servitor.connectors.http;

import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.StringJoiner;
import servitor.connectors.access.Access;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** Calls an operation of an HTTP API as its OpenAPI description lays it out. */
public final class HttpTool implements Connector<HttpOperation> {
    private static final int UNAUTHORIZED = 401;
    private static final int FORBIDDEN = 403;

    private final SignIn signIn = new SignIn();

    /** The key is sent as {@code Idempotency-Key}. */
    @Override
    public Reply call(Access access, HttpOperation operation, ObjectNode args, String key, Deadline deadline)
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
        HttpCall request = HttpCall.get(
                        URI.create(access.address().toString().replaceAll("/+$", "") + path + query), deadline)
                .with("Content-Type", "application/json")
                .with("Idempotency-Key", key)
                .sending(operation.method(), operation.inBody().isEmpty() ? null : Json.write(body));
        return signIn.send(access, request);
    }

    @Override
    public Reply test(Access access, Deadline deadline) throws InterruptedException {
        Reply reply = signIn.send(access, HttpCall.get(access.address(), deadline));
        boolean refused = reply instanceof Reply.Failed failed
                && (failed.status() == UNAUTHORIZED || failed.status() == FORBIDDEN);
        boolean reached = reply instanceof Reply.Answered || reply instanceof Reply.Unreadable;
        return reached || reply instanceof Reply.Failed && !refused
                ? new Reply.Answered(
                        200, Json.object().put("reached", access.address().getAuthority()))
                : reply;
    }

    private static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8)
                .replace("+", "%20")
                .replace(".", "%2E");
    }
}
