package servitor.core.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Tool;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import tools.jackson.databind.JsonNode;

class OutcomeTests {
    private static final String PAID =
            "{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":84.50,\"currency\":\"EUR\"}";

    private static Tool tool(String name) throws IOException {
        return CheckedHandbook.of(DemoHandbook.files()).handbook().tools().get(name);
    }

    private static Outcome pays(String answer) throws IOException {
        JsonNode args = Json.object().put("reference", "SK-48213").put("amount", 84.5);
        return Outcome.of(
                tool("fares.pay-refund"), "R-1-4", args, new Reply.Answered(200, Json.read(answer, JsonNode.class)));
    }

    private static void isInvalid(Outcome outcome) {
        assertThat(outcome)
                .isInstanceOfSatisfying(
                        Outcome.Done.class,
                        done -> assertThat(done.input())
                                .isInstanceOfSatisfying(
                                        ToolFailed.class,
                                        failed -> assertThat(failed.problem()).isEqualTo("invalid")));
    }

    @Test
    void anAnswerThatRepeatsTheCallIsTaken() throws IOException {
        assertThat(pays(PAID))
                .isInstanceOfSatisfying(
                        Outcome.Done.class, done -> assertThat(done.input()).isInstanceOf(ToolAnswered.class));
    }

    @ParameterizedTest
    @ValueSource(strings = {"SK-48213 SK-47001", "84.50 52.00", "84.50 84.501"})
    void anAnswerAboutAnotherBookingOrAmountIsInvalid(String change) throws IOException {
        String[] fromTo = change.split(" ");
        isInvalid(pays(PAID.replace(fromTo[0], fromTo[1])));
    }

    @Test
    void anAnswerBeyondWhatIsTakenIsInvalid() throws IOException {
        isInvalid(pays(PAID.replace("\"RF-1\"", "[".repeat(60) + "]".repeat(60))));
        isInvalid(pays(PAID.replace("84.50", "84.50e-999999999")));
    }

    @Test
    void aFaultOfTheServerIsTriedAgainWhereNothingCanHaveHappened() throws IOException {
        Reply broken = new Reply.Failed(500, "it stumbled");
        JsonNode args = Json.object().put("reference", "SK-48213");
        assertThat(Outcome.of(tool("fares.find-booking"), "R-1-2", args, broken))
                .isInstanceOf(Outcome.TryAgain.class);
        assertThat(Outcome.of(tool("kit.supply-kit"), "R-1-3", args, broken))
                .as("what acts once is never tried blindly")
                .isInstanceOf(Outcome.Done.class);
    }
}
