package servitor.connectors.signin;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.operation.HttpTool;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.HttpOperation;
import servitor.core.json.Json;

/** Every way of signing in, against a server that says what it was shown. */
class SignInTests {
    private static final HttpOperation OPERATION =
            new HttpOperation("c", "GET", "/thing", List.of(), null, HttpOperation.Answer.JSON);

    private final List<String> tokenRequests = new CopyOnWriteArrayList<>();
    private final HttpTool tool = new HttpTool();
    private HttpServer server;

    @BeforeEach
    void start() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
        server.createContext("/thing", exchange -> {
            String shown = exchange.getRequestHeaders().getFirst("Authorization") + "/"
                    + exchange.getRequestHeaders().getFirst("X-Key");
            byte[] body = Json.write(Json.object().put("shown", shown)).getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(shown.contains("stale") ? 401 : 200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        server.createContext("/token", exchange -> {
            String form = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            tokenRequests.add(exchange.getRequestHeaders().getFirst("Authorization") + " " + form);
            String token = tokenRequests.size() == 1 ? "fresh" : "fresher";
            byte[] body = ("{\"access_token\": \"" + token + "\", \"token_type\": \"Bearer\", \"expires_in\": 3600}")
                    .getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(form.contains("refused") ? 400 : 200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        server.createContext("/away", exchange -> {
            exchange.getResponseHeaders().set("Location", "/thing");
            exchange.sendResponseHeaders(302, -1);
            exchange.close();
        });
        server.setExecutor(Executors.newCachedThreadPool());
        server.start();
    }

    @AfterEach
    void stop() {
        server.stop(0);
    }

    private URI url(String path) {
        return URI.create("http://127.0.0.1:" + server.getAddress().getPort() + path);
    }

    private Reply call(Credentials credentials, HttpOperation operation) throws InterruptedException {
        return tool.call(
                new Access(url(""), credentials, true),
                operation,
                Json.object(),
                "key",
                Deadline.in(Duration.ofSeconds(5)));
    }

    private String shown(Credentials credentials) throws InterruptedException {
        return ((Reply.Answered) call(credentials, OPERATION))
                .body()
                .path("shown")
                .asString();
    }

    @Test
    void eachKindOfCredentialsIsShownItsWay() throws Exception {
        assertThat(shown(new Credentials.None())).isEqualTo("null/null");
        assertThat(shown(new Credentials.Password("maren", "tide"))).isEqualTo("Basic bWFyZW46dGlkZQ==/null");
        assertThat(shown(new Credentials.Bearer("b-1"))).isEqualTo("Bearer b-1/null");
        assertThat(shown(new Credentials.ApiKey("X-Key", "k-1"))).isEqualTo("null/k-1");
    }

    @Test
    void aTokenIsFetchedOnceAndKept() throws Exception {
        Credentials client = new Credentials.ClientCredentials(url("/token"), "servitor", "ebb", "fares");

        assertThat(shown(client)).isEqualTo("Bearer fresh/null");
        assertThat(shown(client)).isEqualTo("Bearer fresh/null");
        assertThat(tokenRequests).containsExactly("Basic c2Vydml0b3I6ZWJi grant_type=client_credentials&scope=fares");
    }

    @Test
    void whoGetsNoTokenSendsNothing() throws Exception {
        assertThat(call(new Credentials.ClientCredentials(url("/token"), "servitor", "ebb", "refused"), OPERATION))
                .isInstanceOf(Reply.NotSent.class);
    }

    /** Signing in has no time of its own: a token that comes after the call's time is over sends nothing any more. */
    @Test
    void signingInTakesFromTheTimeOfTheCall() throws Exception {
        CountDownLatch over = new CountDownLatch(1);
        server.createContext("/slow-token", exchange -> {
            try {
                over.await(5, TimeUnit.SECONDS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
            byte[] body = "{\"access_token\": \"late\", \"token_type\": \"Bearer\", \"expires_in\": 3600}"
                    .getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        Credentials client = new Credentials.ClientCredentials(url("/slow-token"), "servitor", "ebb", "");

        Reply reply = tool.call(
                new Access(url(""), client, true), OPERATION, Json.object(), "key", Deadline.in(Duration.ofSeconds(1)));
        over.countDown();

        assertThat(reply).isInstanceOf(Reply.NotSent.class);
    }

    @Test
    void redirectsAreNotFollowed() throws Exception {
        assertThat(call(
                        new Credentials.Bearer("b-1"),
                        new HttpOperation("c", "GET", "/away", List.of(), null, HttpOperation.Answer.JSON)))
                .isInstanceOfSatisfying(
                        Reply.Failed.class,
                        failed -> assertThat(failed.status()).isEqualTo(302));
    }

    @Test
    void aTestTellsWrongCredentials() throws Exception {
        assertThat(tool.test(
                        new Access(url("/thing"), new Credentials.Bearer("b-1"), true),
                        Deadline.in(Duration.ofSeconds(5))))
                .isInstanceOf(Reply.Answered.class);
        assertThat(tool.test(
                        new Access(url("/thing"), new Credentials.Bearer("stale"), true),
                        Deadline.in(Duration.ofSeconds(5))))
                .isInstanceOf(Reply.Failed.class);
    }

    @Test
    void credentialsNeverShowTheirSecret() {
        assertThat(List.of(
                                new Credentials.Password("maren", "secret-1"),
                                new Credentials.Bearer("secret-2"),
                                new Credentials.ApiKey("X-Key", "secret-3"),
                                new Credentials.ClientCredentials(url("/token"), "servitor", "secret-4", ""))
                        .toString())
                .doesNotContain("secret-");
    }

    @Test
    void aPrivateNetworkIsReachedOnlyWhenTheConnectionSaysSo() {
        for (String host : List.of(
                "127.0.0.1", "10.1.2.3", "192.168.0.9", "169.254.169.254", "[::1]", "[fd00::1]", "100.64.0.1")) {
            Access access = new Access(URI.create("http://" + host), new Credentials.None(), false);
            assertThat(access.refused()).as(host).isPresent();
        }
        assertThat(new Access(URI.create("http://203.0.113.9"), new Credentials.None(), false).refused())
                .isEmpty();
        assertThat(new Access(url(""), new Credentials.None(), true).refused()).isEmpty();
    }
}
