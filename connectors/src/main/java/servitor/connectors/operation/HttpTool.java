package servitor.connectors.operation;

import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import servitor.connectors.access.Access;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Deadline;
import servitor.connectors.http.HttpCall;
import servitor.connectors.signin.SignIn;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.handbook.HttpParameter;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
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
        HttpCall call;
        try {
            call = request(access, operation, args, deadline).with("Idempotency-Key", key);
        } catch (Written.CantBeWritten | IllegalArgumentException e) {
            return new Reply.Refused(Problem.INVALID, "the request can't be written: " + e.getMessage());
        }
        return signIn.send(access, call);
    }

    private static HttpCall request(Access access, HttpOperation operation, ObjectNode args, Deadline deadline) {
        String path = operation.path();
        List<Written.Pair> query = new ArrayList<>();
        Map<String, String> headers = new LinkedHashMap<>();
        for (HttpParameter at : operation.parameters()) {
            JsonNode value = args.path(at.input());
            switch (at.in()) {
                case PATH -> path = path.replace("{" + at.name() + "}", inPath(at, value));
                case QUERY -> {
                    if (!value.isMissingNode()) {
                        query.addAll(Written.inQuery(at, value));
                    }
                }
                case HEADER -> {
                    if (!value.isMissingNode()) {
                        headers.put(at.name(), header(at, value));
                    }
                }
            }
        }
        String address = access.address().toString().replaceAll("/+$", "");
        String asked = query.isEmpty() ? "" : "?" + Written.joined(query);
        HttpCall call = HttpCall.of(operation.method(), URI.create(address + path + asked), deadline);
        for (Map.Entry<String, String> header : headers.entrySet()) {
            call = call.with(header.getKey(), header.getValue());
        }
        if (operation.answer() == HttpOperation.Answer.TEXT) {
            call = call.takingText();
        }
        return operation.body() == null ? call : HttpBodies.into(call, operation.body(), args);
    }

    /** An empty part would lead to another path. */
    private static String inPath(HttpParameter at, JsonNode value) {
        String part = Written.inPath(at, value);
        if (part.isEmpty()) {
            throw new IllegalArgumentException("‘" + at.name() + "’ is empty, and the path needs it");
        }
        return part;
    }

    /** What a line break would follow is another header. */
    private static String header(HttpParameter at, JsonNode value) {
        String text = Written.inHeader(at, value);
        if (text.chars().anyMatch(sign -> sign < ' ' || sign == 127)) {
            throw new IllegalArgumentException("‘" + at.name() + "’ holds signs that a header can't");
        }
        return text;
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
}
