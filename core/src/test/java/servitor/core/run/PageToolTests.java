package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.json.Json;
import servitor.core.mandate.Judge;
import servitor.core.mandate.Usage;
import servitor.core.mandate.Verdict;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Wanted;

/** A page as a tool: what a model starts with it is judged under every mandate of the chain. */
class PageToolTests {
    private static final String TOOLS = """
            tools:
              pay-back:
                page: pay-back
                effect: write
                description: Has the purser look a booking up and pay its fare back.
                examples: [{ booking: SK-48213 }]
            """;
    private static final String PAY_BACK = """
            ---
            title: Pay back by reference
            desk: passengers
            agent: purser
            takes: { booking: text }
            gives: { owner: "${booking.owner}" }
            limits: { calls: 6, model-tokens: 5000 }
            ---
            A page.

            ## Look
            ```step
            call: fares.find-booking
            with: { reference: "${takes.booking}" }
            save: booking
            ```

            ## Pay
            ```step
            call: fares.pay-refund
            with: { reference: "${booking.reference}", amount: "${booking.paid}", reason: goodwill }
            save: refund
            on: { refused: hand over, declined: hand over }
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;
    private static final String ASKS = """
            ---
            title: Let somebody else pay
            desk: people
            agent: steward
            limits: { calls: 9, model-tokens: 9000 }
            ---
            A page.

            ## Work
            See to it.
            ```step
            %s
            save: result
            on: { refused: hand over, declined: hand over, trouble: hand over%s }
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;
    private static final String GRANT =
            "grants:\n  - { name: let the purser pay, tools: [pages.pay-back], verdict: allow }\n";
    private static final Wanted WANTED =
            new Wanted("w", "pages.pay-back", Json.object().put("booking", "SK-48213"));

    private static Map<String, String> files(boolean byModel, String moreGrants) {
        Map<String, String> files = DemoHandbook.files();
        files.put("tools/pages.yaml", TOOLS);
        files.put("runbooks/pay-back.md", PAY_BACK);
        files.put(
                "runbooks/asks.md",
                byModel
                        ? ASKS.formatted(
                                "pursue: a fare paid back\ntools: [pages.pay-back]\nanswer: { done: text }",
                                ", exhausted: hand over")
                        : ASKS.formatted("call: pages.pay-back\nwith: { booking: \"SK-48213\" }", ""));
        files.put("mandates/steward.yaml", files.get("mandates/steward.yaml").replace("grants:\n", GRANT + moreGrants));
        return files;
    }

    private static Play play(boolean byModel) {
        Play play = new Play(DemoHandbook.edition(files(byModel, "")), "asks").start();
        return byModel
                ? play.give(new RunInput.ModelCalled(
                        play.only(Command.AskModel.class).id(), "m", List.of(WANTED), 1))
                : play;
    }

    /** The verdict on the payment that the started page makes. */
    private static Verdict payment(Edition edition, Command.StartPage start, RunState parent) {
        Play child = new Play(edition, "pay-back");
        child.state = RunState.followed("r2", parent, start);
        child.start().answerTool(Play.BOOKING);
        return Judge.judge(
                edition.handbook(),
                child.judged.get(child.judged.size() - 1),
                child.situation().plainScope(child.state),
                Usage.NONE);
    }

    @Test
    void aPageThatAModelStartsIsHeldToTheMandateOfWhoStartedIt() {
        Play play = play(true);
        Command.StartPage start = play.only(Command.StartPage.class);
        assertThat(start.chain()).containsExactly("steward");
        assertThat(start.takes().value().path("booking").asString()).isEqualTo("SK-48213");

        // the steward's own mandate grants no look at bookings at all, so its page can't make the purser look
        Play child = new Play(play.edition, "pay-back");
        child.state = RunState.followed("r2", play.state, start);
        child.start();
        assertThat(child.logged("verdict").path("verdict").asString()).isEqualTo("deny");
        assertThat(child.logged("verdict").path("reason").asString()).contains("What the steward may do");
    }

    @Test
    void everybodyInTheChainIsAskedAndTheStricterHolds() {
        Edition edition = DemoHandbook.edition(files(
                true,
                "  - { name: look, tools: [fares.find-booking], verdict: allow }\n"
                        + "  - { name: pay, tools: [fares.pay-refund], verdict: ask, of: payroll-leads }\n"));
        Play play = new Play(edition, "asks").start();
        play.give(new RunInput.ModelCalled(play.only(Command.AskModel.class).id(), "m", List.of(WANTED), 1));

        Verdict verdict = payment(edition, play.only(Command.StartPage.class), play.state);

        assertThat(verdict.decision()).isEqualTo(Decision.ASK);
        assertThat(verdict.of()).containsExactly("payroll-leads");
        assertThat(verdict.charges()).as("limits count in all of the chain").hasSize(1);
    }

    @Test
    void anAuthoredCallIsHeldToThePagesOwnMandateAlone() {
        Play play = play(false);
        Command.StartPage start = play.only(Command.StartPage.class);
        assertThat(start.chain()).isEmpty();

        assertThat(payment(play.edition, start, play.state).decision()).isEqualTo(Decision.ALLOW);
    }

    @Test
    void whatThePageGivesIsTheAnswerWithItsOrigins() {
        Play play = play(false);
        Command.StartPage start = play.only(Command.StartPage.class);
        TracedValue gives = TracedValue.fields(Map.of("owner", TracedValue.of(Json.of("P-1042"), Origin.REQUESTER)));
        play.give(new RunInput.PageEnded(start.id(), "resolved", "", gives, List.of(), List.of(), 2, 10));

        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.state.saved().get("result").at(List.of("owner")).originsAt(""))
                .containsExactly(Origin.REQUESTER);
        assertThat(play.state.used().calls()).as("its calls count here").isEqualTo(3);
    }

    @Test
    void aPageThatEndsInTroubleIsAProblemOfTheCall() {
        Play play = play(false);
        Command.StartPage start = play.only(Command.StartPage.class);
        TracedValue nothing = TracedValue.of(Json.object(), Origin.HANDBOOK);
        play.give(
                new RunInput.PageEnded(start.id(), "with-people", "nobody knows", nothing, List.of(), List.of(), 1, 1));

        assertThat(play.logged("problem").path("detail").asString()).contains("nobody knows");
        assertThat(play.state.caseState()).isEqualTo("with-people");
    }

    @Test
    void aPageCantBeAToolOfItself() {
        Map<String, String> files = files(false, "");
        files.put(
                "runbooks/pay-back.md",
                PAY_BACK.replace("call: fares.find-booking", "call: pages.pay-back")
                        .replace("{ reference:", "{ booking:"));

        assertThat(CheckedHandbook.of(files).findings()).anyMatch(finding -> finding.code() == Code.FOLLOWS_ITSELF);
    }
}
