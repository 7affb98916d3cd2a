package servitor.demo;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.sun.net.httpserver.HttpServer;
import java.io.BufferedReader;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import servitor.demo.peers.Peers;
import tools.jackson.databind.JsonNode;

/** An admin signs in at an outside system in a browser; a server that nobody here wrote signs them in. */
@Tag("outside")
class SignInPeerTests {
    private final Household household = Household.shared();
    private final Console console = new Console(household);
    private final List<String> shown = new CopyOnWriteArrayList<>();
    private HttpServer system;
    private Process provider;
    private String issuer;

    @BeforeEach
    void start() throws Exception {
        system = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
        system.createContext("/", exchange -> {
            String authorization = String.valueOf(exchange.getRequestHeaders().getFirst("Authorization"));
            shown.add(authorization);
            byte[] body = "{}".getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(authorization.startsWith("Bearer ") ? 200 : 401, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        system.start();
        provider = Peers.started("provider.mjs");
        BufferedReader said = provider.inputReader();
        issuer = said.readLine();
    }

    @AfterEach
    void stop() throws Exception {
        provider.getOutputStream().close();
        provider.waitFor();
        system.stop(0);
        assertThat(console.complaints()).isEmpty();
    }

    private String set(String name) {
        return household
                .run(
                        "--as",
                        "admin",
                        "connection",
                        "set",
                        name,
                        "http://127.0.0.1:" + system.getAddress().getPort(),
                        "--inside",
                        "--sign-in",
                        "authorization-code",
                        "--issuer",
                        issuer,
                        "--user",
                        "servitor")
                .out();
    }

    /** What is said of an address that a browser came back to. */
    private String cameBack(String address) {
        return household
                .run("--as", "admin", "connection", "sign-in", "ramps", "--came-back", address)
                .err();
    }

    /** What the provider wrote into the token that was shown last. */
    private JsonNode lastToken() {
        String[] parts =
                shown.get(shown.size() - 1).substring("Bearer ".length()).split("\\.");
        return Json.read(new String(Base64.getUrlDecoder().decode(parts[1]), StandardCharsets.UTF_8), JsonNode.class);
    }

    @Test
    void anAdminSignsInThereInABrowserAndTheTokensAreRenewed() {
        assertThat(set("berths")).contains("signing in by authorization-code");
        assertThat(household
                        .run("--as", "admin", "connection", "test", "berths")
                        .out())
                .contains("nobody has signed in there yet");
        assertThat(shown).as("requests while nobody has signed in").isEmpty();

        Page page = console.open("admin", "/connections", ColorScheme.LIGHT);
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Sign in at berths"))
                .click();
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Go to localhost"))
                .click();
        assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("Keep this sign-in?")))
                .isVisible();
        assertThat(page.url()).as("where the code was").endsWith("/connections/sign-in");
        assertThat(household.as("admin").get("/api/connections").toString())
                .as("coming back alone keeps nothing")
                .doesNotContain("\"signedInBy\":\"admin\"");
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Keep it"))
                .click();
        assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("berths is signed in to")))
                .isVisible();

        assertThat(household
                        .run("--as", "maren", "connection", "test", "berths")
                        .code())
                .isZero();
        assertThat(lastToken().path("grant").asString()).isEqualTo("refresh_token");
        int fetched = lastToken().path("fetched").asInt();
        assertThat(household
                        .run("--as", "maren", "connection", "test", "berths")
                        .code())
                .isZero();
        assertThat(lastToken().path("fetched").asInt())
                .as("a token that ran out isn't used again")
                .isGreaterThan(fetched);
        assertThat(household.run("--as", "admin", "connection", "list").out())
                .contains("authorization-code as servitor (by admin)");
        assertThat(household
                        .run("--as", "admin", "trail", "show", "--what", "connection-signed-in")
                        .out())
                .contains("\"connection\":\"berths\"");
        List<String> everywhere = new ArrayList<>(List.of(
                household.as("admin").get("/api/connections").toString(),
                household.as("noor").get("/api/trail?limit=200").toString()));
        assertThat(everywhere)
                .noneMatch(text -> text.contains(shown.get(shown.size() - 1).substring(7, 60)));

        household.as("admin").delete("/api/connections/berths");
        assertThat(household.as("admin").get("/api/connections").toString()).doesNotContain("berths");
    }

    @Test
    void whatComesBackCountsForWhoeverBeganAndForWhatWasAskedOnly() {
        set("ramps");
        var admin = household.as("admin");
        String state = java.net
                .URI
                .create(admin.post("/api/connections/ramps/sign-in", Map.of())
                        .path("address")
                        .asString())
                .getQuery()
                .replaceAll(".*state=([^&]+).*", "$1");

        assertThat(cameBack("http://x/?code=c")).contains("no ‘state’");
        assertThat(cameBack("http://x/?state=made-up&code=c")).contains("belongs to no sign-in");
        assertThat(cameBack("http://x/?error=access_denied&state=" + state)).contains("access_denied");
        assertThat(cameBack("http://x/?code=c&iss=https://other.example&state=" + state))
                .contains("isn't from " + issuer);
        set("ramps");
        admin.put(
                "/api/connections/ramps",
                Map.of("signIn", Map.of("kind", "authorization-code", "user", "another", "issuer", issuer)));
        assertThat(cameBack("http://x/?code=c&state=" + state)).contains("set anew meanwhile");
        admin.delete("/api/connections/ramps");
    }
}
