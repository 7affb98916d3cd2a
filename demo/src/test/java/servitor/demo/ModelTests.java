package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import servitor.standins.Lapse;

/** What happens when a model doesn't keep the contract. */
class ModelTests {
    private final Household household = Household.shared();

    @AfterEach
    void behaveAgain() {
        household.standins.models().lapse();
        household.standins.models().fail(0);
        household.standins.models().hold(false);
    }

    @Test
    void anAnswerThatBreaksTheContractIsAskedForOnceMore() {
        household.standins.models().lapse(Lapse.CHATS);
        String id = household.openRefund("ines", "SK-600601");
        assertThat(household
                        .as("osei")
                        .get("/api/approvals/" + household.approvalOf(id))
                        .path("sheet")
                        .path("edits")
                        .path(0)
                        .path("text")
                        .asString())
                .startsWith("Good day Ines");
        String bad = household.entryWithMaterial(id, "transcript").path("seq").asString();
        assertThat(household.run("--as", "noor", "trail", "material", bad).out())
                .as("what it said instead is kept")
                .contains("I would rather chat.");
    }

    @Test
    void whileAModelHangsTheCaseSaysWhatItWaitsForAndHowOftenThatWasTried() {
        household.standins.models().fail(1);
        household.standins.models().hold(true);
        String id = household.openRefund("ines", "SK-600603");

        Household.await(
                "the second try",
                () -> household
                        .run("--as", "osei", "case", "show", id)
                        .out()
                        .contains("an answer of the model (tried 2 times)"));

        household.standins.models().hold(false);
        assertThat(household.approvalOf(id)).as("and then it goes on").isNotEmpty();
    }

    @Test
    void aModelThatBreaksItTwiceIsNotAskedAgainAndPeopleTakeOver() {
        household.standins.models().lapse(Lapse.CHATS, Lapse.CHATS);
        String id = household.openRefund("ines", "SK-600602");
        Household.await("the hand-over", () -> household.state(id).equals("with-people"));
        assertThat(household.run("--as", "osei", "case", "show", id).out()).contains("broke the contract twice");
        assertThat(household.standins.fares().refunds())
                .as("the payment before it stands")
                .anyMatch(refund -> refund.path("reference").asString().equals("SK-600602"));
    }
}
