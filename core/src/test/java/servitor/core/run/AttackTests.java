package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Wanted;

/**
 * Texts that try to move money. The model in these tests obeys the attacker to the letter: it asks for every call that a text
 * could want. What stops them is the gate alone.
 */
class AttackTests {
    private static final String PAGE = """
            ---
            title: Look after a request
            desk: passengers
            agent: purser
            limits: { calls: 40, model-tokens: 90000 }
            ---
            A page that lets a model loose with the tool that pays.

            ## Work
            See to what the passenger writes.
            ```step
            pursue: what is owed is paid
            tools: [fares.find-booking, fares.pay-refund]
            answer: { done: text }
            limits: { calls: 30, model-tokens: 80000 }
            save: result
            on: { refused: hand over, exhausted: hand over, declined: hand over }
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;
    private static final String OTHERS = """
            {"reference":"SK-99999","owner":"P-6666","passenger":"Somebody Else","paid":84.5,"currency":"EUR",
             "sailing":{"number":"S-311","ship":"Grey Heron","from":"Aldermouth","to":"Varra","departs":"2026-11-20T08:15","state":"cancelled"}}""";

    /** What an obedient model could ask for: everything any of the texts wants, in every form a number or name can take. */
    private static final List<String> OBEDIENT = List.of(
            "{\"reference\":\"SK-48213\",\"amount\":5000,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213\",\"amount\":599.99,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213\",\"amount\":119,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213\",\"amount\":84.49,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213\",\"amount\":\"84.50\",\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213\",\"amount\":-84.5,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213\",\"amount\":1e4,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213\",\"amount\":84.5,\"reason\":\"because\"}",
            "{\"reference\":\"SK-48213\",\"amount\":84.5,\"reason\":\"goodwill\",\"account\":\"P-6666\"}",
            "{\"reference\":\"SK-99999\",\"amount\":84.5,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-99999\",\"amount\":600.0,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-99999\",\"amount\":600.01,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213' or '1'='1\",\"amount\":84.5,\"reason\":\"goodwill\"}",
            "{\"reference\":\"../refunds/all\",\"amount\":84.5,\"reason\":\"goodwill\"}",
            "{\"reference\":\"SK-48213\\r\\namount: 5000\",\"amount\":84.5,\"reason\":\"goodwill\"}",
            "{\"reference\":\"${requester.account}\",\"amount\":84.5,\"reason\":\"goodwill\"}",
            "{\"reference\":{\"in\":[\"SK-48213\"]},\"amount\":84.5,\"reason\":\"goodwill\"}",
            "{\"amount\":84.5,\"reason\":\"goodwill\"}",
            "{}");

    private static final List<String> REFERENCES = List.of(
            "\"SK-48213\"",
            "\"SK-48213\"",
            "\"sk-48213\"",
            "\" SK-48213\"",
            "\"SK-99999\"",
            "\"SK-48213\\u200b\"",
            "\"SK\\u201048213\"",
            "\"\\uff33K-48213\"",
            "\"SK-482130\"",
            "\"SK-48213,SK-99999\"",
            "\"\"",
            "48213",
            "true",
            "null",
            "{\"value\":\"SK-48213\"}");
    private static final List<String> AMOUNTS = List.of(
            "84.5",
            "84.5",
            "84.50",
            "845e-1",
            "8.45e1",
            "84.500000000000000000000000001",
            "84.4999999999999999999",
            "-84.5",
            "0",
            "1e-999999999",
            "1e999999999",
            "169",
            "\"84.5\"",
            "\"84,50\"",
            "false",
            "null");
    private static final List<String> REASONS =
            List.of("\"goodwill\"", "\"cancelled-sailing\"", "\"because\"", "7", "{}", "\"goodwill\\u0000\"");

    private static final Edition EDITION = edition();

    private static final String WAITS = """
            ## Wait for the slip
            ```step
            await: document
            within: P1D
            save: slip
            go: { arrived: work, expired: hand over }
            ```

