package servitor.connectors.operation;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.handbook.openapi.ApiDescription;
import servitor.core.handbook.openapi.Documents;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Operations read from a description, called on a server that says what it got. */
class HttpToolTests {
    private final AtomicReference<String> got = new AtomicReference<>("");
    private final HttpTool tool = new HttpTool();
    private HttpServer server;
    private String type = "application/json";
    private int status = 200;
    private String answer = "{}";

    @BeforeEach
    void start() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
        server.createContext("/", this::take);
        server.start();
    }

    @AfterEach
    void stop() {
        server.stop(0);
    }

    private void take(HttpExchange exchange) throws IOException {
        try (exchange) {
            String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            String sent = String.valueOf(exchange.getRequestHeaders().getFirst("Content-Type"));
            String boundary = sent.contains("boundary=") ? sent.replaceAll("(?s).*boundary=", "") : "(none)";
            got.set(exchange.getRequestMethod() + " " + exchange.getRequestURI() + " X-Trace:"
                    + exchange.getRequestHeaders().getFirst("X-Trace") + " " + sent.replace(boundary, "B") + "\n"
                    + body.replace(boundary, "B").replace("\r\n", "\n"));
            byte[] bytes = answer.getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().set("Content-Type", type);
            exchange.sendResponseHeaders(status, bytes.length == 0 ? -1 : bytes.length);
            exchange.getResponseBody().write(bytes);
        }
    }

    /** An operation of a description that has one path with one method. */
    private static ApiDescription.Operation operation(String method, String path, String rest) {
        return new ApiDescription(Documents.read("""
                        openapi: 3.1.0
                        info: { title: Depot, version: "1" }
                        paths:
                          "%s":
                            %s: { %s, responses: { "200": { description: it } } }
                        """.formatted(path, method, rest)))
                .operation(method.toUpperCase(java.util.Locale.ROOT) + " " + path, "depot")
                .orElseThrow();
    }

    private Reply call(HttpOperation operation, String args) throws InterruptedException {
        return tool.call(
                new Access(
                        URI.create("http://127.0.0.1:" + server.getAddress().getPort()),
                        new Credentials.Bearer("harbour-9"),
                        true),
                operation,
                (ObjectNode) Json.read(args, JsonNode.class),
                "key-1",
                Deadline.in(Duration.ofSeconds(10)));
    }

    private String sent(String method, String path, String rest, String args) throws InterruptedException {
        ApiDescription.Operation operation = operation(method, path, rest);
        assertThat(operation.faults()).isEmpty();
        assertThat(call(operation.binding(), args)).isInstanceOf(Reply.Answered.class);
        return got.get();
    }

    @Test
    void listsAndObjectsInAQueryArriveWhole() throws Exception {
        assertThat(sent(
                        "get",
                        "/orders",
                        "parameters: [{ name: state, in: query, schema: { type: array, items: { type: string } } },"
                                + "{ name: filter, in: query, style: deepObject, schema: { type: object } },"
                                + "{ name: X-Trace, in: header, schema: { type: string } }]",
                        "{\"state\":[\"open\",\"late\"],\"filter\":{\"from\":\"2026-11-01\"},\"X-Trace\":\"t-1\"}"))
                .startsWith("GET /orders?state=open&state=late&filter%5Bfrom%5D=2026-11-01 X-Trace:t-1 ");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "application/json",
                "application/vnd.depot.order+json",
                "application/json; charset=utf-8",
                "application/merge-patch+json"
            })
    void jsonIsSentAsItsOwnType(String media) throws Exception {
        assertThat(sent(
                        "post",
                        "/orders",
                        "requestBody: { content: { \"" + media
                                + "\": { schema: { type: object, properties: { good: { type: string } } } } } }",
                        "{\"good\":\"rope\"}"))
                .endsWith(" " + media + "\n{\"good\":\"rope\"}");
    }

    @Test
    void aBodyThatIsAListIsOneInput() throws Exception {
        String body =
                "requestBody: { required: true, content: { application/json: { schema: { type: array, items: { type: integer } } } } }";
        ApiDescription.Operation operation = operation("put", "/numbers", body);
        assertThat(operation.inputs().path("required")).hasToString("[\"body\"]");
        assertThat(sent("put", "/numbers", body, "{\"body\":[1,2]}")).endsWith("\n[1,2]");
    }

    @Test
    void formsAreSentAsForms() throws Exception {
        assertThat(sent(
                        "post",
                        "/sign",
                        "requestBody: { content: { application/x-www-form-urlencoded: { schema: { type: object, properties: {"
                                + " name: { type: string }, tags: { type: array, items: { type: string } }, more: { type: object } } } } } }",
                        "{\"name\":\"a b&c\",\"tags\":[\"x\",\"y\"],\"more\":{\"k\":1}}"))
                .endsWith("application/x-www-form-urlencoded\nname=a%20b%26c&tags=x&tags=y&more=%7B%22k%22%3A1%7D");
    }

    @Test
    void filesAreSentInParts() throws Exception {
        String sent = sent(
                "post",
                "/papers",
                "requestBody: { content: { multipart/form-data: { schema: { type: object, properties: { note: { type: string },"
                        + " about: { type: object }, paper: { type: string, format: binary } } } } } }",
                "{\"note\":\"for you\",\"about\":{\"n\":1},\"paper\":{\"name\":\"a\\\"b\\r\\nX: ä y.txt\",\"type\":\"text/plain\",\"base64\":\"aGVsbG8=\"}}");
        assertThat(sent)
                .contains(" multipart/form-data; boundary=B")
                .contains("name=\"note\"\nContent-Type: text/plain; charset=UTF-8\n\nfor you\n")
                .contains("name=\"about\"\nContent-Type: application/json; charset=UTF-8\n\n{\"n\":1}\n")
                .contains("name=\"paper\"; filename=\"a%22b%0D%0AX: ä y.txt\"\nContent-Type: text/plain\n\nhello\n");
    }

    @Test
    void whatIsNotGivenIsNotSent() throws Exception {
        assertThat(sent(
                        "post",
                        "/orders",
                        "requestBody: { content: { application/json: { schema: { type: object, properties: { good: { type: string } } } } } }",
                        "{}"))
                .endsWith(" null\n");
    }

    @Test
    void whatCantBeWrittenIsNotSent() throws Exception {
        HttpOperation operation = operation(
                        "get",
                        "/orders/{order}",
                        "parameters: [{ name: order, in: path, required: true, schema: {} },"
                                + "{ name: X-Trace, in: header, schema: {} }, { name: q, in: query, schema: {} }]")
                .binding();
        for (String args : List.of(
                "{\"order\":\"\"}",
                "{\"order\":\"1\",\"X-Trace\":\"a\\r\\nX-Admin: yes\"}",
                "{\"order\":\"1\",\"q\":[[1]]}")) {
            assertThat(call(operation, args))
                    .as(args)
                    .isInstanceOfSatisfying(
                            Reply.Refused.class,
                            refused -> assertThat(refused.problem()).isEqualTo("invalid"));
        }
        assertThat(got.get()).isEmpty();
    }

    @Test
    void textIsAnAnswerWhereTheDescriptionSaysSo() throws Exception {
        type = "text/plain; charset=utf-8";
        answer = "Überfahrt";
        HttpOperation operation = new ApiDescription(Documents.read("""
                        openapi: 3.0.3
                        info: { title: Depot, version: "1" }
                        paths: { /note: { get: { operationId: note, responses: { "200": { description: it, content: { text/plain: {} } } } } } }
                        """))
                .operation("note", "depot")
                .orElseThrow()
                .binding();
        assertThat(call(operation, "{}"))
                .isEqualTo(new Reply.Answered(200, Json.object().put("text", "Überfahrt")));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "application/problem+json|{\"detail\":\"no such order\"}|no such order",
                "application/json|{\"error\":{\"message\":\"no such order\"}}|no such order",
                "application/json|{\"errors\":[{\"message\":\"too late\"}]}|too late",
                "text/plain|the order is closed|the order is closed",
                "text/html|<h1>Closed</h1><script>alert(1)</script><p>until Monday|Closed until Monday",
                "application/xml|<e><m>closed</m></e>|closed",
                "application/json|{\"why\":17}|{\"why\":17}",
                "text/plain|token harbour-9 has run out|token … has run out"
            })
    void whateverAnErrorIsWrittenInItsReasonIsKept(String media, String body, String reason) throws Exception {
        type = media;
        status = 409;
        answer = body;
        assertThat(call(operation("get", "/orders", "summary: x").binding(), "{}"))
                .isInstanceOfSatisfying(
                        Reply.Failed.class,
                        failed -> assertThat(failed.detail()).endsWith("answered 409: " + reason));
    }
}
