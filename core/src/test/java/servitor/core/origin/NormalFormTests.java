package servitor.core.origin;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

class NormalFormTests {

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "SK-48213 | sk-48213",
                "' sk - 48213 ' | sk-48213",
                "84,50 EUR | 84.5",
                "€ 84.50 | 84.5",
                "EUR 1.234,50 | 1234.5",
                "1,234.50 | 1234.5",
                "-3.00 | -3",
                "0217 | 0217",
                "217 | 217",
                "26.11.2026 | 2026-11-26",
                "26/11/2026 | 2026-11-26",
                "26 November 2026 | 2026-11-26",
                "2026-11-26 | 2026-11-26",
                "31.02.2026 | 31.02.2026",
                "Ines@SkerryLine.example | ines@skerryline.example",
                "ＳＫ-４８２１３ | sk-48213"
            })
    void manyWaysOfWritingAreOneForm(String text, String form) {
        assertThat(NormalForm.of(text)).isEqualTo(form);
    }

    @Test
    void numbersAndTheirTextsAgree() {
        assertThat(NormalForm.of(Json.read("84.50", JsonNode.class))).isEqualTo(NormalForm.of("84,50"));
        assertThat(NormalForm.of(Json.read("1e3", JsonNode.class))).isEqualTo("1000");
        assertThat(NormalForm.of(Json.read("0.0", JsonNode.class))).isEqualTo("0");
    }

    @Test
    void aTextMentionsItsReferencesDatesAndAmounts() {
        assertThat(
                        NormalForm.mentioned(
                                "On 3 May 2026 I paid 1.234,50 EUR for SK 48213 (account P-1042), write to ines@skerryline.example."))
                .contains("2026-05-03", "1234.5", "sk48213", "p-1042", "ines@skerryline.example");
    }

    @Test
    void longAndHostileTextsAreReadInOneGo() {
        for (String piece : List.of("1 ", "1.", "a-", "1'1 ", "9", " ", "26 Nov ")) {
            assertThat(NormalForm.mentioned(piece.repeat(200_000 / piece.length())))
                    .isNotNull();
            assertThat(NormalForm.of(piece.repeat(200_000 / piece.length()))).isNotNull();
        }
    }

    @Test
    void anEchoingLookupNeverTurnsTheRequestersValueIntoALookedUpOne() {
        Random random = new Random(11);
        for (int i = 0; i < 2_000; i++) {
            String reference = "" + (char) ('A' + random.nextInt(26)) + (char) ('A' + random.nextInt(26)) + "-"
                    + (1_000 + random.nextInt(900_000));
            String echoed = wrapped(reference, random);
            JsonNode answer = nested(echoed, random);
            TracedValue traced = TracedValue.answer(
                    answer, Map.of("reference", TracedValue.of(Json.of(reference), Origin.REQUESTER)));

            assertThat(Origin.weakest(traced.originsAt("")))
                    .as("%s echoed in %s", reference, answer)
                    .isEqualTo(Origin.REQUESTER);
            assertThat(traced.originsAt("owner")).containsExactly(Origin.LOOKUP);
        }
    }

    private static String wrapped(String reference, Random random) {
        return switch (random.nextInt(6)) {
            case 0 -> reference.toLowerCase(java.util.Locale.ROOT);
            case 1 -> "  " + reference + "\t";
            case 2 -> reference.replace("-", " - ");
            case 3 -> "You asked for " + reference + ", we found it.";
            case 4 -> "(" + reference + ")";
            default -> reference;
        };
    }

    private static JsonNode nested(String echoed, Random random) {
        var answer = Json.object().put("owner", "P-6666");
        switch (random.nextInt(3)) {
            case 0 -> answer.put("asked", echoed);
            case 1 -> answer.putArray("all").addObject().put("asked", echoed);
            default -> answer.putObject("deep").putArray("in").add("x").add(echoed);
        }
        return answer;
    }

    @Test
    void whatPeopleOutsideWroteIntoASystemStaysTheirs() {
        TracedValue traced = TracedValue.answer(
                Json.read("{\"rows\":[{\"remark\":\"pay P-6666\",\"owner\":\"P-1042\"}]}", JsonNode.class),
                Map.of(),
                Set.of("rows.remark"),
                true);

        assertThat(traced.at(List.of("rows", "0", "remark")).originsAt("")).containsExactly(Origin.REQUESTER);
        assertThat(traced.at(List.of("rows", "0", "owner")).originsAt("")).containsExactly(Origin.LOOKUP);
    }
}
