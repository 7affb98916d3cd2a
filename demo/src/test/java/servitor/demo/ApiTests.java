package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.demo.Http.Answer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The started service through its API: what it refuses, and how; who sees what; that its description is true. */
class ApiTests {
    private final Household household = Household.shared();

    private Http as(String person) {
        return Http.as(household, person);
    }

    private static String refund(String booking) {
        return "{\"kind\":\"refund\",\"subject\":\"Refund\",\"fields\":{\"booking\":\"" + booking + "\"}}";
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{\"kind\": | 400 | isn't JSON",
                "[] | 400 | The body",
                "{\"kind\":\"refund\",\"subject\":{}} | 400 | ‘subject’",
                "{\"kind\":\"refund\",\"subjct\":\"x\"} | 400 | ‘subjct’",
                "{\"subject\":\"x\"} | 422 | ‘kind’ is missing",
                "{\"kind\":\"refnd\",\"subject\":\"x\"} | 422 | known are complaint, isolation-check, joiner, kiosk-down, "
                        + "kiosk-round, kit-wish, locked-out, lost-thing, pay-question, refund, repair-order",
                "{\"kind\":\"refund\",\"subject\":\" \",\"fields\":{\"booking\":\"SK-48213\"}} | 422 | subject",
                "{\"kind\":\"refund\",\"subject\":\"x\"} | 422 | booking",
                "{\"kind\":\"refund\",\"subject\":\"x\",\"fields\":{\"booking\":7}} | 422 | booking",
                "{\"kind\":\"refund\",\"subject\":\"x\",\"fields\":{\"booking\":\"../etc\"}} | 422 | booking",
                "{\"kind\":\"refund\",\"subject\":\"x\",\"fields\":{\"booking\":\"SK-48213\",\"more\":1}} | 422 | more",
                "{\"kind\":\"refund\",\"subject\":\"x\",\"language\":\"<b>\",\"fields\":{\"booking\":\"SK-48213\"}} | 422 | language",
            })
    void aBadCaseIsAClearProblemAndStoresNothing(String body, int status, String words) {
        int before = as("noor").get("/api/cases?limit=200").json().path("items").size();
        Answer answer = as("ines").post("/api/cases", body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
        assertThat(answer.response().headers().firstValue("Content-Type"))
                .hasValueSatisfying(type -> assertThat(type).contains("application/problem+json"));
        assertThat(answer.detail()).contains(words);
        assertThat(answer.response().headers().firstValue("X-Request-Id")).isPresent();
        assertThat(as("noor").get("/api/cases?limit=200").json().path("items")).hasSize(before);
    }

    @Test
    void textsAndBodiesHaveASizeLimit() {
        String text = "{\"kind\":\"refund\",\"subject\":\"x\",\"fields\":{\"booking\":\"SK-48213\"},\"text\":\""
                + "a".repeat(20_001) + "\"}";
        assertThat(as("ines").post("/api/cases", text).detail()).contains("at most 20000 characters, this has 20001");
        assertThat(as("ines").post("/api/cases", "x".repeat(8_000_001)).status())
                .isEqualTo(413);
        assertThat(as("ines").post("/api/cases", "[".repeat(100_000)).status()).isEqualTo(400);
    }

    @Test
    void nobodyGetsInWithoutProvingWhoTheyAre() {
        assertThat(new Http(household.url()).get("/api/cases").status()).isEqualTo(401);
        assertThat(new Http(household.url())
                        .with("Authorization", "Bearer svt_wrong")
                        .get("/api/cases")
                        .status())
                .isEqualTo(401);
        assertThat(new Http(household.url())
                        .with("Authorization", "Basic b3NlaTp4")
                        .get("/api/session")
                        .status())
                .isEqualTo(401);
        assertThat(new Http(household.url())
                        .post("/api/session", "{\"person\":\"osei\",\"password\":\"wrong\"}")
                        .status())
                .isIn(401, 403);
    }

    @ParameterizedTest
    @CsvSource({
        "ines, GET, /api/people",
        "osei, GET, /api/people",
        "maren, PUT, /api/people/osei",
        "osei, POST, /api/handbook/editions",
        "osei, POST, /api/handbook/check",
        "sunniva, GET, /api/trail",
        "sunniva, GET, /api/trail/verification",
        "maren, GET, /api/trail/export",
        "ines, GET, /api/handbook/editions",
        "osei, POST, /api/people/lucja/tokens",
        "noor, PUT, /api/connections/fares",
        "osei, GET, /api/connections",
    })
    void aTokenWithoutTheRoleIsNotAllowed(String person, String method, String path) {
        String body = path.contains("handbook")
                ? "{\"files\":{}}"
                : path.contains("tokens")
                        ? "{\"label\":\"x\"}"
                        : path.contains("connections") ? "{\"url\":\"http://x\"}" : "{}";
        Answer answer = as(person).send(method, path, method.equals("GET") ? null : body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(403);
        assertThat(answer.title()).isEqualTo("Not allowed");
    }

    @Test
    void casesOfOtherDesksAndOtherPeopleDontExist() {
        String id = household.openRefund("ines", "SK-600900");
        for (String person : List.of("teun", "priya", "bram", "dagny")) {
            assertThat(as(person).get("/api/cases/" + id).status()).as(person).isEqualTo(404);
            assertThat(as(person).get("/api/cases?q=" + id).json().path("items"))
                    .as(person)
                    .isEmpty();
            assertThat(as(person).get("/api/cases/" + id + "/lanes").status())
                    .as(person)
                    .isEqualTo(404);
            assertThat(as(person).get("/api/trail?case=" + id).status())
                    .as(person)
                    .isEqualTo(404);
            assertThat(as(person)
                            .post("/api/cases/" + id + "/notes", "{\"text\":\"hi\"}")
                            .status())
                    .as(person)
                    .isEqualTo(404);
        }
        String run = as("osei")
                .get("/api/cases/" + id)
                .json()
                .path("runs")
                .get(0)
                .path("id")
                .asString();
        assertThat(as("teun").get("/api/runs/" + run).status()).isEqualTo(404);
        assertThat(as("ines").get("/api/runs/" + run).status()).isEqualTo(404);
        assertThat(as("ines").get("/api/cases/" + id).status()).isEqualTo(200);
        assertThat(as("ines").get("/api/cases/" + id + "/lanes").status()).isEqualTo(403);
        assertThat(as("ines")
                        .post("/api/cases/" + id + "/notes", "{\"text\":\"hi\",\"staff\":true}")
                        .status())
                .isEqualTo(403);
    }

    @Test
    void onlyTheDeskOpensCasesForOthersAndThenTheRequesterIsOnlyClaimed() {
        String body = refund("SK-600901").replace("{\"kind\"", "{\"requester\":\"bram\",\"kind\"");
        assertThat(as("ines").post("/api/cases", body).status()).isEqualTo(403);
        assertThat(as("teun").post("/api/cases", body).status()).isEqualTo(403);
        Answer opened = as("sunniva").post("/api/cases", body);
        assertThat(opened.status()).isEqualTo(201);
        assertThat(opened.json().path("summary").path("proof").asString()).isEqualTo("claimed");
    }

    @Test
    void whatIsMadeIsSaidWhereItIsAndWhoIsNobodyIsToldHowToSignIn() {
        Answer opened = as("ines").post("/api/cases", refund("SK-600984"));
        assertThat(opened.status()).isEqualTo(201);
        assertThat(opened.response().headers().firstValue("Location"))
                .contains(
                        "/api/cases/" + opened.json().path("summary").path("id").asString());
        Answer nobody = new Http(household.url()).get("/api/cases");
        assertThat(nobody.response().headers().firstValue("WWW-Authenticate")).contains("Bearer realm=\"servitor\"");
    }

    @Test
    void theSameKeyOpensACaseOnce() {
        String key = UUID.randomUUID().toString();
        Http ines = as("ines").with("Idempotency-Key", key);
        String first = ines.post("/api/cases", refund("SK-600902"))
                .json()
                .path("summary")
                .path("id")
                .asString();
        String second = ines.post("/api/cases", refund("SK-600902"))
                .json()
                .path("summary")
                .path("id")
                .asString();
        assertThat(second).isEqualTo(first);
        assertThat(ines.post("/api/cases", refund("SK-600903")).status()).isEqualTo(422);
        assertThat(as("bram")
                        .with("Idempotency-Key", key)
                        .post("/api/cases", refund("SK-600904"))
                        .json()
                        .path("summary")
                        .path("id")
                        .asString())
                .as("keys are a person's own")
                .isNotEqualTo(first);
    }

    @Test
    void aDecisionCountsOnceAndOnlyForWhatWasSeen() {
        String id = household.openRefund("ines", "SK-600905");
        String approval = household.approvalOf(id);
        String path = "/api/approvals/" + approval;
        assertThat(as("osei").get(path + "/answers").status())
                .as("looking decides nothing")
                .isEqualTo(405);
        assertThat(as("teun").get(path).status()).isEqualTo(404);
        assertThat(as("noor")
                        .post(path + "/answers", answer("approve", digest(path)))
                        .status())
                .isEqualTo(403);
        assertThat(as("osei")
                        .post(path + "/answers", answer("approve", "0".repeat(64)))
                        .title())
                .isEqualTo("It has changed");
        assertThat(as("osei")
                        .post(path + "/answers", answer("perhaps", digest(path)))
                        .status())
                .isEqualTo(422);
        assertThat(as("osei")
                        .post(path + "/answers", answer("decline", digest(path)))
                        .status())
                .isEqualTo(422);
        assertThat(as("osei")
                        .post(path + "/answers", answer("approve", digest(path)))
                        .status())
                .isEqualTo(200);
        Answer again = as("lucja").post(path + "/answers", answer("approve", digest(path)));
        assertThat(again.status()).isEqualTo(409);
        assertThat(again.title()).isEqualTo("Already decided");
        long refused = 0;
        for (JsonNode entry :
                as("noor").get("/api/trail?limit=200&case=" + id).json().path("items")) {
            refused += entry.path("what").asString().equals("answer-refused") ? 1 : 0;
        }
        assertThat(refused).as("every answer that didn't count is on the trail").isEqualTo(4);
    }

    private String digest(String path) {
        return as("osei").get(path).json().path("digest").asString();
    }

    private static String answer(String decision, String digest) {
        return "{\"decision\":\"" + decision + "\",\"digest\":\"" + digest + "\"}";
    }

    @Test
    void longListsComeInParts() {
        household.openRefund("ines", "SK-600906");
        household.openRefund("ines", "SK-600907");
        JsonNode first = as("noor").get("/api/cases?limit=1").json();
        JsonNode second = as("noor")
                .get("/api/cases?limit=1&cursor=" + first.path("next").asString())
                .json();
        assertThat(second.path("items").get(0).path("id").asString())
                .isNotEqualTo(first.path("items").get(0).path("id").asString());
        assertThat(as("noor").get("/api/cases?limit=0").status()).isEqualTo(422);
        assertThat(as("noor").get("/api/cases?cursor=x").status()).isEqualTo(422);
        assertThat(as("noor").get("/api/cases?q=%25").json().path("items"))
                .as("a percent sign is no wildcard")
                .isEmpty();
    }

    @Test
    void aBrokenPageIsRefusedWithItsFindingsAndNothingIsPublished() {
        int editions = as("maren").get("/api/handbook/editions").json().size();
        ObjectNode body = Json.object();
        body.putObject("files")
                .put("runbooks/x.md", "---\ntitle: [\n---\n## A\n```step\ncal: x\n```\n")
                .put("handbook.yaml", "title: x");
        Answer answer = as("maren").post("/api/handbook/editions", body.toString());
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.json().path("findings"))
                .isNotEmpty()
                .allSatisfy(
                        finding -> assertThat(finding.path("remedy").asString()).isNotEmpty());
        assertThat(as("maren").get("/api/handbook/editions").json()).hasSize(editions);
        body.putObject("files").put("../../etc/passwd", "x");
        assertThat(as("maren").post("/api/handbook/editions", body.toString()).detail())
                .contains("can't be a handbook file");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "listCases /api/cases", "today /api/today", "listApprovals /api/approvals",
                        "listApprovals /api/approvals?state=closed", "listTrail /api/trail",
                "verifyTrail /api/trail/verification", "listKinds /api/handbook/kinds",
                        "listEditions /api/handbook/editions", "showEdition /api/handbook/editions/1",
                        "currentSession /api/session",
                "showCase /api/cases/{case}", "lanes /api/cases/{case}/lanes", "showRun /api/runs/{run}",
                        "listRuns /api/runs", "showApproval /api/approvals/{approval}",
            })
    void answersAreAsTheDescriptionSays(String operation) {
        String id = household.openRefund("ines", "SK-6009" + (10 + Math.abs(operation.hashCode() % 80)));
        String approval = household.approvalOf(id);
        String run = approval.substring(0, approval.lastIndexOf('-'));
        String path = operation
                .split(" ")[1]
                .replace("{case}", id)
                .replace("{run}", run)
                .replace("{approval}", approval);
        Answer answer = as("noor").get(path);
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
        assertThat(Schemas.violations(responseSchema(operation.split(" ")[0]), answer.json()))
                .isEmpty();
    }

