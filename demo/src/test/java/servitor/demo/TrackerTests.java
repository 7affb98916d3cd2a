package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.io.PrintStream;
import java.util.List;
import org.junit.jupiter.api.Test;
import servitor.cli.client.Client;
import servitor.standins.Tracker;
import tools.jackson.databind.JsonNode;

/** A case that mirrors an order of the yard's tracker, and the task that it has opened. */
class TrackerTests {
    private final Household household = Household.shared();
    private final Client teun = household.as("teun");

    private JsonNode summary(String id) {
        return teun.get("/api/cases/" + id).path("summary");
    }

    @Test
    @SuppressWarnings("unchecked") // the stand-in tells of an order as a map
    void anOrderIsMirroredAnsweredAndWaitsForItsTask() throws Exception {
        PrintStream silent = new PrintStream(OutputStream.nullOutputStream());
        var scene = new TrackerScene(household.profiles(), household.standins.control(), silent).play();
        Tracker tracker = household.standins.tracker();
        assertThat((List<String>) tracker.order(scene.order()).get("labels")).containsExactly("with-skerry");
        assertThat(summary(scene.task()).path("owner").path("id").asString()).isEqualTo("it-resolvers");
        assertThat(teun.get("/api/today").path("owned").findValuesAsString("id"))
                .contains(scene.task());

        assertThat(household
                        .run("--as", "teun", "case", "resolve", scene.task(), "--how", "It is right.")
                        .code())
                .isZero();
        String approval = household.approvalOf(scene.caseId());
        assertThat(household
                        .run("--as", "teun", "approval", "decide", approval, "--approve")
                        .code())
                .isZero();
        Household.await(
                "the order",
                () -> summary(scene.caseId()).path("state").asString().equals("resolved"));
        assertThat(tracker.order(scene.order())).containsEntry("state", "ready");
        assertThat((List<String>) tracker.order(scene.order()).get("labels")).isEmpty();

        JsonNode detail = teun.get("/api/cases/" + scene.caseId());
        assertThat(detail.path("relations").toString())
                .contains("\"what\":\"order\",\"other\":\"" + scene.order() + "\"")
                .contains("\"other\":\"" + scene.task() + "\",\"subject\":\"Check the isolation plan");
        assertThat(detail.path("notes")
                        .valueStream()
                        .map(note -> note.path("text").asString()))
                .as("what the foreman wrote, and none of our own")
                .hasSize(1)
                .allMatch(text -> text.contains("Breaker 14"));
    }

    @Test
    void changesOfOurOwnThatComeBackDoNothing() throws Exception {
        PrintStream silent = new PrintStream(OutputStream.nullOutputStream());
        var scene = new TrackerScene(household.profiles(), household.standins.control(), silent).play();
        Household.await(
                "what came back",
                () -> teun.get("/api/intake/repair-orders/events")
                                .path("events")
                                .valueStream()
                                .filter(event -> event.path("became").asString().equals("left-out"))
                                .count()
                        >= 2);
        long mirrors = teun.get("/api/cases?kind=repair-order&limit=200")
                .path("items")
                .valueStream()
                .filter(one -> one.path("subject").asString().startsWith(scene.order() + ":"))
                .count();
        assertThat(mirrors).isEqualTo(1);
    }
}
