package servitor.connectors.http;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.operation.HttpTool;
import servitor.connectors.signin.SignIn;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.handbook.HttpBody;
import servitor.core.handbook.HttpParameter;
import servitor.core.handbook.HttpParameter.In;
import servitor.core.handbook.HttpParameter.Style;
import servitor.core.json.Json;

/** Real HTTP on loopback, well-behaved and hostile. */
class JsonOverHttpTests {
    private final JsonOverHttp http = new JsonOverHttp();
    private final CountDownLatch done = new CountDownLatch(1);
    private final AtomicReference<String> asked = new AtomicReference<>("");
    private HttpServer server;

    @BeforeEach
    void start() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
        server.setExecutor(Executors.newCachedThreadPool());
        server.start();
    }

    @AfterEach
    void stop() {
        done.countDown();
        server.stop(0);
    }

    private interface Answer {
        void write(HttpExchange exchange) throws IOException;
    }

    private Reply ask(Answer answer) throws InterruptedException {
        server.createContext("/", exchange -> {
            try (exchange) {
                asked.set(exchange.getRequestMethod() + " " + exchange.getRequestURI() + " "
                        + new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8) + " "
                        + exchange.getRequestHeaders().getFirst("Idempotency-Key"));
                answer.write(exchange);
            }
        });
        return http.send(HttpCall.get(base(), Deadline.in(Duration.ofMillis(1_500))), true);
    }

    private URI base() {
        return URI.create("http://127.0.0.1:" + server.getAddress().getPort());
    }

    private static Answer body(int status, String body) {
        return exchange -> {
            byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(status, bytes.length);
            exchange.getResponseBody().write(bytes);
        };
    }

    @Test
    void anAnswerIsRead() throws Exception {
        assertThat(ask(body(200, "{\"n\": 1}")))
                .isEqualTo(new Reply.Answered(200, Json.object().put("n", 1)));
    }

    @Test
    void anErrorKeepsItsOwnWords() throws Exception {
        assertThat(ask(body(404, "{\"detail\":\"no booking\"}")))
                .isInstanceOfSatisfying(
                        Reply.Failed.class,
                        failed -> assertThat(failed.detail()).endsWith("answered 404: no booking"));
    }

    @Test
    void htmlIsNotPassedOn() throws Exception {
        assertThat(ask(body(500, "<script>alert(1)</script>")))
                .isInstanceOfSatisfying(
                        Reply.Failed.class,
                        failed -> assertThat(failed.detail()).doesNotContain("script"));
    }

    @Test
    void redirectsAreNotFollowed() throws Exception {
        Reply reply = ask(exchange -> {
            exchange.getResponseHeaders().set("Location", "http://192.0.2.1/");
            exchange.sendResponseHeaders(302, -1);
        });
        assertThat(reply)
                .isInstanceOfSatisfying(
                        Reply.Failed.class,
                        failed -> assertThat(failed.status()).isEqualTo(302));
    }

    @Test
    void whatCantBeReadIsSaidSo() throws Exception {
        assertThat(ask(body(200, "not json"))).isInstanceOf(Reply.Unreadable.class);
    }

    @Test
    void deepJsonIsUnreadable() throws Exception {
        assertThat(ask(body(200, "[".repeat(50_000)))).isInstanceOf(Reply.Unreadable.class);
    }

    @Test
    void anEndlessAnswerIsCutOff() throws Exception {
        Reply reply = ask(exchange -> {
            exchange.sendResponseHeaders(200, 0);
            byte[] chunk = new byte[64 * 1024];
            for (int i = 0; i < 1_000; i++) {
                exchange.getResponseBody().write(chunk); // ends with an error once the client has had enough
            }
        });
        assertThat(reply).isInstanceOf(Reply.Unreadable.class);
    }

    /** Keeps the connection open until the test is over. */
    private void saysNothingMore() {
        try {
            done.await();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private static void assertTimedOut(Reply reply) {
        assertThat(reply)
                .isInstanceOfSatisfying(
                        Reply.Unknown.class,
                        unknown -> assertThat(unknown.timedOut()).isTrue());
    }

    @Test
    void silenceIsUnknownBecauseTheRequestMayHaveArrived() throws Exception {
        Reply reply = ask(exchange -> saysNothingMore());
        assertTimedOut(reply);
    }

    @Test
    void anAnswerThatDripsInForEverIsEnded() throws Exception {
        Reply reply = ask(exchange -> {
            exchange.sendResponseHeaders(200, 0);
            exchange.getResponseBody().write('[');
            exchange.getResponseBody().flush();
            saysNothingMore();
        });
        assertTimedOut(reply);
    }

    @Test
    void aBrokenConnectionIsUnknown() throws Exception {
        try (ServerSocket rude = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            Thread hangUp = new Thread(() -> {
                try (Socket socket = rude.accept()) {
                    socket.getInputStream().read();
                    socket.setSoLinger(true, 0);
                } catch (IOException e) {
                    Thread.currentThread().interrupt();
                }
            });
            hangUp.start();
            Reply reply = http.send(
                    HttpCall.get(
                            URI.create("http://127.0.0.1:" + rude.getLocalPort()), Deadline.in(Duration.ofSeconds(5))),
                    true);
            hangUp.join();
            assertThat(reply)
                    .isInstanceOfSatisfying(
                            Reply.Unknown.class,
                            unknown -> assertThat(unknown.timedOut()).isFalse());
        }
    }

    @Test
    void aRefusedConnectionIsProvablyNotSent() throws Exception {
        int free;
        try (ServerSocket socket = new ServerSocket(0)) {
            free = socket.getLocalPort();
        }
        assertThat(http.send(
                        HttpCall.get(URI.create("http://127.0.0.1:" + free), Deadline.in(Duration.ofSeconds(5))), true))
                .isInstanceOf(Reply.NotSent.class);
    }

    @Test
    void anOperationPutsEachInputWhereItBelongsAndNothingEscapesItsPlace() throws Exception {
        ask(body(200, "{}"));
        HttpOperation operation = new HttpOperation(
                "c",
                "POST",
                "/a/{id}/b",
                List.of(
                        new HttpParameter("id", "id", In.PATH, Style.SIMPLE, false),
                        new HttpParameter("q", "q", In.QUERY, Style.FORM, true)),
                new HttpBody(
                        "application/json",
                        HttpBody.Form.JSON,
                        true,
                        null,
                        List.of(new HttpBody.Field("amount", "amount", Style.FORM, true, "", false))),
                HttpOperation.Answer.JSON);
        Reply reply = new HttpTool()
                .call(
                        new Access(base(), new Credentials.Bearer("harbour"), true),
                        operation,
                        Json.object()
                                .put("id", "../x?y#z")
                                .put("q", "1&admin=1")
                                .put("amount", 5),
                        "key-1",
                        Deadline.in(Duration.ofSeconds(10)));
        assertThat(reply).isInstanceOf(Reply.Answered.class);
        assertThat(asked.get()).isEqualTo("POST /a/%2E%2E%2Fx%3Fy%23z/b?q=1%26admin%3D1 {\"amount\":5} key-1");
    }

    @Test
    void headersAndBodyHaveOneLimitTogether() throws Exception {
        Reply reply = ask(exchange -> {
            pause(1_000);
            exchange.sendResponseHeaders(200, 0);
            exchange.getResponseBody().write('[');
            exchange.getResponseBody().flush();
            pause(1_000); // each of the two would have been in time
            exchange.getResponseBody().write(']');
        });
        assertTimedOut(reply);
    }

    private void pause(long millis) {
        try {
            done.await(millis, java.util.concurrent.TimeUnit.MILLISECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Test
    void anAddressInsideIsRefusedWhereItsNameIsLookedUp() throws Exception {
        ask(body(200, "{}"));
        for (String host : List.of("127.0.0.1", "localhost", "[::1]")) {
            URI inside = URI.create("http://" + host + ":" + server.getAddress().getPort());
            asked.set("nobody");
            assertThat(http.send(HttpCall.get(inside, Deadline.in(Duration.ofSeconds(2))), false))
                    .as(host)
                    .isInstanceOfSatisfying(
                            Reply.Refused.class,
                            refused -> assertThat(refused.detail()).contains("private network"));
            assertThat(asked.get()).isEqualTo("nobody");
        }
    }

    @Test
    void aTokenIsNotFetchedInsideEither() throws Exception {
        ask(body(200, "{\"access_token\":\"t\"}"));
        asked.set("nobody");
        Access outside = new Access(
                URI.create("https://fares.example"), new Credentials.ClientCredentials(base(), "c", "s", ""), false);

        assertThat(new SignIn()
                        .send(
                                outside,
                                HttpCall.get(URI.create("https://192.0.2.1/"), Deadline.in(Duration.ofSeconds(1)))))
                .isInstanceOfSatisfying(
                        Reply.NotSent.class,
                        refused -> assertThat(refused.detail()).contains("private network"));
        assertThat(asked.get()).isEqualTo("nobody");
    }
}