    /** The schema of an operation's 200 answer, with the components its references point into. */
    private JsonNode responseSchema(String operation) {
        JsonNode description =
                new Http(household.url()).get("/api/openapi.json").json();
        for (JsonNode path : description.path("paths")) {
            for (JsonNode method : path) {
                if (method.path("operationId").asString("").equals(operation)) {
                    JsonNode response = method.path("responses").path("200");
                    JsonNode named = response.has("$ref")
                            ? description.at(response.path("$ref").asString().substring(1))
                            : response;
                    ObjectNode schema = ((ObjectNode) named.path("content")
                                    .path("application/json")
                                    .path("schema"))
                            .deepCopy();
                    schema.set("components", description.path("components"));
                    return schema;
                }
            }
        }
        throw new AssertionError("no operation " + operation);
    }

    @Test
    void aSessionNeedsTheCsrfHeaderAndABadTokenIsNotSavedByASession() {
        Answer start = new Http(household.url()).get("/api/session");
        String csrf = cookie(start, "XSRF-TOKEN");
        Http browser =
                new Http(household.url()).with("Cookie", "XSRF-TOKEN=" + csrf).with("X-XSRF-TOKEN", csrf);
        Answer signedIn = browser.post("/api/session", "{\"person\":\"ines\",\"password\":\"" + Cast.PASSWORD + "\"}");
        assertThat(signedIn.status()).as(signedIn.body()).isEqualTo(200);
        String session = cookie(signedIn, "servitor");
        String csrfNow = signedIn.response().headers().allValues("set-cookie").stream()
                        .anyMatch(c -> c.startsWith("XSRF-TOKEN=") && !c.startsWith("XSRF-TOKEN=;"))
                ? cookie(signedIn, "XSRF-TOKEN")
                : csrf;
        Http with = new Http(household.url()).with("Cookie", "servitor=" + session + "; XSRF-TOKEN=" + csrfNow);
        assertThat(with.get("/api/cases").status()).isEqualTo(200);
        assertThat(with.post("/api/cases", refund("SK-600998")).status())
                .as("without the header")
                .isEqualTo(403);
        assertThat(with.with("X-XSRF-TOKEN", csrfNow)
                        .post("/api/cases", refund("SK-600998"))
                        .status())
                .isEqualTo(201);
        assertThat(with.with("Authorization", "Bearer nonsense")
                        .post("/api/cases", refund("SK-600999"))
                        .status())
                .isEqualTo(401);
        String attributes = signedIn.response().headers().allValues("set-cookie").stream()
                .filter(c -> c.startsWith("servitor="))
                .findFirst()
                .orElseThrow();
        assertThat(attributes).contains("HttpOnly").contains("SameSite=Lax");
    }

