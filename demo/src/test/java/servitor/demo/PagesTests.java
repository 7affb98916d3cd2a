package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** The demo's other pages, as people meet them: judging, feedback, replies, forms, followed pages, several languages. */
class PagesTests {
    private final Household household = Household.shared();

    private String approve(String caseId, String... more) {
        String approval = household.approvalOf(caseId);
        decide(approval, "--approve", more);
        return approval;
    }

    private void decide(String approval, String decision, String... more) {
        List<String> args =
                new java.util.ArrayList<>(List.of("--as", "osei", "approval", "decide", approval, decision));
        args.addAll(List.of(more));
        Said said = household.run(args.toArray(String[]::new));
        assertThat(said.code()).as(said.err()).isZero();
    }

    private void awaitsReply(String id) {
        Household.await(
                "the run to wait for a reply",
                () -> household
                        .as("noor")
                        .get("/api/cases/" + id)
                        .path("summary")
                        .path("waitingFor")
                        .asString("")
                        .contains("reply"));
    }

    @Test
    void aComplaintIsJudgedAnsweredByAFollowedPageAndWaitsForAReply() {
        String id =
                household.open("edda", "complaint", "The boat was late", "Two hours late. Unacceptable!!", Map.of());
        String first = household.approvalOf(id);
        JsonNode shown = household.as("osei").get("/api/cases/" + id);
        assertThat(shown.path("summary").path("priority").asString()).isEqualTo("high");
        assertThat(shown.path("labels").path(0).asString()).isEqualTo("delay");
        assertThat(shown.path("runs")).as("the page and the one it follows").hasSize(2);

        decide(first, "--feedback", "Mention the topic.");
        String second = household.approvalOf(id);
        assertThat(second).isNotEqualTo(first);
        Said sheet = household.run("--as", "osei", "approval", "show", second);
        assertThat(sheet.out()).contains("The topic: delay.").contains("sent back 1 more times");
        decide(second, "--approve");

        Household.await("the answer to be told", () -> household.state(id).equals("waiting"));
        awaitsReply(id);
        household.run("--as", "edda", "case", "reply", id, "--text", "And it was cold.");
        Household.await("a person to have it", () -> household.state(id).equals("with-people"));
    }

    @Test
    void somethingLostIsAskedAboutFoundPickedWithAFormAndToldInTheirLanguage() {
        String id = household.open(
                "tomas", "lost-thing", "My scarf", "I left my scarf on board.", Map.of("thing", "a woollen scarf"));
        approve(id);
        awaitsReply(id);
        household.run("--as", "tomas", "case", "reply", id, "--text", "It is red, lost on 2026-11-22.");
        String pick = household.approvalOf(id);
        assertThat(household
                        .run("--as", "osei", "approval", "decide", pick, "--approve")
                        .err())
                .contains("Fill in the form first");
        decide(pick, "--approve", "--form", "number=F-17", "--form", "sure=yes");
        Household.await(
                "the news to be written", () -> !household.approvalOf(id).equals(pick));
        String news = approve(id, "--edit", "news.en=Good day Tomas, your scarf F-17 waits at Aldermouth.");
        Household.await("the case to be resolved", () -> household.state(id).equals("resolved"));
        assertThat(household.run("--as", "tomas", "case", "show", id).out())
                .contains("your scarf F-17 waits at Aldermouth");
        assertThat(household.run("--as", "osei", "approval", "show", news).out())
                .contains("news.de");
    }

    @Test
    void pagesStartByHandAndStopWithAReason() {
        String id = household.open(
                "edda", "complaint", "Rude crew", "The crew was rude to us, please look into it.", Map.of());
        Household.await("a person to have it", () -> household.state(id).equals("with-people"));
        assertThat(household
                        .run("--as", "sunniva", "run", "start", id, "answer-in-writing")
                        .err())
                .contains("takes inputs");
        assertThat(household
                        .run("--as", "ines", "run", "start", id, "lost-property")
                        .code())
                .isEqualTo(1);
        assertThat(household
                        .run("--as", "sunniva", "run", "start", id, "complaint-answer")
                        .code())
                .isZero();
        Household.await("it to come back", () -> household.state(id).equals("with-people"));
        String lost = household.open("tomas", "lost-thing", "Keys", "My keys are gone.", Map.of("thing", "keys"));
        String run = household
                .as("osei")
                .get("/api/cases/" + lost)
                .path("runs")
                .path(0)
                .path("id")
                .asString();
        household.approvalOf(lost);
        assertThat(household
                        .run("--as", "sunniva", "run", "stop", run, "--reason", "found in the pocket")
                        .code())
                .isZero();
        assertThat(household.state(lost)).isEqualTo("with-people");
        assertThat(household.run("--as", "osei", "approval", "list").out()).doesNotContain(run + "-");
    }

    @Test
    void documentsAndEventsComeToACase() throws Exception {
        String id = household.open("tomas", "complaint", "Hat", "My hat.", Map.of());
        Path file = Files.writeString(household.folder.resolve("hat.txt"), "A grey hat.");
        Said attached = household.run("--as", "tomas", "case", "attach", id, file.toString(), "--type", "text/plain");
        assertThat(attached.code()).as(attached.err()).isZero();
        assertThat(household.run("--as", "sunniva", "case", "show", id).out())
                .contains("hat.txt (text/plain, 11 bytes)");
        String document = household
                .as("tomas")
                .get("/api/cases/" + id)
                .path("documents")
                .path(0)
                .path("id")
                .asString();
        assertThat(household
                        .run("--as", "tomas", "document", "text", id, document)
                        .out())
                .contains("text/plain: It was read.", "A grey hat.");
        assertThat(household
                        .run("--as", "tomas", "document", "tables", id, document)
                        .out())
                .contains("No tables.");
        assertThat(household.run("--as", "sunniva", "document", "list", id).out())
                .contains("hat.txt", "text");
        assertThat(household
                        .run("--as", "ines", "case", "attach", id, file.toString())
                        .code())
                .as("somebody else's case")
                .isEqualTo(1);
        assertThat(household
                        .run("--as", "sunniva", "case", "event", id, "boat-arrived")
                        .out())
                .contains("no run waits");
        assertThat(household
                        .run("--as", "tomas", "case", "event", id, "boat-arrived")
                        .code())
                .as("requesters don't report events")
                .isEqualTo(4);
    }
}
