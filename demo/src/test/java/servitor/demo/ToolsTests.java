package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.core.json.Json;
import servitor.demo.Household.Said;
import tools.jackson.databind.JsonNode;

/** Pages that act on a directory, a kit store, a pay database and a crew register; and connections, tools and mandates by hand. */
class ToolsTests {
    private final Household household = Household.shared();

    private Said run(String... args) {
        return household.run(args);
    }

    private void decide(String person, String approval, String... more) {
        List<String> args = new ArrayList<>(List.of("--as", person, "approval", "decide", approval, "--approve"));
        args.addAll(List.of(more));
        Said said = run(args.toArray(String[]::new));
        assertThat(said.code()).as(said.err()).isZero();
    }

    private void awaitState(String id, String state) {
        Household.await(
                "case " + id + " to be " + state, () -> household.state(id).equals(state));
    }

    @Test
    void aLockedAccountIsOpenedOnceAPersonAgrees() {
        household.standins.directory().lock("E-217");
        String id = household.open("ewan", "locked-out", "I can't sign in", "It says locked.", Map.of());

        String first = household.approvalOf(id);
        assertThat(run("--as", "teun", "approval", "show", first).out())
                .contains(
                        "directory.unlock",
                        "account: E-217   [from lookup: person.account]",
                        "the agent works supervised");
        assertThat(household.standins.directory().isLocked("E-217")).isTrue();
        decide("teun", first);
        String second = household.approvalOf(id);
        assertThat(household.standins.directory().isLocked("E-217")).isFalse();
        decide("teun", second);
        awaitState(id, "resolved");
    }

    @Test
    void kitIsFoundChosenByTheManagerAndSuppliedOnce() {
        String id = household.open(
                "ewan",
                "kit-wish",
                "Something to scan tickets on deck",
                "I need something to scan tickets with.",
                Map.of());

        String plan = household.approvalOf(id);
        assertThat(run("--as", "dagny", "approval", "show", plan).out())
                .contains(
                        "Send one item of kit to a colleague by their account.",
                        "(kit.supply-kit), changes something, once")
                .contains(
                        "account: E-217",
                        "chosen when it comes to it: item",
                        "Nothing beyond this is done without asking again");
        Said unclear = run("--as", "dagny", "approval", "say", plan, "--text", "stop or go on?", "--yes");
        assertThat(unclear.code()).isEqualTo(1);
        assertThat(unclear.err()).contains("Read as ‘unclear’", "nothing is answered");
        assertThat(run("--as", "dagny", "approval", "say", plan, "--text", "Ja, mach weiter!", "--yes")
                        .out())
                .contains(plan + " is now approved.");
        String gate = household.approvalOf(id);
        assertThat(run("--as", "teun", "approval", "show", gate).out())
                .contains("kit.supply-kit", "item: K-40   [from model: wish.kit.0.item]");
        assertThat(run("--as", "teun", "case", "show", id).out())
                .contains(id + "  Kit for Ewan Mirza: scanner", "asked as ‘Something to scan tickets on deck’");
        assertThat(run("--as", "ewan", "case", "show", id).out())
                .as("the requester's subject stays theirs")
                .contains(id + "  Something to scan tickets on deck")
                .doesNotContain("Kit for Ewan");
        decide("teun", gate);
        decide("teun", household.approvalOf(id));
        awaitState(id, "resolved");
        assertThat(household.standins.kit().supplied().values())
                .filteredOn(sent -> sent.get("account").equals("E-217"))
                .singleElement()
                .satisfies(sent -> assertThat(sent.get("item")).isEqualTo("K-40"));
    }

    @Test
    void aJoinerGetsIntoGroupsEachOnItsOwnAndALaptopAfterApproval() {
        String id = household.open(
                "halvard", "joiner", "Runa joins", "Runa starts in December.", Map.of("account", "E-301"));

        decide("teun", household.approvalOf(id));
        decide("priya", household.approvalOf(id));
        awaitState(id, "resolved");
        assertThat(household.standins.directory().groupsOf("E-301"))
                .containsExactly("ticket-office", "rosters", "harbour-notices");
        assertThat(household.as("teun").get("/api/cases").toString())
                .as("a case of the people desk is nobody else's, asked or not")
                .doesNotContain(id);
    }