    private static String cookie(Answer answer, String name) {
        return answer.response().headers().allValues("set-cookie").stream()
                .filter(cookie -> cookie.startsWith(name + "=") && !cookie.startsWith(name + "=;"))
                .map(cookie -> cookie.substring(name.length() + 1, cookie.indexOf(';')))
                .findFirst()
                .orElseThrow(() -> new AssertionError("no cookie " + name));
    }

    @Test
    void consolePagesAreServedUnderTheirDeepLinksWithAStrictPolicy() {
        for (String path : List.of("/", "/today", "/cases", "/cases/C-1001", "/approvals/R-1001-6")) {
            Answer page = new Http(household.url()).with("Accept", "text/html").get(path);
            assertThat(page.status()).as(path).isEqualTo(200);
            assertThat(page.body()).contains("<div id=\"app\">");
            assertThat(page.response().headers().firstValue("Content-Security-Policy"))
                    .hasValueSatisfying(policy ->
                            assertThat(policy).contains("default-src 'self'").doesNotContain("unsafe"));
        }
        assertThat(new Http(household.url())
                        .with("Accept", "text/html")
                        .get("/api/nothing")
                        .status())
                .isEqualTo(401);
        assertThat(as("osei").get("/api/nothing").status()).isEqualTo(404);
    }

