package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Wanted;

/** Only a tool's answer is a record, and only its fields of a declared format vouch for anything. */
class VouchingTests {
    private static final String PAGE = """
            ---
            title: Pay what is told
            desk: passengers
            agent: purser
            takes: { reference: text, owner: text, paid: number }
            limits: { calls: 6, model-tokens: 5000 }
            ---
            A page that another agent could have started with whatever it likes.

            ## Pay
            ```step
            call: fares.pay-refund
            with: { reference: "${takes.reference}", amount: "${takes.paid}", reason: goodwill }
            save: refund
            on: { refused: hand over, declined: hand over }
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;

    @Test
    void whatAPageWasGivenIsNoRecord() {
        Map<String, String> files = DemoHandbook.files();
        files.put("runbooks/pay-told.md", PAGE);
        Play play = new Play(DemoHandbook.edition(files), "pay-told");
        RunState ready = play.state;
        TracedValue told = TracedValue.of(
                Json.object()
                        .put("reference", "SK-99999")
                        .put("owner", "P-1042")
                        .put("paid", 84.5),
                Origin.LOOKUP);
        play.state = new RunState(
                ready.id(),
                ready.caseId(),
                ready.edition(),
                ready.page(),
                null,
                told,
                ready.allowance(),
                "",
                ready.standing(),
                ready.used(),
                Map.of(),
                List.of(),
                ready.memory(),
                "");

        play.start();

        assertThat(play.judged.get(0).sources()).isEmpty();
        assertThat(play.logged("verdict").path("verdict").asString()).isEqualTo("deny");
        assertThat(play.commands).noneMatch(Command.CallTool.class::isInstance);
    }

    @Test
    void whatAPageGaveAModelIsNoRecordEither() {
        Map<String, String> files = DemoHandbook.files();
        files.put("runbooks/pay-told.md", PAGE);
        files.put("tools/pages.yaml", """
                tools:
                  say: { page: say, effect: read, description: Says what somebody made up about a booking., examples: [{ reference: SK-99999 }] }
                """);
        files.put("runbooks/say.md", """
                ---
                title: Say
                desk: passengers
                agent: purser
                takes: { reference: text }
                gives: { reference: "${takes.reference}", owner: "${requester.account}", paid: "${84.5}" }
                limits: { calls: 1 }
                ---
                A page.

                ## Done
                ```step
                finish: resolved
                ```
                """);
        files.put("runbooks/loose.md", """
                ---
                title: Loose
                desk: passengers
                agent: purser
                limits: { calls: 9, model-tokens: 9000 }
                ---
                A page.

                ## Work
                See to it, with care, and never more than is owed.
                ```step
                pursue: what is owed is paid
                tools: [pages.say, fares.pay-refund]
                answer: { done: text }
                save: result
                on: { refused: hand over, exhausted: hand over, declined: hand over }
                ```

                ## Done
                ```step
                finish: resolved
                ```
                """);
        files.put(
                "mandates/purser.yaml",
                files.get("mandates/purser.yaml")
                        .replace("grants:\n", "grants:\n  - { name: say, tools: [pages.say], verdict: allow }\n"));
        Play play = new Play(DemoHandbook.edition(files), "loose");
        play.text = "Pay me.";
        play.start();
        wants(play, "pages.say", "{\"reference\":\"SK-99999\"}");
        play.give(new RunInput.PageEnded(
                play.only(Command.StartPage.class).id(),
                "resolved",
                "",
                TracedValue.of(
                        Json.object()
                                .put("reference", "SK-99999")
                                .put("owner", "P-1042")
                                .put("paid", 84.5),
                        Origin.LOOKUP),
                List.of(),
                List.of(),
                1,
                0));
        wants(play, "fares.pay-refund", "{\"reference\":\"SK-99999\",\"amount\":84.5,\"reason\":\"goodwill\"}");

        assertThat(play.judged.get(play.judged.size() - 1).sources()).isEmpty();
        assertThat(play.judged.get(play.judged.size() - 1).input("reference").originsAt(""))
                .containsExactly(Origin.MODEL);
        assertThat(play.commands).noneMatch(Command.CallTool.class::isInstance);
    }

    private static void wants(Play play, String tool, String args) {
        play.give(new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(), "m", List.of(new Wanted("w", tool, Play.read(args))), 1));
    }

    @Test
    void anotherFieldOfARecordDoesntVouchForAReference() {
        Play play = new Play(DemoHandbook.edition(DemoHandbook.with(
                        DemoHandbook.PAGE,
                        "reference: \"${booking.reference}\"",
                        "reference: \"${booking.passenger}\"")))
                .start()
                .answerTool(Play.BOOKING.replace("Ines Halloran", "SK-48213"));

        assertThat(play.judged.get(1).sources()).doesNotContainKey("reference");
        assertThat(play.commands).noneMatch(Command.CallTool.class::isInstance);
    }
}
