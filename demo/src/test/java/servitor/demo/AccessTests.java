package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import servitor.cli.client.Client;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** Access that is given can be ended, and every change of it is on the trail. */
class AccessTests {
    private static final String WORDS = "copper lantern, seven gulls";
    private static Household household;

    @BeforeAll
    static void start() {
        household = new Household("-Dservitor.cases-per-hour=6");
    }

    @AfterAll
    static void stop() {
        household.close();
    }

    private static Http.Answer put(String person, Map<String, Object> details) {
        return Http.as(household, "admin").send("PUT", "/api/people/" + person, json(details));
    }

    private static String json(Object value) {
        return Client.JSON.writeValueAsString(value);
    }

    private static void somebody(String person) {
        assertThat(put(person, Map.of("roles", List.of("resolver"), "desks", List.of("passengers"), "password", WORDS))
                        .status())
                .isEqualTo(200);
    }

    private static Http token(String person) {
        String token = household
                .as("admin")
                .post("/api/people/" + person + "/tokens", Map.of("label", "laptop"))
                .path("token")
                .asString();
        return new Http(household.url()).with("Authorization", "Bearer " + token);
    }

    private static String cookie(Http.Answer answer, String name) {
        return answer.response().headers().allValues("set-cookie").stream()
                .filter(cookie -> cookie.startsWith(name + "=") && !cookie.startsWith(name + "=;"))
                .map(cookie -> cookie.substring(name.length() + 1).replaceFirst(";.*", ""))
                .findFirst()
                .orElse("");
    }

    private static Http.Answer signIn(String person, String password) {
        String csrf = cookie(new Http(household.url()).get("/api/session"), "XSRF-TOKEN");
        return new Http(household.url())
                .with("Cookie", "XSRF-TOKEN=" + csrf)
                .with("X-XSRF-TOKEN", csrf)
                .post("/api/session", json(Map.of("person", person, "password", password)));
    }

    /** A browser in which somebody has signed in. */
    private static Http session(String person) {
        Http.Answer signedIn = signIn(person, WORDS);
        assertThat(signedIn.status()).as(signedIn.body()).isEqualTo(200);
        return new Http(household.url()).with("Cookie", "servitor=" + cookie(signedIn, "servitor"));
    }

    private static int list(Http http) {
        return http.get("/api/cases").status();
    }

    /** Ends when the stream of live changes does. */
    private static CompletableFuture<Void> live(Function<HttpRequest.Builder, HttpRequest.Builder> as)
            throws Exception {
        HttpResponse<InputStream> stream = HttpClient.newHttpClient()
                .send(
                        as.apply(HttpRequest.newBuilder(household.url().resolve("/api/live"))
                                        .header("Accept", "text/event-stream"))
                                .build(),
                        HttpResponse.BodyHandlers.ofInputStream());
        assertThat(stream.statusCode()).isEqualTo(200);
        BufferedReader lines = new BufferedReader(new InputStreamReader(stream.body(), StandardCharsets.UTF_8));
        return CompletableFuture.runAsync(() -> {
            try {
                while (lines.readLine() != null) {
                    Thread.onSpinWait();
                }
            } catch (IOException ended) {
                Thread.onSpinWait(); // cut off is ended, too
            }
        });
    }

    private static String trail() {
        StringBuilder text = new StringBuilder();
        household
                .as("noor")
                .get("/api/trail?limit=200")
                .path("items")
                .forEach(entry -> text.append(entry.path("what").asString())
                        .append(' ')
                        .append(entry.path("data"))
                        .append('\n'));
        return text.toString();
    }

    @Test
    void whoIsDisabledGetsNowhereAndIsLetInAgain() throws Exception {
        somebody("klaas");
        Http token = token("klaas");
        Http session = session("klaas");
        String bearer = household
                .as("admin")
                .post("/api/people/klaas/tokens", Map.of("label", "stream"))
                .path("token")
                .asString();
        CompletableFuture<Void> live = live(request -> request.header("Authorization", "Bearer " + bearer));
        assertThat(list(token)).isEqualTo(200);
        assertThat(list(session)).isEqualTo(200);

        Said disabled = household.run("--as", "admin", "user", "disable", "klaas");
        assertThat(disabled.out()).contains("may sign in no more");
        assertThat(list(token)).isEqualTo(401);
        assertThat(list(session)).isEqualTo(401);
        assertThat(signIn("klaas", WORDS).status()).isEqualTo(401);
        live.get(30, TimeUnit.SECONDS);

        household.run("--as", "admin", "user", "enable", "klaas");
        assertThat(list(session)).as("what has ended stays so").isEqualTo(401);
        assertThat(list(session("klaas"))).isEqualTo(200);
        assertThat(Http.as(household, "admin")
                        .send("PUT", "/api/people/admin", "{\"enabled\":false}")
                        .status())
                .as("nobody locks the door behind themselves")
                .isEqualTo(403);
    }

