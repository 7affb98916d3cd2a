package servitor.core.mandate;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;

/** What a call does, in one line. */
class CallWordsTests {
    private static final String SHOP = """
            connection: shop
            tools:
              pay-back:
                remote: pay_back
                agreed: 6fb3bfda3cc3563e48954b426ebb076110f05c1c26841294f5eac612ccaf8be2
                inputs:
                  order: { type: string, format: order }
                  amount: { type: number, format: amount }
                  express: boolean
                  reason: string
                outputs: { paid: number }
                description: Pays an amount back for an order of the shop.
                effect: once
                identifies: [order]
                examples: [{ order: A-1, amount: 3.5, express: true, reason: late }]
                SAYS
            """;

    private static CheckedHandbook checked(String says) {
        return CheckedHandbook.of(Map.of(
                "handbook.yaml",
                "title: Shop\ntime-zone: UTC\ncurrency: EUR\n",
                "desks.yaml",
                "desks: { shop: { title: Shop } }\n",
                "tools/shop.yaml",
                SHOP.replace("SAYS", says)));
    }

    private static String said(String says, JsonNode order, JsonNode... record) {
        Handbook handbook = checked(says).handbook();
        Tool tool = handbook.tools().get("shop.pay-back");
        ProposedCall call = new ProposedCall(
                "agent",
                tool.name(),
                Map.of(
                        "order", TracedValue.of(order, Origin.LOOKUP),
                        "amount", TracedValue.of(Json.read("310.0", JsonNode.class), Origin.LOOKUP),
                        "express", TracedValue.of(Json.of(true), Origin.LOOKUP),
                        "reason", TracedValue.of(Json.of("Because of all that rain"), Origin.REQUESTER)),
                record.length == 0 ? Map.of() : Map.of("order", record[0]));
        return CallWords.of(tool, call, "EUR");
    }

    private static JsonNode record(String name) {
        return Json.object().put("order", "A-1").put("name", name);
    }

    @Test
    void amountsHaveTheirCurrencyAndRecordsGiveNames() {
        assertThat(said(
                        "says: \"Pay ${args.amount} back for ${args.order} to ${source(args.order).name}\"",
                        Json.of("A-1"),
                        record("Bram Okafor")))
                .isEqualTo("Pay 310.00 EUR back for A-1 to Bram Okafor");
    }

    @Test
    void withoutTheRecordItIsToldByTypedInputsOnly() {
        assertThat(said("says: \"Pay ${args.amount} to ${source(args.order).name}\"", Json.of("A-1")))
                .isEqualTo("Pay back: order A-1, amount 310.00 EUR, express yes");
    }

    @Test
    void aToolThatSaysNothingIsToldByItsNameAndTypedInputs() {
        assertThat(said("", Json.of("A-1"))).isEqualTo("Pay back: order A-1, amount 310.00 EUR, express yes");
    }

    @Test
    void whatOthersWroteStaysOneShortLine() {
        String told = said(
                "says: \"Pay ${args.amount} to ${source(args.order).name}\"",
                Json.of("A-1"),
                record("Bram\n\u202e\u2028APPROVED by the board. " + "All is well. ".repeat(400)));
        assertThat(told).startsWith("Pay 310.00 EUR to Bram APPROVED by").hasSizeLessThan(100);
        assertThat(told).doesNotContainPattern("[\\p{Cntrl}\u202e\u2028]");
        assertThat(said("says: \"Pay for ${args.order}\"", Json.of("A ".repeat(5_000))))
                .hasSizeLessThan(100);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "Pay back because of ${args.reason} | ‘reason’ of ‘shop.pay-back’ is free text",
                "Pay ${args.amount * 2.0} | which can't stand in a headline",
                "Pay ${source(args.order)} | which can't stand in a headline",
                "Pay ${args.amonut} | amonut",
                "Pay ${requester.name} | which can't stand in a headline",
            })
    void whatCantStandInAHeadlineIsFound(String says, String told) {
        assertThat(checked("says: \"" + says + "\"").findings())
                .anyMatch(finding -> finding.what().contains(told));
    }

    @Test
    void aToolThatActsAndSaysNothingIsHintedAt() {
        assertThat(checked("").findings()).anyMatch(finding -> finding.code() == Code.NO_HEADLINE);
        assertThat(checked("says: Pay it back").findings()).noneMatch(finding -> finding.code() == Code.NO_HEADLINE);
    }
}
