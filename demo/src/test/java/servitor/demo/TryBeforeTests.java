package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.json.Json;
import servitor.demo.Household.Said;

/** An engineer makes a rehearsal of a case, and sees what a change would have made of past ones, through the started service. */
class TryBeforeTests {
    private final Household household = Household.shared();

    @TempDir
    Path folder;

    private String paid(String booking) {
        String id = household.openRefund("ines", booking);
        String approval = household.approvalOf(id);
        household.run("--as", "osei", "approval", "decide", approval, "--approve");
        Household.await("the end", () -> household.state(id).equals("resolved"));
        return id;
    }

    @Test
    void aCaseBecomesARehearsalThatNamesNobodyAndPlays() throws IOException {
        String id = paid("SK-688701");
        Path book = folder.resolve("book");
        assertThat(household
                        .run("--as", "maren", "handbook", "new", book.toString(), "--from-current")
                        .code())
                .isZero();
        Said made = household.run("--as", "maren", "case", "rehearse", id, "--into", book.toString());
        assertThat(made.code()).as(made.err()).isZero();
        String name = "from-" + id.toLowerCase(Locale.ROOT);
        String text = Files.readString(book.resolve("rehearsals/" + name + ".yaml"));
        assertThat(text)
                .doesNotContain("Ines", "Halloran", "P-1042", "SK-688701")
                .contains("tool: fares.pay-refund", "end: resolved");
        Said played = household.run("handbook", "rehearse", book.toString(), name);
        assertThat(played.code()).as(played.out()).isZero();
        assertThat(household
                        .run("--as", "maren", "case", "rehearse", id, "--into", book.toString())
                        .code())
                .as("the same again changes nothing")
                .isZero();
        Files.writeString(book.resolve("rehearsals/" + name + ".yaml"), text + "# mine\n");
        assertThat(household
                        .run("--as", "maren", "case", "rehearse", id, "--into", book.toString())
                        .code())
                .as("what somebody wrote stays")
                .isEqualTo(1);
    }

    @Test
    void whatAChangeWouldHaveMadeOfThePastIsNamedCaseByCase() throws IOException {
        String id = paid("SK-688702");
        Path book = folder.resolve("book");
        household.run("--as", "maren", "handbook", "new", book.toString(), "--from-current");
        Path mandate = book.resolve("mandates/purser.yaml");
        Files.writeString(mandate, Files.readString(mandate).replace("args.amount <= 120.0", "args.amount <= 1.0"));
        Said looked = household.run(
                "--as",
                "maren",
                "handbook",
                "look-back",
                book.toString(),
                "--since",
                "1d",
                "--page",
                "cancelled-sailing-refund");
        assertThat(looked.code()).as(looked.err()).isZero();
        assertThat(looked.out().lines())
                .anyMatch(line -> line.startsWith(id)
                        && line.contains("the mandate says ‘allow’ of ‘fares.pay-refund’")
                        && line.endsWith("the mandate says ‘ask’ of ‘fares.pay-refund’"));
        var beside = household.as("maren").get("/api/handbook/look-back/cases/" + id);
        assertThat(beside.path("step").asString()).isEqualTo("pay");
        assertThat(beside.path("before").toString()).contains("Called fares.pay-refund");
        assertThat(beside.path("after").toString())
                .doesNotContain("Called fares.pay-refund")
                .contains("Asked Duty managers");
        assertThat(household
                        .run("--as", "maren", "handbook", "look-back", "nowhere")
                        .code())
                .isEqualTo(2);
        assertThat(Http.as(household, "maren")
                        .post("/api/handbook/look-back", Json.write(Map.of("days", 0)))
                        .status())
                .isEqualTo(422);
    }

    @Test
    void otherLimitsSayWhatTheyWouldHaveLetThroughAlone() {
        paid("SK-688703");
        Said tried = household.run(
                "--as", "maren", "mandate", "what-if", "purser", "small refunds", "--try", "500,1", "--since", "1d");
        assertThat(tried.code()).as(tried.err()).isZero();
        List<String> lines = tried.out().lines().toList();
        assertThat(lines.get(0)).contains("LIMIT", "APPROVALS SAVED", "OF THOSE DECLINED");
        assertThat(lines.get(1)).as("nothing is alone").matches("1 +[1-9]\\d* +[1-9]\\d* +0 +0 +0 +0(\\.0)?\\s*");
        assertThat(lines.get(2)).startsWith("500 ").doesNotMatch("500 +\\d+ +\\d+ +0 .*");
        assertThat(tried.out()).contains("Not known: how people would have behaved");
        assertThat(household
                        .run("--as", "maren", "mandate", "what-if", "purser", "no such grant", "--try", "1")
                        .err())
                .contains("No mandate of ‘purser’ has a grant ‘no such grant’");
    }

    @Test
    void casesOfOtherDesksAreNobodysToLookBackAt() {
        String id = household.open("ewan", "pay-question", "My bonus", "Where is my bonus?", Map.of());
        assertThat(Http.as(household, "maren")
                        .get("/api/cases/" + id + "/rehearsal")
                        .status())
                .isEqualTo(404);
        household.run("--as", "maren", "handbook", "look-back", "draft", "--since", "1d");
        assertThat(household.as("maren").get("/api/handbook/look-back").toString())
                .doesNotContain(id);
    }
}
