package servitor.connectors.signin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatExceptionOfType;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Credentials.ByBrowser;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.KeptTokens;
import servitor.connectors.access.Tokens;
import servitor.connectors.http.HttpCall;
import servitor.connectors.signin.BrowserSignIn.Provider;

/** A system and its authorization server, each answering what a test lays down. */
class BrowserSignInTests {
    private static final URI REDIRECT = URI.create("http://127.0.0.1:8080/connections/sign-in");
    private static final Provider NOTHING = new Provider("", "", "", "", "", "", "");

    private final Map<String, String> answers = new ConcurrentHashMap<>();
    private final List<String> asked = new CopyOnWriteArrayList<>();
    private final AtomicInteger fetched = new AtomicInteger();
    private final Memory kept = new Memory();
    private final BrowserSignIn signIn = new BrowserSignIn();
    private HttpServer server;
    private String base;
    private String challenge = "";

    /** Tokens in memory. */
    private static final class Memory implements KeptTokens {
        private volatile Tokens tokens;

        @Override
        public Optional<Tokens> now() {
            return Optional.ofNullable(tokens);
        }

        @Override
        public synchronized void renew(Tokens before, Tokens renewed) {
            if (before.equals(tokens)) {
                tokens = renewed;
            }
        }
    }

    @BeforeEach
    void start() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
        base = "http://127.0.0.1:" + server.getAddress().getPort();
        server.createContext("/", exchange -> {
            String path = exchange.getRequestURI().getPath();
            String form = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            asked.add(path + " " + exchange.getRequestHeaders().getFirst("Authorization") + " " + form);
            String answer = answers.get(path);
            if (path.equals("/token") && answer == null) {
                answer = ("{'access_token': 'access-N', 'token_type': 'Bearer', 'expires_in': 3600,"
                                + " 'refresh_token': 'refresh-N'}")
                        .replace("N", String.valueOf(fetched.incrementAndGet()))
                        .replace('\'', '"');
            }
            if (path.equals("/mcp") && !challenge.isEmpty()) {
                exchange.getResponseHeaders().set("WWW-Authenticate", challenge);
            }
            int status = answer == null ? path.equals("/mcp") ? 401 : 404 : answer.contains("\"error\"") ? 400 : 200;
            byte[] body = (answer == null ? "" : answer).getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(status, body.length == 0 ? -1 : body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        server.setExecutor(Executors.newCachedThreadPool());
        server.start();
    }

    @AfterEach
    void stop() {
        server.stop(0);
    }

    private Access system(Credentials credentials) {
        return new Access(URI.create(base + "/mcp"), credentials, true);
    }

    private static Deadline soon() {
        return Deadline.in(Duration.ofSeconds(10));
    }

    /** {@code BASE} stands for the server's address, as two names for it are two hosts. */
    private void says(String path, String body) {
        answers.put(path, body.replace("BASE", base).replace('\'', '"'));
    }

    private void describedServer() {
        says("/.well-known/oauth-authorization-server", """
                {'issuer': 'BASE', 'authorization_endpoint': 'BASE/authorize', 'token_endpoint': 'BASE/token',
                 'registration_endpoint': 'BASE/register', 'response_types_supported': ['code'],
                 'code_challenge_methods_supported': ['S256'], 'token_endpoint_auth_methods_supported': ['none']}
                """);
    }

    private Provider completed(Provider given) throws Exception {
        return signIn.completed(system(new Credentials.None()), given, REDIRECT, soon());
    }

    @Test
    void aSystemSaysWhoSignsPeopleInAndTheServiceRegisters() throws Exception {
        challenge = "Bearer resource_metadata=\"" + base + "/meta\", scope=\"berths:read\"";
        says("/meta", "{'resource': 'BASE/mcp', 'authorization_servers': ['BASE'], 'scopes_supported': ['all']}");
        describedServer();
        says("/register", "{'client_id': 'c-17', 'redirect_uris': ['x']}");

        Provider found = completed(NOTHING);

        assertThat(found)
                .isEqualTo(new Provider(
                        base + "/authorize", base + "/token", base, base + "/mcp", "berths:read", "c-17", ""));
        assertThat(asked)
                .anyMatch(line -> line.startsWith("/register")
                        && line.contains("\"redirect_uris\":[\"" + REDIRECT + "\"]")
                        && line.contains("\"token_endpoint_auth_method\":\"none\""));
        String address =
                BrowserSignIn.address(found, REDIRECT, "s", "v".repeat(43)).toString();
        assertThat(address)
                .startsWith(base + "/authorize?")
                .contains("code_challenge_method=S256", "state=s", "client_id=c-17", "resource=")
                .doesNotContain("v".repeat(43));
    }

    @Test
    void aSystemThatSaysNothingIsItsOwnAuthorizationServer() throws Exception {
        describedServer();
        Provider found = completed(new Provider("", "", "", "", "", "servitor", "ebb"));
        assertThat(found.tokenUrl()).isEqualTo(base + "/token");
        assertThat(found.client()).isEqualTo("servitor");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "{'resource': 'https://other.example/mcp', 'authorization_servers': ['BASE/away']} | its own is asked",
                "{'resource': 'BASE/mcp/deeper', 'authorization_servers': ['BASE/away']} | its own is asked",
            })
    void whatASystemSaysOfOthersIsPassedOver(String metadata, String why) throws Exception {
        says("/.well-known/oauth-protected-resource/mcp", metadata);
        describedServer();
        assertThat(completed(new Provider("", "", "", "", "", "servitor", "")).tokenUrl())
                .as(why)
                .isEqualTo(base + "/token");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "'issuer': 'https://other.example' | doesn't say where people sign in",
                "'issuer': 'BASE', 'authorization_endpoint': 'javascript:alert(1)' | names no addresses",
                "'issuer': 'BASE', 'authorization_endpoint': 'BASE/a' | doesn't say that it checks codes",
                "'issuer': 'BASE', 'authorization_endpoint': 'BASE/a', 'code_challenge_methods_supported': ['plain'] | S256",
                "'issuer': 'BASE', 'authorization_endpoint': 'BASE/a', 'code_challenge_methods_supported': ['S256'] | registers nobody",
            })
    void aServerThatCannotBeUsedIsNamedWithTheReason(String said, String why) {
        says(
                "/.well-known/oauth-authorization-server",
                "{" + said + ", 'token_endpoint': 'BASE/token', 'response_types_supported': ['code']}");
        assertThatExceptionOfType(SignIn.Failed.class)
                .isThrownBy(() -> completed(NOTHING))
                .withMessageContaining(why);
    }