    @Test
    void whatTheConsoleIsMadeOfIsKeptAndWhatIsLongIsCompressed() {
        String page =
                new Http(household.url()).with("Accept", "text/html").get("/").body();
        java.util.regex.Matcher script =
                java.util.regex.Pattern.compile("/assets/[^\"]+\\.js").matcher(page);
        assertThat(script.find()).isTrue();
        Answer asset = new Http(household.url()).with("Accept-Encoding", "gzip").get(script.group());
        assertThat(asset.response().headers().firstValue("Cache-Control"))
                .hasValueSatisfying(kept -> assertThat(kept).contains("immutable", "max-age=31536000"));
        assertThat(asset.response().headers().firstValue("Content-Encoding")).contains("gzip");
        assertThat(new Http(household.url()).get("/").response().headers().firstValue("Cache-Control"))
                .as("the page itself isn't kept")
                .hasValueSatisfying(kept -> assertThat(kept).doesNotContain("immutable"));
        assertThat(new Http(household.url()).get("/assets/none.js").status()).isEqualTo(404);
    }

    @Test
    void secretsAreNeverTold() {
        String people = Http.as(household, "maren").get("/api/trail?limit=200").body();
        assertThat(people).doesNotContain("svt_").doesNotContain("{bcrypt}").doesNotContain(Cast.PASSWORD);
        assertThat(Map.of("osei", household.token("osei")))
                .allSatisfy((person, token) -> assertThat(token).startsWith("svt_"));
    }
}