    @Test
    void sessionsEndByHandAndByAnotherPasswordOrAnotherRole() throws Exception {
        somebody("runa");
        Http first = session("runa");
        household.run("--as", "admin", "user", "sign-out", "runa");
        assertThat(list(first)).isEqualTo(401);

        Http second = session("runa");
        put("runa", Map.of("password", WORDS + " twice"));
        assertThat(list(second)).isEqualTo(401);
        put("runa", Map.of("password", WORDS));

        Http third = session("runa");
        put("runa", Map.of("roles", List.of("requester")));
        assertThat(list(third)).isEqualTo(401);

        Http fourth = session("runa");
        put("runa", Map.of("name", "Runa Lind"));
        assertThat(list(fourth)).as("another name takes nothing away").isEqualTo(200);
    }

    @Test
    void tokensAreListedAndRevoked() {
        somebody("folke");
        Http token = token("folke");
        Said listed = household.run("--as", "admin", "user", "tokens", "folke");
        assertThat(listed.out()).contains("laptop");
        assertThat(token.get("/api/people/folke/tokens").body())
                .as("they are never shown again")
                .doesNotContain("\"token\"");
        assertThat(token.get("/api/people/osei/tokens").status()).isEqualTo(403);
        assertThat(household
                        .run("--as", "admin", "user", "revoke", "folke", "--label", "laptop")
                        .code())
                .isZero();
        assertThat(list(token)).isEqualTo(401);
        assertThat(household
                        .run("--as", "admin", "user", "revoke", "folke", "--label", "laptop")
                        .code())
                .isEqualTo(1);
    }

    @Test
    void onesOwnPasswordIsChangedByWhoKnowsIt() {
        somebody("signe");
        Http token = token("signe");
        Http session = session("signe");
        String wanted = "seven gulls over copper";
        assertThat(token.post("/api/session/password", json(Map.of("current", "guessed", "wanted", wanted)))
                        .status())
                .isEqualTo(403);
        assertThat(token.post("/api/session/password", json(Map.of("current", WORDS, "wanted", "password123")))
                        .detail())
                .contains("soon guessed");
        assertThat(token.post("/api/session/password", json(Map.of("current", WORDS, "wanted", wanted)))
                        .status())
                .isEqualTo(200);
        assertThat(list(session)).isEqualTo(401);
        assertThat(signIn("signe", WORDS).status()).isEqualTo(401);
        assertThat(signIn("signe", wanted).status()).isEqualTo(200);
    }

    @Test
    void nobodyWithoutARoleOpensACase() {
        put("stranger", Map.of("roles", List.of(), "password", WORDS));
        Http.Answer answer = token("stranger")
                .post(
                        "/api/cases",
                        "{\"kind\":\"refund\",\"subject\":\"x\",\"text\":\"y\",\"fields\":{\"booking\":\"SK-47001\"}}");
        assertThat(answer.status()).as(answer.body()).isIn(403, 422);
    }

    @Test
    void nobodyIsOfferedAKindThatIsNotForThem() {
        assertThat(household.as("ines").get("/api/handbook/kinds").toString())
                .contains("\"refund\"")
                .doesNotContain("\"joiner\"")
                .doesNotContain("\"pay-question\"");
        assertThat(household.as("ewan").get("/api/handbook/kinds").toString()).contains("\"pay-question\"");
        Http.Answer joiner = Http.as(household, "ines")
                .post(
                        "/api/cases",
                        "{\"kind\":\"joiner\",\"subject\":\"x\",\"text\":\"y\",\"fields\":{\"account\":\"E-217\"}}");
        assertThat(joiner.status()).as(joiner.body()).isEqualTo(403);
        assertThat(joiner.body()).doesNotContain("E-217");
    }

