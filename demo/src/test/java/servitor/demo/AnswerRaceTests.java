package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.RepeatedTest;
import servitor.core.json.Json;
import servitor.demo.Http.Answer;
import tools.jackson.databind.JsonNode;

/** Of things said about one approval at the same moment, one counts; whoever came second is told plainly what was faster. */
class AnswerRaceTests {
    private final Household household = Household.shared();

    /** A refund above the limit, which a duty manager decides. */
    private String call() {
        return household.approvalOf(household.openRefund("bram", "SK-51077"));
    }

    private JsonNode sheet(String approval) {
        return household.as("noor").get("/api/approvals/" + approval);
    }

    private Answer post(String person, String path, Map<String, ?> body) {
        return Http.as(household, person).post(path, Json.write(body));
    }

    private Answer says(String person, String approval, Map<String, ?> more) {
        Map<String, Object> body = new HashMap<>(more);
        body.put("digest", sheet(approval).path("digest").asString());
        return post(person, "/api/approvals/" + approval + "/answers", body);
    }

    @SafeVarargs
    private static List<Answer> atOnce(Supplier<Answer>... said) {
        List<CompletableFuture<Answer>> all =
                Stream.of(said).map(CompletableFuture::supplyAsync).toList();
        return all.stream().map(CompletableFuture::join).toList();
    }

    private List<JsonNode> trail(String approval) {
        String caseId = sheet(approval).at("/summary/caseId").asString();
        return household
                .as("noor")
                .get("/api/trail?limit=200&case=" + caseId)
                .path("items")
                .valueStream()
                .toList();
    }

    private long answersThatCount(String approval) {
        return trail(approval).stream()
                .filter(entry -> entry.path("what").asString().equals("approval-answered")
                        && entry.at("/data/approval").asString().equals(approval))
                .count();
    }

    @RepeatedTest(4)
    void anAnswerAgainstAStop() {
        String approval = call();
        String run = approval.substring(0, approval.lastIndexOf('-'));
        List<Answer> both = atOnce(
                () -> says("osei", approval, Map.of("decision", "decline", "reason", "Not now.")),
                () -> post("maren", "/api/runs/" + run + "/stop", Map.of("reason", "It pays twice.")));
        Answer answered = both.get(0);
        String state = sheet(approval).at("/summary/state").asString();
        if (answered.status() == 200) {
            assertThat(state).isEqualTo("declined");
        } else {
            assertThat(answered.status()).isEqualTo(409);
            assertThat(answered.detail()).contains("already withdrawn");
            assertThat(state).isEqualTo("withdrawn");
        }
        assertThat(answersThatCount(approval)).isEqualTo(answered.status() == 200 ? 1 : 0);
        assertThat(trail(approval))
                .as("what was declined or withdrawn is never paid")
                .noneMatch(entry -> entry.path("what").asString().equals("call-sent")
                        && entry.at("/data/tool").asString().equals("fares.pay-refund"));
    }

    @RepeatedTest(4)
    void anEditAgainstAnEdit() {
        String id = household.openRefund("tomas", "SK-47001");
        String approval = household.approvalOf(id);
        List<Answer> both = atOnce(
                () -> says("osei", approval, edited("Good day Tomas, no: that sailing went. Osei")),
                () -> says("sunniva", approval, edited("Good day Tomas, no: that sailing went. Sunniva")));
        assertThat(both.stream().map(Answer::status)).containsExactlyInAnyOrder(200, 409);
        Answer second = both.get(0).status() == 409 ? both.get(0) : both.get(1);
        assertThat(second.detail()).contains("already approved");
        String counted = both.get(0).status() == 200 ? "Osei" : "Sunniva";
        Household.await("the answer to be sent", () -> household.state(id).equals("resolved"));
        assertThat(household.run("--as", "tomas", "case", "show", id).out())
                .contains("that sailing went. " + counted)
                .doesNotContain("that sailing went. " + (counted.equals("Osei") ? "Sunniva" : "Osei"));
        assertThat(answersThatCount(approval)).isEqualTo(1);
    }

    private static Map<String, ?> edited(String text) {
        return Map.of("decision", "approve", "text", text);
    }

    @RepeatedTest(4)
    void anAnswerAgainstHandingItOver() {
        String approval = call();
        List<Answer> both = atOnce(
                () -> says("osei", approval, Map.of("decision", "decline", "reason", "Not now.")),
                () -> post("osei", "/api/approvals/" + approval + "/hand", Map.of("to", "lucja")));
        assertThat(both.get(0).status())
                .as("who handed it on may answer all the same")
                .isEqualTo(200);
        assertThat(both.get(1).status()).as(both.get(1).body()).isIn(200, 403, 409);
        if (both.get(1).status() != 200) {
            assertThat(both.get(1).detail()).containsAnyOf("already declined", "isn't open any more");
        }
        assertThat(sheet(approval).at("/summary/state").asString()).isEqualTo("declined");
        assertThat(answersThatCount(approval)).isEqualTo(1);
    }
}
