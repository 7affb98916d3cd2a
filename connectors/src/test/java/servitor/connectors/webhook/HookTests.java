package servitor.connectors.webhook;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.json.Json;

class HookTests {
    private static final String SECRET = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw";

    private HttpServer server;
    private final Map<String, String> got = new LinkedHashMap<>();
    private int status = 200;

    @BeforeEach
    void start() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 5);
        server.createContext("/", exchange -> {
            got.put("path", exchange.getRequestURI().getPath());
            exchange.getRequestHeaders().forEach((name, values) -> got.put(name.toLowerCase(), values.get(0)));
            got.put("body", new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
            byte[] answer = "said T0/B0/hidden-words".getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(status, answer.length);
            exchange.getResponseBody().write(answer);
            exchange.close();
        });
        server.start();
    }

    @AfterEach
    void stop() {
        server.stop(0);
    }

    private Reply send(Credentials credentials) throws InterruptedException {
        Access access = new Access(
                URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/hooks/"), credentials, true);
        return new Hook()
                .send(
                        access,
                        "k-7",
                        Json.object().put("text", "The boat is back."),
                        Instant.ofEpochSecond(1_614_265_330L),
                        Deadline.in(Duration.ofSeconds(10)));
    }

    /** The example that the libraries of the convention are tested with. */
    @Test
    void aSignatureIsThatOfTheConvention() {
        assertThat(new Credentials.Signing(SECRET)
                        .sign(
                                "msg_p5jXN8AQM9LWM0D4loKWxJek",
                                "1614265330",
                                "{\"test\": 2432232314}".getBytes(StandardCharsets.UTF_8)))
                .isEqualTo("g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=");
    }

    @Test
    void aMessageIsSignedAndCarriesTheSameIdForEveryTry() throws InterruptedException {
        assertThat(send(new Credentials.Signing(SECRET))).isInstanceOf(Reply.Answered.class);
        assertThat(got)
                .containsEntry("webhook-id", "k-7")
                .containsEntry("webhook-timestamp", "1614265330")
                .containsEntry("body", "{\"text\":\"The boat is back.\"}");
        assertThat(got.get("webhook-signature")).startsWith("v1,");
    }

    @Test
    void anAddressThatIsASecretIsSaidNowhere() throws InterruptedException {
        status = 403;
        Reply reply = send(new Credentials.SecretPath("T0/B0/hidden-words"));
        assertThat(got).containsEntry("path", "/hooks/T0/B0/hidden-words");
        assertThat(reply.detail()).doesNotContain("hidden-words");
        assertThat(new Credentials.SecretPath("T0/B0/hidden-words").toString()).doesNotContain("hidden");
    }

    @ParameterizedTest
    @CsvSource({"200, Answered", "204, Answered", "404, Failed", "503, Failed"})
    void whatIsAnsweredTellsWhatCameOfIt(int answered, String reply) throws InterruptedException {
        status = answered;
        assertThat(send(new Credentials.None()).getClass().getSimpleName()).isEqualTo(reply);
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw", "whsec_QUI=", "whsec_?"})
    void whatIsNoSigningSecretIsRefused(String secret) {
        assertThatIllegalArgumentException().isThrownBy(() -> new Credentials.Signing(secret));
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "../x", "a/../b", "a?b", "a#b", "/a", "a//b", "a b"})
    void whatLeadsElsewhereIsNoEndOfAnAddress(String path) {
        assertThatIllegalArgumentException().isThrownBy(() -> new Credentials.SecretPath(path));
    }
}
