package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.cli.client.Client;
import servitor.standins.Tracker;
import tools.jackson.databind.JsonNode;

/** The same wish in other words, and in other languages, ends the same. */
class WordingsTests {
    private final Household household = Household.shared();
    private final Client teun = household.as("teun");
    private final Monitor monitor = new Monitor(household.url());

    private JsonNode detail(String id) {
        return teun.get("/api/cases/" + id);
    }

    private void awaitState(String id, String state) {
        Household.await(id + " " + state, () -> household.state(id).equals(state));
    }

    private String question(String approval) {
        return teun.get("/api/approvals/" + approval)
                .path("summary")
                .path("question")
                .asString();
    }

    private void decide(String who, String approval, String... more) {
        List<String> words =
                new java.util.ArrayList<>(List.of("--as", who, "approval", "decide", approval, "--approve"));
        words.addAll(List.of(more));
        Household.Said said = household.run(words.toArray(String[]::new));
        assertThat(said.code()).as(said.err()).isZero();
    }

    // kit

    private String wish(String text) {
        return household.open("ewan", "kit-wish", "Something for my work", text, Map.of());
    }

    private String planned(String id) {
        String plan = household.approvalOf(id);
        assertThat(question(plan)).isEqualTo("Bosun’s plan at ‘Supply it’: supply kit");
        decide("dagny", plan);
        return household.approvalOf(id);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "I need a handheld scanner for boarding passengers in the rain. | K-40",
                "My ticket scanner at the counter is dying, may I get a new one? | K-41",
                "A radio for the deck watch, please. | K-52",
                "Wet through every watch - could I have a foul-weather jacket? | K-77",
                "Ich brauche ein Lesegerät fürs Einsteigen, draußen bei Regen. | K-40",
                "Bitte ein neues Funkgerät für die Wache. | K-52",
                "J'ai besoin d'un lecteur de billets pour le guichet. | K-41",
                "Un talkie pour le pont, s'il vous plaît. | K-52",
                "Eine Jacke gegen die Gischt wäre gut. | K-77",
            })
    void aWishForKitIsMetWithTheThingThatIsMeant(String text, String item) {
        String id = wish(text);
        String gate = planned(id);
        assertThat(teun.get("/api/approvals/" + gate)
                        .at("/sheet/call/inputs/item")
                        .asString())
                .isEqualTo(item);
        decide("teun", gate);
        decide("teun", household.approvalOf(id));
        awaitState(id, "resolved");
        assertThat(household.standins.kit().supplied().values())
                .anyMatch(sent -> Objects.equals(sent.get("item"), item));
    }

    @Test
    void whichOfSeveralIsTheManagersChoice() {
        String id = wish("A scanner would help.");
        String choice = planned(id);
        assertThat(question(choice)).isEqualTo("Bosun asks: Which is meant?");
        assertThat(household.run("--as", "dagny", "approval", "show", choice).out())
                .contains("K-40 (Ticket scanner, splash-proof", "The agent is told your answer");
        decide("dagny", choice, "--form", "answer=K-41");
        String gate = household.approvalOf(id);
        assertThat(teun.get("/api/approvals/" + gate)
                        .at("/sheet/call/inputs/item")
                        .asString())
                .isEqualTo("K-41");
    }

    @Test
    void whatCostsMoreThanMayBeSpentIsNotOffered() {
        String id = wish("A laptop for the ticket office, please.");
        awaitState(id, "with-people");
        assertThat(detail(id).path("summary").path("title").asString()).isEqualTo("Kit for Ewan Mirza: laptop");
    }

    // kiosks

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "screen frozen",
                "no reaction to touch since the morning",
                "it hangs and takes no money",
                "ticket printing stuck at 40 %",
                "Bildschirm eingefroren",
                "reagiert nicht mehr",
                "écran figé depuis ce matin",
                "le terminal est bloqué",
            })
    void aFrozenKioskIsRestartedHoweverItIsTold(String what) throws Exception {
        String kiosk = "tarn-" + Math.floorMod(what.hashCode(), 1_000); // nobody else's case is about it
        household.standins.kiosks().set(kiosk, "frozen");
        String id =
                monitor.log("09:02 ERROR " + kiosk + " at Tarn: " + what + "\n").caseId();
        Household.await(
                "the monitor to be waited for",
                () -> detail(id).path("summary").path("waitingFor").asString("").contains(Monitor.INTAKE));
        assertThat(household.standins.kiosks().states()).containsEntry(kiosk, "up");
        monitor.sees(kiosk, "up", "up again after " + what);
        awaitState(id, "resolved");
    }

    @Test
    void aKioskWithoutPowerIsNotRestarted() throws Exception {
        household.standins.kiosks().set("fell-1", "dark");
        String id = monitor.log("09:02 ERROR fell-1 at Fell: screen frozen?\n").caseId();
        awaitState(id, "with-people");
        assertThat(household.run("--as", "teun", "trail", "show", "--case", id).out())
                .contains("kiosks.find-kiosk")
                .doesNotContain("Called kiosks.restart");
    }

    @Test
    void aKioskThatIsntThereIsAskedAboutAndGoneOnWithOnceItIs() throws Exception {
        String id =
                monitor.log("09:02 ERROR hestan-1 at Hestan: screen frozen\n").caseId();
        String asks = household.approvalOf(id);
        assertThat(question(asks)).startsWith("Lookout asks: ").endsWith("isn't there. Is it there now?");
        household.standins.kiosks().set("hestan-1", "frozen");
        decide("teun", asks, "--form", "answer=it is there now");
        Household.await(
                "the restart",
                () -> "up".equals(household.standins.kiosks().states().get("hestan-1")));
    }

    // repair orders

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            nullValues = "nothing",
            value = {
                "Radio dead | The radio on the bridge is dead. Breaker 14 is open, see the photo. | nothing",
                "Leak | There is a leak in the engine room, valve closed, picture below. | nothing",
                "Ramp | The bow ramp is stuck since Sandholm. | how it is isolated; a photo;",
                "Help | Something is broken, no photo yet. | where on board; how it is isolated; a photo;",
                "Pumpe | Pumpe im Maschinenraum undicht, Ventil zu, Foto anbei. | nothing",
                "Lampe | Die Lampe in der Kabine ist kaputt. Foto fehlt noch. | how it is isolated; a photo;",
                "Fuite | Fuite dans la salle des machines, vanne fermée, photo jointe. | nothing",
                "Panne | Le treuil sur le pont est en panne, voir photo. | how it is isolated;",
            })
    void whatARepairOrderLacksIsSaidInACommentThere(String title, String text, String lacks) throws Exception {
        String order = Scenes.post(
                        java.net
                                .URI
                                .create(Scenes.get(household.standins.control())
                                        .path("tracker")
                                        .asString())
                                .resolve("/orders"),
                        Map.of("by", "foreman", "ship", "Grey Heron", "title", title, "text", text))
                .path("order")
                .asString();
        Tracker tracker = household.standins.tracker();
        if (lacks == null) {
            String id = Household.await("the case of " + order, () -> caseOf(order));
            Household.await(
                    "the check of " + order,
                    () -> detail(id).path("relations").toString().contains("isolation-plan"));
            assertThat(tracker.order(order).get("comments")).asString().isEqualTo("[]");
        } else {
            Household.await(
                    "the comment on " + order,
                    () -> String.valueOf(tracker.order(order).get("comments"))
                            .contains("please add: " + lacks + " thank you"));
        }
    }

    private String caseOf(String order) {
        return teun.get("/api/cases?kind=repair-order&limit=200")
                .path("items")
                .valueStream()
                .filter(one -> one.path("subject").asString().startsWith(order + ":"))
                .map(one -> one.path("id").asString())
                .findFirst()
                .orElse(null);
    }
}
