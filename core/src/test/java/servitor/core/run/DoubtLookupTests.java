package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolInDoubt;

/** A call in doubt is looked up first, and what the lookup can't settle goes to a person. */
class DoubtLookupTests {
    private static final String REFUNDS = "effect: write\n    identifies: [reference]";
    private static final String SETTLE =
            "effect: once\n    settle-with: { tool: fares.find-payment, with: { key: \"${key}\" },"
                    + " happened: found.paid, result: \"${found.refund}\", otherwise: %s }";
    private static final String REFUND =
            "{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":84.5,\"currency\":\"EUR\"}";

    private static Play doubtful(String otherwise) {
        Map<String, String> files = DemoHandbook.with(
                "tools/fares.yaml", REFUNDS, SETTLE.formatted(otherwise) + REFUNDS.substring("effect: write".length()));
        Play play = new Play(DemoHandbook.edition(files)).start().answerTool(Play.BOOKING);
        String key = play.only(Command.CallTool.class).id();
        return play.give(new ToolInDoubt(key, "fell silent"));
    }

    private static Play lookedUp(String otherwise, String answer) {
        Play play = doubtful(otherwise);
        play.give(new RunInput.TimeUp(play.only(Command.SetTimer.class).id()));
        assertThat(play.only(Command.CallTool.class).call().args().path("key").asString())
                .as("the key of the call in doubt")
                .isEqualTo(play.state.key("r1-4"))
                .startsWith("r1-4-");
        return play.give(new ToolAnswered(play.only(Command.CallTool.class).id(), Play.read(answer)));
    }

    @Test
    void itIsLookedUpAfterAWhile() {
        Play play = doubtful("ask");
        assertThat(play.state.status()).isEqualTo(RunStatus.WAITING);
        assertThat(play.only(Command.SetTimer.class).at()).isEqualTo(play.now.plusSeconds(10));
    }

    @Test
    void whatIsFoundCountsAsAnswered() {
        Play play = lookedUp("ask", "{\"paid\":true,\"refund\":" + REFUND + "}");
        assertThat(play.state.saved().get("refund").value().path("refund").asString())
                .isEqualTo("RF-1");
        assertThat(play.commands).hasAtLeastOneElementOfType(Command.SettleCall.class);
        assertThat(play.logged("settled").path("happened").asBoolean()).isTrue();
        assertThat(play.state.problem()).isNull();
    }

    @Test
    void whatIsNotFoundGoesToAPersonUnlessThePageSaysRepeat() {
        Play asks = lookedUp("ask", "{\"paid\":false}");
        assertThat(asks.state.status()).isEqualTo(RunStatus.IN_DOUBT);
        assertThat(asks.state.pending().id())
                .as("the call itself, to be settled")
                .isEqualTo("r1-4");
        assertThat(asks.state.waitingFor()).contains("doesn't find it");
        Play repeats = lookedUp("repeat", "{\"paid\":false}");
        Command.CallTool again = repeats.commands.stream()
                .filter(Command.CallTool.class::isInstance)
                .map(Command.CallTool.class::cast)
                .findFirst()
                .orElseThrow();
        assertThat(again.call().tool()).isEqualTo("fares.pay-refund");
        assertThat(again.id()).as("a call of its own").isNotEqualTo("r1-4");
    }

    @Test
    void aLookupThatContradictsItselfOrIsNotAllowedGoesToAPerson() {
        assertThat(lookedUp("ask", "{\"paid\":true}").state.status()).isEqualTo(RunStatus.IN_DOUBT);
        Play play = doubtful("ask");
        play.give(new RunInput.TimeUp(play.only(Command.SetTimer.class).id())).failTool("unavailable");
        assertThat(play.state.status()).isEqualTo(RunStatus.IN_DOUBT);
        assertThat(play.state.waitingFor()).contains("looking it up failed");
    }
}
