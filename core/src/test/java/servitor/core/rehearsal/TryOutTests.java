package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.read.RehearsalAnswers;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** A page tried out asks for what nobody has answered yet, one thing at a time, and reaches nothing. */
class TryOutTests {
    private static final Handbook DEMO =
            CheckedHandbook.of(DemoHandbook.files()).handbook();
    private static final Edition EDITION = new Edition(1, DEMO);

    private final List<JsonNode> answers = new ArrayList<>();
    private final Set<String> silent = new HashSet<>();

    private TryOut play(Rehearsal from) {
        return TryOut.play(EDITION, from, RehearsalAnswers.cues(answers), silent);
    }

    private void answer(String json) {
        answers.add(Json.read(json, JsonNode.class));
    }

    private static Rehearsal typed() {
        return RehearsalAnswers.of(
                "Typed", Json.read("{\"kind\":\"refund\",\"fields\":{\"booking\":\"SK-48213\"}}", JsonNode.class));
    }

    @Test
    void aTypedRequestIsAnsweredStepByStep() {
        Rehearsal typed = typed();
        TryOut first = play(typed);
        assertThat(first.open().sort()).isEqualTo(TryOut.Sort.TOOL);
        assertThat(first.open().what()).isEqualTo("fares.find-booking");
        assertThat(first.open().schema().path("properties").has("paid")).isTrue();
        answer("""
                {"tool":"fares.find-booking","gives":{"reference":"SK-48213","owner":"P-1042","passenger":"Ines","paid":300,
                "currency":"EUR","sailing":{"number":"S-1","ship":"Heron","from":"A","to":"B","departs":"2026-05-20T08:15",
                "state":"cancelled"}}}""");
        TryOut asked = play(typed);
        assertThat(asked.open().sort()).isEqualTo(TryOut.Sort.PEOPLE);
        assertThat(asked.open().shown().at("/call/inputs/amount").asInt()).isEqualTo(300);
        answer("{\"people\":\"Pay\",\"say\":\"approve\",\"by\":\"osei\"}");
        TryOut paying = play(typed);
        assertThat(paying.open().what()).isEqualTo("fares.pay-refund");
        answer(
                "{\"tool\":\"fares.pay-refund\",\"gives\":{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":300,\"currency\":\"EUR\"}}");
        TryOut writing = play(typed);
        assertThat(writing.open().sort()).isEqualTo(TryOut.Sort.MODEL);
        assertThat(writing.open().prompt()).isNotNull();
        answer("{\"model\":\"" + writing.open().step() + "\",\"gives\":{\"text\":\"It is paid.\"}}");
        TryOut wording = play(typed);
        assertThat(wording.open().sort()).isEqualTo(TryOut.Sort.PEOPLE);
        answer("{\"people\":\"" + wording.open().step() + "\",\"say\":\"approve\",\"by\":\"sunniva\"}");
        TryOut end = play(typed);
        assertThat(end.open()).isNull();
        assertThat(end.played().state()).isEqualTo("resolved");
        assertThat(end.played().told()).containsExactly("It is paid.");
    }

    @Test
    void aRehearsalAnswersForTheWorldAndPeopleAreOnlySuggested() {
        Rehearsal from = DEMO.rehearsals().get("refund-large");
        TryOut asked = play(from);
        assertThat(asked.open().sort()).isEqualTo(TryOut.Sort.PEOPLE);
        assertThat(asked.suggested()).isInstanceOf(Rehearsal.PeopleSay.class);
        answer("{\"people\":\"Pay\",\"say\":\"decline\",\"by\":\"osei\",\"reason\":\"Too much.\"}");
        TryOut declined = play(from);
        assertThat(declined.played().calls()).noneMatch(call -> call.tool().equals("fares.pay-refund"));
    }

    @Test
    void whatWasFoundOfACallInDoubtIsTheWorlds() {
        Rehearsal doubted = DEMO.rehearsals().get("joiner-laptop-in-doubt");
        List<Rehearsal.Cue> cues = new ArrayList<>(doubted.cues());
        JsonNode gave = Json.object().put("delivery", "D-1").put("item", "K-60").put("account", "E-310");
        cues.add(new Rehearsal.PeopleSay(
                "Send the laptop",
                Rehearsal.PeopleSay.HAPPENED,
                "teun",
                "",
                Map.of(),
                gave,
                Duration.ZERO,
                doubted.places().top()));
        Rehearsal found =
                new Rehearsal(doubted.name(), doubted.title(), doubted.about(), cues, doubted.must(), doubted.places());
        answer("{\"people\":\"Put them in\",\"say\":\"approve\",\"by\":\"teun\"}");
        answer("{\"people\":\"Send the laptop\",\"say\":\"approve\",\"by\":\"halvard\"}");
        assertThat(play(doubted).played().state()).isEqualTo("with-people");
        assertThat(play(found).played().state()).isEqualTo("resolved");
    }

    @Test
    void whereNobodyAnswersTimePasses() {
        Rehearsal from = DEMO.rehearsals().get("refund-large");
        silent.add(play(from).open().id());
        TryOut passed = play(from);
        assertThat(passed.played().trail().toString()).contains("approval-expired");
    }

    @Test
    void whatIsntAnAnswerIsRefusedWithWhatIsWrong() {
        answer("{\"person\":\"Pay\"}");
        assertThatThrownBy(() -> play(typed())).hasMessageContaining("This doesn't say who answers");
        answers.clear();
        answer("{\"model\":\"Pay\",\"gievs\":1}");
        assertThatThrownBy(() -> play(typed())).hasMessageContaining("gievs");
    }

    @Test
    void everyRehearsalCanBeTriedAndLeadsToTheSamePlaceEachTime() {
        DEMO.rehearsals().values().forEach(from -> {
            TryOut one = play(from);
            TryOut other = play(from);
            assertThat(one.played().faults()).as(from.name()).isEmpty();
            assertThat(one.open() == null ? "" : one.open().id())
                    .as(from.name())
                    .isEqualTo(other.open() == null ? "" : other.open().id());
        });
    }
}
