package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Test;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** The refund scene from end to end: every case ends where the page says, money is paid once, and the trail proves it. */
class SceneTests {

    @Test
    void everyCaseEndsWhereThePageSays() throws Exception {
        try (Household household = new Household()) {
            PrintStream silent = new PrintStream(OutputStream.nullOutputStream());
            List<String> cases = new RefundScene(household.profiles(), household.standins.control(), silent).play();
            String below = cases.get(0);
            String above = cases.get(1);
            String declined = cases.get(2);
            String sailed = cases.get(3);
            String unknown = cases.get(4);
            String claimed = cases.get(5);
            String outage = cases.get(6);

            Said list = household.run("--as", "osei", "approval", "list");
            assertThat(list.code()).isZero();
            assertThat(list.out())
                    .contains("Pay 310.00 EUR back for booking SK-51077 to Bram Okafor")
                    .contains("Send this answer?");

            approve(household, "osei", below);
            settled(household, below, "resolved");

            Said sheet = household.run("--as", "lucja", "approval", "show", household.approvalOf(above));
            assertThat(sheet.out())
                    .contains("fares.pay-refund")
                    .contains("amount: 310")
                    .contains("[from lookup: booking.paid]")
                    .contains("Duty managers");
            approve(household, "lucja", above);
            approve(household, "osei", above);
            settled(household, above, "resolved");

            Said refused = household.run(
                    "--as",
                    "osei",
                    "approval",
                    "decide",
                    household.approvalOf(declined),
                    "--decline",
                    "--reason",
                    "They were carried on the next sailing.");
            assertThat(refused.code()).isZero();
            approve(household, "sunniva", declined);
            settled(household, declined, "resolved");
            assertThat(answerIn(household, declined, "edda"))
                    .startsWith("Guten Tag Edda")
                    .contains("They were carried on the next sailing.");

            approve(household, "sunniva", sailed);
            settled(household, sailed, "resolved");
            assertThat(answerIn(household, sailed, "tomas")).contains("ran as planned");

            settled(household, unknown, "with-people");
            assertThat(household.run("--as", "osei", "case", "show", unknown).out())
                    .contains("not-found")
                    .contains("for staff");

            approve(household, "osei", claimed); // the lookup
            approve(household, "osei", claimed); // the payment
            approve(household, "osei", claimed); // the wording
            approve(household, "osei", claimed); // the sending
            settled(household, claimed, "resolved");

            approve(household, "osei", outage);
            settled(household, outage, "resolved");
            assertThat(household
                            .run("--as", "noor", "trail", "show", "--case", outage)
                            .out())
                    .contains("try-again")
                    .contains("can't be reached");

            assertThat(household.standins.fares().refunds().stream()
                            .map(refund -> refund.path("reference").asString()))
                    .containsExactlyInAnyOrder("SK-48213", "SK-51077", "SK-48400", "SK-48377");
            theTrailHolds(household);
        }
    }

    private static void approve(Household household, String person, String caseId) {
        Said said = household.run("--as", person, "approval", "decide", household.approvalOf(caseId), "--approve");
        assertThat(said.code()).as(said.err()).isZero();
    }

    private static void settled(Household household, String caseId, String state) {
        Household.await(
                caseId + " to be " + state, () -> household.state(caseId).equals(state));
    }

    private static String answerIn(Household household, String caseId, String requester) {
        JsonNode notes = household.as(requester).get("/api/cases/" + caseId).path("notes");
        return StreamSupport.stream(notes.spliterator(), false)
                .filter(note -> note.path("written").asBoolean())
                .findFirst()
                .orElseThrow()
                .path("text")
                .asString();
    }

    private static void theTrailHolds(Household household) throws Exception {
        Said verified = household.run("--as", "noor", "trail", "verify");
        assertThat(verified.code()).isZero();
        assertThat(verified.out()).contains("The trail holds");
        Path export = household.folder.resolve("trail.jsonl");
        assertThat(household
                        .run("--as", "noor", "trail", "export", "--out", export.toString())
                        .code())
                .isZero();
        assertThat(household.run("trail", "verify", "--file", export.toString()).code())
                .isZero();
        List<String> lines = Files.readAllLines(export);
        Files.write(export, lines.subList(0, lines.size() - 1));
        Said early = household.run("trail", "verify", "--file", export.toString());
        assertThat(early.code()).as("an export that ended early").isEqualTo(1);
        assertThat(early.out()).contains("its last line is missing");
        Files.write(export, lines.subList(1, lines.size() - 1));
        Said earlier = household.run("trail", "verify", "--file", export.toString());
        assertThat(earlier.code()).as("one of an earlier version").isZero();
        assertThat(earlier.out()).contains("exported by an earlier version");
        String paid = lines.stream()
                .filter(line -> line.contains("\"call-sent\"") && line.contains("pay-refund"))
                .findFirst()
                .orElseThrow();
        int at = lines.indexOf(paid);
        lines.set(at, paid.replace("pay-refund", "pay-nobody"));
        Files.write(export, lines);
        Said altered = household.run("trail", "verify", "--file", export.toString());
        assertThat(altered.code()).isEqualTo(1);
        assertThat(altered.out()).contains("Entry " + at + ":").contains("its data was altered");
    }
}