    @Test
    void whatWasSaidAtATerminalIsKeptBesideTheTrailForWhoeverMayReadTheEntry() {
        String id =
                household.open("halvard", "joiner", "Oke joins", "Oke joins as a mate.", Map.of("account", "E-305"));
        decide("teun", household.approvalOf(id));
        awaitState(id, "resolved");

        JsonNode entry = household.entryWithMaterial(id, "transcript");
        String seq = entry.path("seq").asString();
        Said said = run("--as", "priya", "trail", "material", seq);
        assertThat(said.out())
                .contains("> •••", "> SHOW E-305", "< PERSON E-305 CERTIFICATE 2027-02-28")
                .doesNotContain("anchor-watch");
        assertThat(Json.digest(said.out()))
                .isEqualTo(entry.path("data").path("material").asString());
        assertThat(run("--as", "priya", "case", "show", id).out())
                .contains("says of the sea medical: 2027-02-28.")
                .doesNotContain("written by a model");
        assertThat(run("--as", "priya", "trail", "show", "--case", id).out()).doesNotContain("READY>");
        assertThat(run("--as", "priya", "trail", "show", "--case", id, "--what", "transcript")
                        .out())
                .hasLineCount(1);
        assertThat(run("--as", "teun", "trail", "material", seq).code()).isEqualTo(1);
        assertThat(run("--as", "maren", "trail", "material", "1").err()).contains("refers to no text");
    }

    @Test
    void payslipsReachTheModelWithoutTheAccountNumberAndThePayrollLeadReadsFirst() {
        String id =
                household.open("ewan", "pay-question", "My October pay", "Why is it less than in September?", Map.of());

        String approval = household.approvalOf(id);
        assertThat(household.standins.models().asked())
                .filteredOn(prompt -> prompt.contains("1597.6"))
                .isNotEmpty()
                .allSatisfy(prompt -> assertThat(prompt).contains("[iban-1]").doesNotContain("XX12 0001"));
        assertThat(run("--as", "halvard", "approval", "show", approval).out()).contains("XX12 0001 0002 0217");
        decide("halvard", approval);
        awaitState(id, "resolved");
    }

    @Test
    void connectionsAreTestedAndNeverTellTheirSecrets() {
        for (String name : List.of("fares", "kit", "directory", "crew", "pay")) {
            assertThat(run("--as", "maren", "connection", "test", name).code())
                    .as(name)
                    .isZero();
        }
        assertThat(run("--as", "maren", "connection", "test", "fares").out())
                .contains("‘fares.find-sailing’ was called");
        assertThat(run("--as", "maren", "connection", "test", "models").out()).contains("models 1");
        Said list = run("--as", "admin", "connection", "list", "--json");
        assertThat(list.out())
                .contains("password as servitor")
                .doesNotContain("anchor-watch", "harbour-light", "pay-day", "sealed");
        Said trail = run("--as", "noor", "trail", "export");
        assertThat(trail.code()).isZero();
        assertThat(trail.out()).contains("connection").doesNotContain("anchor-watch", "harbour-light", "pay-day");
        assertThat(run("--as", "teun", "connection", "list").code()).isEqualTo(4);
    }

    @Test
    void anInputThatIsATextStaysOne() {
        Said tried = run("--as", "maren", "tool", "try", "kit.find-kit", "--arg", "word=2026");
        assertThat(tried.code()).as(tried.err()).isZero();
    }

    @Test
    void aKeyIsRenewedAndEverythingStillOpens() throws IOException {
        Path keys = household.data().resolve("keys");
        String before = Files.readString(keys);

        assertThat(run("--as", "admin", "connection", "renew-key").out()).contains("connection(s)");

        assertThat(Files.readString(keys)).isNotEqualTo(before).hasLineCount(1);
        assertThat(run("--as", "maren", "connection", "test", "directory").code())
                .isZero();
    }