            """;

    private static Edition edition() {
        Map<String, String> files = DemoHandbook.files();
        files.put("runbooks/loose.md", PAGE);
        files.put("runbooks/loose-after-document.md", PAGE.replace("## Work", WAITS + "## Work"));
        return DemoHandbook.edition(files);
    }

    static List<String> texts() throws IOException {
        try (var in = AttackTests.class.getResourceAsStream("attacks.txt")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8)
                    .lines()
                    .map(line -> line.translateEscapes())
                    .toList();
        }
    }

    private static Play play(String text, String proof) {
        Play play = new Play(EDITION, "loose");
        play.proof = proof;
        play.text = text;
        return play.start();
    }

    /** Lets the model ask for one call and gives what went through with nobody asked; lookups are answered truly. */
    private static List<Command.CallTool> obey(Play play, String tool, String args) {
        List<Command.CallTool> through = new ArrayList<>();
        play.give(new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(), "m", List.of(new Wanted("w", tool, Play.read(args))), 1));
        play.commands.stream()
                .filter(Command.CallTool.class::isInstance)
                .map(Command.CallTool.class::cast)
                .forEach(through::add);
        return through;
    }

    private static boolean goesOn(Play play) {
        return play.commands.stream().anyMatch(Command.AskModel.class::isInstance);
    }

    @ParameterizedTest
    @MethodSource("texts")
    void nothingBeyondTheRequestersOwnRecordAndAmountGoesThrough(String text) {
        for (String args : OBEDIENT) {
            Play play = play(text, "signed-in");
            // the requester's own booking and somebody else's have both been looked up, as the text wanted
            lookUp(play, "SK-48213", Play.BOOKING);
            lookUp(play, "SK-99999", OTHERS);

            assertThat(obey(play, "fares.pay-refund", args)).as(args).isEmpty();
        }
    }

    @ParameterizedTest
    @MethodSource("texts")
    void whatIsTheirsGoesThroughAndOnlyThat(String text) {
        Play play = play(text, "signed-in");
        lookUp(play, "SK-48213", Play.BOOKING);

        assertThat(obey(
                        play,
                        "fares.pay-refund",
                        "{\"reference\":\"SK-48213\",\"amount\":84.5,\"reason\":\"goodwill\"}"))
                .singleElement()
                .satisfies(call -> assertThat(call.call().args().path("amount").decimalValue())
                        .isEqualByComparingTo(new BigDecimal("84.5")));
    }

    @ParameterizedTest
    @MethodSource("texts")
    void whoOnlyClaimsToBeSomebodyGetsNothingAlone(String text) {
        for (String reference : List.of("SK-48213", "SK-99999")) {
            Play play = play(text, "claimed");

            assertThat(obey(play, "fares.find-booking", "{\"reference\":\"" + reference + "\"}"))
                    .as("not even a look at a personal record")
                    .isEmpty();
        }
        Play paying = play(text, "claimed");
        assertThat(obey(
                        paying,
                        "fares.pay-refund",
                        "{\"reference\":\"SK-48213\",\"amount\":84.5,\"reason\":\"goodwill\"}"))
                .isEmpty();
    }

    @ParameterizedTest
    @MethodSource("texts")
    void aDocumentDoesNoMoreThanAText(String text) {
        for (String args : OBEDIENT.subList(0, 12)) {
            Play play = new Play(EDITION, "loose-after-document");
            play.start();
            TracedValue document = TracedValue.of(
                    Json.object()
                            .put("name", "slip.txt")
                            .put("type", "text/plain")
                            .put("text", text),
                    Origin.REQUESTER);
            play.give(new RunInput.Arrived(play.state.pending().id(), document));
            lookUp(play, "SK-48213", Play.BOOKING);
            lookUp(play, "SK-99999", OTHERS);

            assertThat(obey(play, "fares.pay-refund", args)).as(args).isEmpty();
        }
    }

    /** What an answer that is nested, or a number without end, does to the state that has to be read back. */
    @ParameterizedTest
    @ValueSource(ints = {10, 31, 60, 63, 200})
    void whateverAModelWantsTheStateCanBeReadBack(int depth) {
        Play play = play("Please pay.", "signed-in");
        String nested = "[".repeat(depth) + "]".repeat(depth);

        assertThat(obey(
                        play,
                        "fares.pay-refund",
                        "{\"reference\":" + nested + ",\"amount\":1,\"reason\":\"goodwill\"}"))
                .isEmpty();
        assertThat(Json.read(Json.write(play.state), RunState.class)).isEqualTo(play.state);
    }

    @Test
    void aNameThatReadsLikeABookingIsNoBooking() {
        Play play = play("Please pay.", "signed-in");
        lookUp(play, "SK-48213", Play.BOOKING.replace("Ines Halloran", "SK-47001"));

        obey(play, "fares.find-booking", "{\"reference\":\"SK-47001\"}");

        assertThat(play.judged.get(play.judged.size() - 1).input("reference").originsAt(""))
                .as("no field of that format held it")
                .containsExactly(Origin.MODEL);
        assertThat(play.approval().sheet().path("why").asString()).contains("made up");
    }

    @Test
    void aNumberThatIsNearlyTheAmountIsNotTheAmount() {
        for (String amount : List.of("84.5000000000000000000000000001", "84.49999999999999999999999")) {
            Play play = play("Please pay.", "signed-in");
            lookUp(play, "SK-48213", Play.BOOKING);

            assertThat(obey(
                            play,
                            "fares.pay-refund",
                            "{\"reference\":\"SK-48213\",\"amount\":" + amount + ",\"reason\":\"goodwill\"}"))
                    .as(amount)
                    .isEmpty();
        }
    }

    /** Calls that are put together by chance out of what attackers write; {@code -Dattacks=20000} for a long round. */
    @Test
    void whateverACallIsPutTogetherOfOnlyTheirOwnIsPaidAlone() {
        Random random = new Random(20_261);
        int through = 0;
        for (int i = 0; i < Integer.getInteger("attacks", 300); i++) {
            String args = "{\"reference\":" + oneOf(random, REFERENCES) + ",\"amount\":" + oneOf(random, AMOUNTS)
                    + ",\"reason\":" + oneOf(random, REASONS) + "}";

            if (!isTaken(args)) {
                continue;
            }
            Play play = play("Please pay.", "signed-in");
            lookUp(play, "SK-48213", Play.BOOKING);
            lookUp(play, "SK-99999", OTHERS);
            List<Command.CallTool> calls = obey(play, "fares.pay-refund", args);

            for (Command.CallTool call : calls) {
                through++;
                assertThat(call.call().input("reference").value().asString())
                        .as(args)
                        .isEqualTo("SK-48213");
                assertThat(call.call().input("amount").value().decimalValue())
                        .as(args)
                        .isEqualByComparingTo("84.50");
            }
            assertThat(Json.read(Json.write(play.state), RunState.class))
                    .as(args)
                    .isEqualTo(play.state);
        }
        assertThat(through)
                .as("what is theirs does go through, or nothing is tested")
                .isPositive();
    }

    /** What the reader of models' answers lets in at all. */
    private static boolean isTaken(String args) {
        try {
            return Outside.read(args).isObject();
        } catch (MalformedJson refused) {
            return false;
        }
    }

    private static String oneOf(Random random, List<String> choices) {
        String one = choices.get(random.nextInt(choices.size()));
        int depth = random.nextInt(12) == 0 ? random.nextInt(80) : 0;
        return "[".repeat(depth) + one + "]".repeat(depth);
    }

    private static void lookUp(Play play, String reference, String booking) {
        List<Command.CallTool> calls = obey(play, "fares.find-booking", "{\"reference\":\"" + reference + "\"}");
        if (!calls.isEmpty()) {
            play.answerTool(booking);
        } else if (!goesOn(play)) {
            play.approve(); // a reference that was made up is asked about; let the people be taken in, too
            play.answerTool(booking);
        }
    }
}
