package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Tool;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;

/** Work that an outside system does after it has answered: waited for by a timer, looked at through the gate. */
class JobTests {
    private static final String TOOLS = """
            connection: depot
            tools:
              refit:
                arguments: []
                inputs: { ship: string }
                outputs: { order: string }
                effect: once
                description: Has a ship's gear refitted, which takes the depot some days.
                examples: [{ ship: Varra }]
                job:
                  look: depot.order-state
                  with: { order: "${answer.order}" }
                  done: found.state == "done"
                  failed: found.state == "scrapped"
                  result: { bill: "${found.bill}" }
                  outputs: { bill: number }
                  every: PT10M
                  within: PT1H
              order-state:
                arguments: []
                inputs: { order: string }
                outputs: { state: string, bill: number }
                effect: read
                description: Says how far the depot is with an order.
                examples: [{ order: O-1 }]
            """;
    private static final String PAGE = """
            ---
            title: Have gear refitted
            desk: passengers
            agent: purser
            limits: { calls: 2, time: P5D }
            ---
            A page.

            ## Refit
            ```step
            call: depot.refit
            with: { ship: Varra }
            save: refit
            on: { timeout: hand over, trouble: hand over, invalid: hand over }
            ```

            ## Pay back
            ```step
            decide:
              - when: refit.bill > 10.0
                go: done
              - otherwise: done
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;

    private static Map<String, String> files() {
        Map<String, String> files = DemoHandbook.files();
        files.put("tools/depot.yaml", TOOLS);
        files.put("runbooks/refit.md", PAGE);
        files.put(
                "mandates/purser.yaml",
                files.get("mandates/purser.yaml")
                        .replace("grants:\n", "grants:\n  - { name: depot, tools: [depot.*], verdict: allow }\n"));
        return files;
    }

    private static Play started() {
        Edition edition = DemoHandbook.edition(files());
        Play play = new Play(edition, "refit").start();
        assertThat(play.only(Command.CallTool.class).call().tool()).isEqualTo("depot.refit");
        return play.answerTool("{\"order\":\"O-7\"}");
    }

    private static Play look(Play play) {
        Command.SetTimer timer = play.only(Command.SetTimer.class);
        assertThat(timer.at()).isAfter(play.now);
        play.now = timer.at();
        play.give(new RunInput.TimeUp(timer.id()));
        assertThat(play.only(Command.CallTool.class).call().args().path("order").asString())
                .isEqualTo("O-7");
        return play;
    }

    @Test
    void itIsLookedAtNowAndThenUntilItIsDone() {
        Play play = started();
        assertThat(play.state.waitingFor()).contains("depot.refit");
        for (int i = 0; i < 3; i++) {
            look(play).answerTool("{\"state\":\"at it\",\"bill\":0}");
        }
        look(play).answerTool("{\"state\":\"done\",\"bill\":84.5}");

        assertThat(play.state.saved().get("refit").value().path("bill").decimalValue())
                .isEqualByComparingTo("84.5");
        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.state.used().calls()).as("looks don't count").isEqualTo(1);
    }

    @Test
    void workThatFailsOrTakesTooLongIsAProblem() {
        Play failed = look(started()).answerTool("{\"state\":\"scrapped\",\"bill\":0}");
        assertThat(failed.logged("problem").path("problem").asString()).isEqualTo("trouble");

        Play late = started();
        for (int i = 0; i < 6; i++) {
            look(late).answerTool("{\"state\":\"at it\",\"bill\":0}");
        }
        assertThat(late.logged("problem").path("problem").asString()).isEqualTo("timeout");
        assertThat(late.state.memory().job()).isNull();
    }

    @Test
    void aLookThatFailsIsTriedAgainLater() {
        Play play = look(started()).failTool("unavailable");

        assertThat(look(play)
                        .answerTool("{\"state\":\"done\",\"bill\":1}")
                        .state
                        .caseState())
                .isEqualTo("resolved");
    }

    private static final String WITH_CALL_BACK = TOOLS.replace("ship: string }", "ship: string, tell: string }")
            .replace("every: PT10M", "every: PT50M\n      calls-back: tell");

    @Test
    void aCallBackMakesItLookedAtAtOnce() {
        Map<String, String> files = files();
        files.put("tools/depot.yaml", WITH_CALL_BACK);
        Play play = new Play(DemoHandbook.edition(files), "refit").start();
        Command.CallTool call = play.only(Command.CallTool.class);
        assertThat(call.call().args().path("tell").asString()).isEqualTo(Tool.CALL_BACK);
        assertThat(play.state.waitsForWork(call.id()))
                .as("not before it has answered")
                .isFalse();
        play.answerTool("{\"order\":\"O-7\"}");
        assertThat(play.state.waitsForWork(call.id())).isTrue();
        assertThat(play.state.waitsForWork("R-1-99")).isFalse();

        play.give(new RunInput.CalledBack(play.state.pending().id()));
        assertThat(play.logged("called-back").path("tool").asString()).isEqualTo("depot.refit");
        assertThat(play.state.waitsForWork(call.id())).as("while it is looked").isFalse();
        play.answerTool("{\"state\":\"at it\",\"bill\":0}");
        assertThat(play.state.waitsForWork(call.id())).isTrue();
        play.give(new RunInput.CalledBack(play.state.pending().id()));
        play.answerTool("{\"state\":\"done\",\"bill\":84.5}");
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    @Test
    void theAddressToCallBackAtIsAnInputThatNobodyGives() {
        Map<String, String> files = files();
        files.put("tools/depot.yaml", WITH_CALL_BACK.replace("calls-back: tell", "calls-back: told"));
        assertThat(CheckedHandbook.of(files).findings()).anyMatch(finding -> finding.code() == Code.UNKNOWN_INPUT);
        files.put("tools/depot.yaml", WITH_CALL_BACK);
        files.put("runbooks/refit.md", PAGE.replace("ship: Varra }", "ship: Varra, tell: me }"));
        assertThat(CheckedHandbook.of(files).findings()).anyMatch(finding -> finding.code() == Code.UNKNOWN_INPUT);
    }

    @Test
    void aRunOutOfTimeStopsLooking() {
        Play play = started();
        play.now = play.now.plus(Duration.ofDays(6));
        play.give(new RunInput.TimeUp("r1-deadline"));

        assertThat(play.state.memory().job()).isNull();
    }

    @Test
    void aLookMustOnlyReadAndBeAskedWithWhatIsKnown() {
        Map<String, String> files = files();
        files.put("tools/depot.yaml", TOOLS.replace("look: depot.order-state", "look: fares.pay-refund"));
        assertThat(CheckedHandbook.of(files).findings()).anyMatch(finding -> finding.code() == Code.JOB);

        files.put("tools/depot.yaml", TOOLS.replace("${answer.order}", "${answer.ordre}"));
        assertThat(CheckedHandbook.of(files).findings()).anyMatch(finding -> finding.code() == Code.UNKNOWN_FIELD);
    }
}