    @Test
    void credentialsDontFollowAConnectionElsewhere() {
        Said moved = run("--as", "admin", "connection", "set", "crew", "tcp://198.51.100.7:23");

        assertThat(moved.code()).isNotZero();
        assertThat(moved.err()).contains("give its credentials again");
    }

    @Test
    void aConnectionThatDoesntSaySoLeadsIntoNoPrivateNetwork() {
        assertThat(run("--as", "admin", "connection", "set", "outside", "http://127.0.0.1:1")
                        .code())
                .isZero();
        Said tested = run("--as", "admin", "connection", "test", "outside");

        assertThat(tested.code()).isEqualTo(1);
        assertThat(tested.out()).contains("leads into a private network");
    }

    @Test
    void whatAgentsCouldDoIsSaidInWordsAndAsCsv() {
        assertThat(run("--as", "noor", "mandate", "table", "--agent", "steward").out())
                .contains("alone when args.account == requester.account; otherwise never");
        assertThat(run("--as", "noor", "mandate", "table", "--csv").out())
                .startsWith("\"agent\",\"tool\",\"effect\",\"reach\",\"words\"")
                .contains("\"bosun\",\"directory.unlock\",\"write\",\"asks\"");
    }

    @Test
    void aVerdictIsSaidWithoutACall() {
        String id = household.open("ines", "complaint", "The boat was cold", "It was cold.", Map.of());
        String[] call = {
            "--as",
            "maren",
            "mandate",
            "try",
            "purser",
            "fares.pay-refund",
            "--case",
            id,
            "--arg",
            "reference=SK-600915",
            "--arg",
            "amount=38.0",
            "--arg",
            "reason=goodwill"
        };

        assertThat(run(call).out()).startsWith("deny");
        List<String> withSource = new ArrayList<>(List.of(call));
        withSource.addAll(List.of("--source", "reference={\"owner\":\"P-1042\",\"paid\":38.0}"));
        assertThat(run(withSource.toArray(String[]::new)).out()).startsWith("allow");
        withSource.addAll(List.of("--origin", "reference=model"));
        assertThat(run(withSource.toArray(String[]::new)).out()).startsWith("ask Duty managers");
    }

    @Test
    void onlyToolsThatReadAreTriedOut() {
        assertThat(run("--as", "maren", "tool", "try", "kit.find-kit", "--arg", "word=radio")
                        .out())
                .contains("Deck radio");
        assertThat(run("--as", "maren", "tool", "try", "kit.supply-kit", "--arg", "item=K-40")
                        .code())
                .isEqualTo(4);
        assertThat(run("--as", "maren", "tool", "try", "pay.own-payslips", "--arg", "account=E-217")
                        .code())
                .isEqualTo(4);
        assertThat(run("--as", "maren", "tool", "try", "kit.find-kit").err()).contains("don't fit");
    }

    @Test
    void toolsAreImportedFromAServerAndAreSound(@TempDir Path folder) throws IOException {
        try (Stream<Path> files = Files.walk(Path.of("handbook"))) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                Path to = folder.resolve(Path.of("handbook").relativize(file).toString());
                Files.createDirectories(to.getParent());
                Files.copy(file, to);
            }
        }
        Said imported =
                run("--as", "maren", "tool", "import", "store", "--connection", "kit", "--into", folder.toString());
        assertThat(imported.code()).as(imported.err()).isZero();
        Said api = run(
                "tool",
                "import",
                "fare-desk",
                "--connection",
                "fares",
                "--openapi",
                folder.resolve("tools/fares.openapi.yaml").toString(),
                "--into",
                folder.toString());
        assertThat(api.code()).as(api.err()).isZero();

        assertThat(run("handbook", "check", folder.toString()).out()).contains("0 error(s)");
    }
}
