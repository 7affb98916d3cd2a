package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.play;
import static servitor.core.run.Scripted.step;

import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** A key names one call for good: also after a backup was restored, from which the run goes on in another way. */
class CallKeyTests {
    private static Play paying(String amount) {
        String pay =
                "call: fares.pay-refund\nwith: { reference: \"${booking.reference}\", amount: \"AMOUNT\", reason: goodwill }\n"
                        .replace("AMOUNT", amount);
        return play(
                        "starts: []\n",
                        step("Find", "call: fares.find-booking\nwith: { reference: SK-48213 }\nsave: booking")
                                + step("Pay", pay + "save: first\non: { unavailable: hand over }")
                                + step("Again", pay)
                                + step("Done", "finish: resolved"))
                .start();
    }

    private static String key(Play play) {
        return play.only(Command.CallTool.class).key();
    }

    @Test
    void theSameTurnOfARunWithAnotherAmountHasAnotherKey() {
        String before = key(paying("${booking.paid}").answerTool(Play.BOOKING));
        String restored = key(paying("${booking.paid}").answerTool(Play.BOOKING.replace("84.5", "64.5")));
        assertThat(restored).isNotEqualTo(before);
        assertThat(key(paying("${booking.paid}").answerTool(Play.BOOKING)))
                .as("the same call in the same turn is the same call")
                .isEqualTo(before);
    }

    @Test
    void twoEqualPaymentsOfOneRunHaveTwoKeys() {
        Play play = paying("${booking.paid}").answerTool(Play.BOOKING);
        String first = key(play);
        play.answerTool("{\"refund\":\"R-1\",\"state\":\"paid\"}");
        assertThat(key(play)).isNotEqualTo(first);
    }

    @Test
    void whatAnEarlierVersionSentKeepsTheKeyItWasSentUnder() {
        Play play = paying("${booking.paid}").answerTool(Play.BOOKING);
        ObjectNode state = (ObjectNode) Json.of(play.state);
        ((ObjectNode) state.path("memory")).remove("sent");
        RunState earlier = Json.read(Json.write(state), RunState.class);
        String id = play.only(Command.CallTool.class).id();
        play.state = earlier;
        play.give(new RunInput.ToolInDoubt(id, "no answer"))
                .give(new RunInput.Settled(
                        id, "osei", true, Play.read("{\"refund\":\"R-1\",\"state\":\"paid\"}"), "It was paid."));
        assertThat(play.logged("settled").path("key").asString()).isEqualTo(id);
    }
}