    @Test
    void declaredPlacesAreAskedAsTheyAre() throws Exception {
        Provider declared = new Provider(base + "/a", base + "/token", "", "", "", "servitor", "");
        assertThat(completed(declared)).isEqualTo(declared);
        assertThat(asked).isEmpty();
        assertThatExceptionOfType(SignIn.Failed.class)
                .isThrownBy(() -> completed(new Provider(base + "/a", base + "/token", "", "", "", "", "")))
                .withMessageContaining("client's id");
    }

    @Test
    void aCodeIsChangedForTokensWithItsVerifier() throws Exception {
        ByBrowser open = new ByBrowser(URI.create(base + "/token"), "servitor", "", base + "/mcp", kept);
        Tokens tokens = signIn.tokens(open, "c-1", "v".repeat(43), REDIRECT, system(open), soon());
        assertThat(tokens.access()).isEqualTo("access-1");
        assertThat(tokens.refresh()).isEqualTo("refresh-1");
        assertThat(asked.get(0))
                .contains(
                        "/token null",
                        "code=c-1",
                        "code_verifier=" + "v".repeat(43),
                        "client_id=servitor",
                        "resource=");

        ByBrowser secret = new ByBrowser(URI.create(base + "/token"), "servitor", "ebb", "", kept);
        signIn.tokens(secret, "c-2", "v".repeat(43), REDIRECT, system(secret), soon());
        assertThat(asked.get(1)).contains("/token Basic c2Vydml0b3I6ZWJi").doesNotContain("resource=");
    }

    private String header(ByBrowser client) throws Exception {
        return new SignIn().headers(system(client), soon()).get("Authorization");
    }

    @Test
    void tokensThatRanOutAreRenewedOnceHoweverManyAsk() throws Exception {
        ByBrowser client = new ByBrowser(URI.create(base + "/token"), "servitor", "", "", kept);
        kept.tokens = new Tokens("old", Instant.now().minusSeconds(1), "refresh-0");
        ExecutorService many = Executors.newFixedThreadPool(8);
        List<Future<String>> headers = IntStream.range(0, 8)
                .mapToObj(i -> many.submit(() -> header(client)))
                .toList();
        for (Future<String> header : headers) {
            assertThat(header.get()).isEqualTo("Bearer access-1");
        }
        many.shutdown();
        assertThat(asked).hasSize(1);
        assertThat(kept.tokens.refresh()).as("a refresh token is good once").isEqualTo("refresh-1");
    }

    /** Another service may have renewed them meanwhile, which makes the refresh token that this one knew void. */
    @Test
    void whoeverIsLateTakesWhatAnotherFetched() throws Exception {
        answers.put("/token", "{\"error\": \"invalid_grant\"}");
        Tokens others = new Tokens("theirs", Instant.now().plusSeconds(3600), "refresh-9");
        Tokens old = new Tokens("old", Instant.EPOCH, "refresh-0");
        AtomicInteger looks = new AtomicInteger();
        KeptTokens shared = new KeptTokens() {
            @Override
            public Optional<Tokens> now() {
                return Optional.of(looks.getAndIncrement() == 0 ? old : others);
            }

            @Override
            public void renew(Tokens before, Tokens renewed) {
                throw new AssertionError("nothing was renewed");
            }
        };
        assertThat(header(new ByBrowser(URI.create(base + "/token"), "servitor", "", "", shared)))
                .isEqualTo("Bearer theirs");
    }

    @Test
    void aSignInThatEndedIsSaidAndNothingSent() {
        ByBrowser client = new ByBrowser(URI.create(base + "/token"), "servitor", "", "", kept);
        assertThatExceptionOfType(SignIn.Failed.class)
                .isThrownBy(() -> header(client))
                .withMessageContaining("nobody has signed in there yet");
        kept.tokens = new Tokens("old", Instant.EPOCH, "");
        assertThatExceptionOfType(SignIn.Failed.class)
                .isThrownBy(() -> header(client))
                .withMessageContaining("has run out");
        kept.tokens = new Tokens("old", Instant.EPOCH, "refresh-0");
        answers.put("/token", "{\"error\": \"invalid_grant\", \"error_description\": \"withdrawn by refresh-0\"}");
        assertThatExceptionOfType(SignIn.Failed.class)
                .isThrownBy(() -> header(client))
                .withMessageContaining("doesn't hold any more")
                .withMessageContaining("withdrawn by …");
    }

    @Test
    void aTokenThatIsRefusedIsRenewedBeforeTheNextTry() throws Exception {
        ByBrowser client = new ByBrowser(URI.create(base + "/token"), "servitor", "", "", kept);
        kept.tokens = new Tokens("revoked", Instant.now().plusSeconds(3600), "refresh-0");
        new SignIn().send(system(client), HttpCall.get(URI.create(base + "/mcp"), soon()));
        assertThat(header(client)).isEqualTo("Bearer access-1");
    }
}
