package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt.Wanted;

/** What a tool conceals reaches no model, and comes back only where it belongs. */
class ConcealedTests {
    private static final String IBAN = "XX12 0001 0002 0217";
    private static final String SLIPS = """
            {"more":false,"rows":[{"paid_on":"2026-10-31","gross":2110.0,"deductions":512.4,"net":1597.6,"iban":"%s","remark":"paid to xx12000100020217"}]}
            """.formatted(IBAN);
    private static final String PAGE = """
            ---
            title: Pay by hand
            desk: people
            agent: steward
            limits: { calls: 9, model-tokens: 9000 }
            ---
            A page.

            ## Look
            ```step
            call: pay.own-payslips
            with: { account: "${requester.account}" }
            save: slips
            ```

            ## Work
            Do it.
            ```step
            pursue: the payment
            tools: [bank.pay, bank.note]
            answer: { done: text }
            save: result
            on: { refused: hand over, exhausted: hand over }
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """;
    private static final String BANK = """
            connection: bank
            tools:
              pay:
                arguments: []
                inputs: { to: { type: string, format: iban }, amount: number }
                outputs: { paid: boolean }
                effect: write
                description: Pays an amount to an account of a colleague.
                examples: [{ to: XX12 0001 0002 0217, amount: 1.5 }]
              note:
                arguments: []
                inputs: { text: string }
                outputs: { kept: boolean }
                effect: write
                description: Writes a note into the bank's own book.
                examples: [{ text: hello }]
            """;

    private static Play play() {
        Map<String, String> files = DemoHandbook.files();
        files.put("runbooks/by-hand.md", PAGE);
        files.put("tools/bank.yaml", BANK);
        files.put(
                "mandates/steward.yaml",
                files.get("mandates/steward.yaml")
                        .replace("grants:\n", "grants:\n  - { name: bank, tools: [bank.*], verdict: allow }\n"));
        return new Play(DemoHandbook.edition(files), "by-hand").start().answerTool(SLIPS);
    }

    private static RunInput wants(Play play, String tool, String args) {
        return new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(), "m", List.of(new Wanted("c1", tool, Play.read(args))), 10);
    }

    @Test
    void aModelSeesHandlesWhateverFormTheValueTakes() {
        String told = play().only(Command.AskModel.class).prompt().user();

        assertThat(told).contains("[iban-1]", "paid to [iban-1]", "1597.6");
        assertThat(told.replaceAll("\\s", "").toLowerCase(java.util.Locale.ROOT))
                .doesNotContain("xx12000100020217");
    }

    @Test
    void aHandleBecomesTheValueOnlyInAnInputOfItsType() {
        Play play = play();
        play.give(wants(play, "bank.pay", "{\"to\":\"[iban-1]\",\"amount\":3}"));

        assertThat(play.only(Command.CallTool.class).call().args().path("to").asString())
                .isEqualTo(IBAN);
        assertThat(play.only(Command.CallTool.class).call().input("to").originsAt(""))
                .containsExactly(servitor.core.origin.Origin.LOOKUP);
    }

    @Test
    void aHandleInAnyOtherInputOrWithinATextIsRefused() {
        Play play = play();
        play.give(wants(play, "bank.note", "{\"text\":\"[iban-1]\"}"));
        assertThat(told(play)).startsWith("refused");

        play.give(wants(play, "bank.note", "{\"text\":\"it goes to [iban-1] then\"}"));
        assertThat(told(play)).startsWith("refused");
    }

    private static String told(Play play) {
        var exchanges = play.only(Command.AskModel.class).prompt().exchanges();
        return exchanges.get(exchanges.size() - 1).result();
    }

    @Test
    void numbersAndShortValuesAreHiddenWhereTheyStandWhole() {
        List<Concealed> concealed = List.of(
                new Concealed("[net-1]", Json.of(new java.math.BigDecimal("1597.60")), "net"),
                new Concealed("[pin-1]", Json.of("7"), "pin"));

        assertThat(Concealed.hide(
                        concealed, Play.read("{\"a\":1597.6,\"b\":\"7\",\"c\":\"17 of 1597.6 and 21597.6\"}")))
                .isEqualTo(Play.read("{\"a\":\"[net-1]\",\"b\":\"[pin-1]\",\"c\":\"17 of [net-1] and 21597.6\"}"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "XX12-0001-0002-0217",
                "xx12.0001.0002.0217",
                "X X 1 2 0 0 0 1 0 0 0 2 0 2 1 7",
                "XX12\u200b0001\u200b00020217",
                "ＸＸ１２ 0001 0002 0217",
                "XX12/0001/0002/0217",
                "XX12\u00a00001\u00a00002\u00a00217"
            })
    void noSpellingSavesAValue(String spelled) {
        List<Concealed> concealed = List.of(new Concealed("[iban-1]", Json.of(IBAN), "iban"));

        assertThat(Concealed.hide(concealed, "paid to " + spelled + ", thank you"))
                .isEqualTo("paid to [iban-1], thank you");
        assertThat(Concealed.hide(concealed, Json.object().put("a", spelled))
                        .path("a")
                        .asString())
                .isEqualTo("[iban-1]");
    }

    @ParameterizedTest
    @ValueSource(strings = {"1597.60", "1,597.60", "1.597,60", "1 597,60", "1'597.6"})
    void noWayOfWritingANumberSavesIt(String written) {
        List<Concealed> concealed =
                List.of(new Concealed("[net-1]", Json.of(new java.math.BigDecimal("1597.6")), "net"));

        assertThat(Concealed.hide(concealed, "net " + written + " EUR")).isEqualTo("net [net-1] EUR");
    }

    @Test
    void aNumberIsHiddenWhereATextHoldsItAndTheOtherWayRound() {
        List<Concealed> concealed = List.of(new Concealed("[card-1]", Json.of("4000 1234"), "card"));

        assertThat(Concealed.hide(concealed, Play.read("{\"n\":40001234}"))
                        .path("n")
                        .asString())
                .isEqualTo("[card-1]");
    }

    @Test
    void whoeverTriesAToolOutSeesHandlesToo() {
        Tool payslips =
                DemoHandbook.edition(DemoHandbook.files()).handbook().tools().get("pay.own-payslips");

        assertThat(Concealed.shown(payslips, Play.read(SLIPS)).toString())
                .contains("[iban-1]")
                .doesNotContain("0217");
    }
}