    @Test
    void oneRequesterDoesNotFloodTheHouse() {
        for (int i = 0; i < 6; i++) {
            household.openRefund("edda", "SK-69000" + i);
        }
        Http.Answer more = Http.as(household, "edda")
                .post(
                        "/api/cases",
                        "{\"kind\":\"refund\",\"subject\":\"x\",\"text\":\"y\",\"fields\":{\"booking\":\"SK-690009\"}}");
        assertThat(more.status()).as(more.body()).isEqualTo(429);
        assertThat(household.openRefund("tomas", "SK-690010"))
                .as("the others go on")
                .startsWith("C-");
    }

    @Test
    void liveChangesTellNobodyOfWhatTheyMayNotSee() throws Exception {
        HttpResponse<InputStream> stream = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(household.url().resolve("/api/live"))
                                .header("Accept", "text/event-stream")
                                .header("Authorization", "Bearer " + household.token("bram"))
                                .build(),
                        HttpResponse.BodyHandlers.ofInputStream());
        String others = household.openRefund("ines", "SK-690011");
        String othersApproval = household.approvalOf(others);
        String own = household.openRefund("bram", "SK-690012");
        BufferedReader lines = new BufferedReader(new InputStreamReader(stream.body(), StandardCharsets.UTF_8));
        StringBuilder heard = new StringBuilder();
        for (String line = lines.readLine(); line != null; line = lines.readLine()) {
            heard.append(line).append('\n');
            if (line.contains(own)) {
                break;
            }
        }
        stream.body().close();
        assertThat(heard.toString()).contains(own).doesNotContain(others).doesNotContain(othersApproval);
    }

    @Test
    void changesAndSignInsAreOnTheTrailAndWhatIsPersonalIsADigest() {
        somebody("marit");
        put("marit", Map.of("email", "marit@skerryline.example", "account", "E-900", "manager", "osei"));
        put("marit", Map.of("manager", "lucja"));
        signIn("marit", "wrong words here");
        session("marit");
        for (int i = 0; i < 12; i++) {
            signIn("marit", "wrong words here");
        }
        String trail = trail();
        assertThat(trail)
                .contains("signed-in")
                .contains("sign-in-refused")
                .contains("locked-out")
                .containsPattern("manager[^\\n]*osei[^\\n]*lucja")
                .doesNotContain("marit@skerryline.example")
                .doesNotContain("wrong words here");
    }

    @Test
    void theTokenOfTheFirstStartOnlyMakesItsOwnerAnother() throws Exception {
        try (Fresh fresh = new Fresh()) {
            String token = Files.readString(fresh.data().resolve("admin.token")).strip();
            Http first = new Http(fresh.url()).with("Authorization", "Bearer " + token);
            assertThat(first.get("/api/people").status()).isEqualTo(403);
            assertThat(first.send("PUT", "/api/people/mallory", "{\"roles\":[\"admin\"]}")
                            .status())
                    .isEqualTo(403);
            Http.Answer made = first.post("/api/people/admin/tokens", "{\"label\":\"desk\"}");
            assertThat(made.status()).as(made.body()).isEqualTo(201);
            assertThat(first.post("/api/people/admin/tokens", "{\"label\":\"again\"}")
                            .status())
                    .as("once")
                    .isEqualTo(401);
            assertThat(Files.exists(fresh.data().resolve("admin.token"))).isFalse();
            Http admin = new Http(fresh.url())
                    .with("Authorization", "Bearer " + made.json().path("token").asString());
            JsonNode people = admin.get("/api/people").json();
            assertThat(people).hasSize(1);
        }
    }

    /** A service that nobody has ever signed in to. */
    private static final class Fresh implements AutoCloseable {
        private final Path folder;
        private final ServiceProcess service;

        Fresh() throws Exception {
            folder = Files.createTempDirectory("servitor-fresh-");
            service = ServiceProcess.start(Trained.java(), Household.freePort(), data(), List.of());
            service.awaitReady(Household.PATIENCE);
        }

        Path data() {
            return folder.resolve("data");
        }

        URI url() {
            return service.url();
        }

        @Override
        public void close() {
            service.close();
        }
    }
}
