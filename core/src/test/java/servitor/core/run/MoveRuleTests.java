package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.check.CheckedHandbook;

class MoveRuleTests {
    private static final String PAID =
            "{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":84.5,\"currency\":\"EUR\"}";
    private final Play waiting = new Play(DemoHandbook.edition(DemoHandbook.files()))
            .start()
            .answerTool(Play.BOOKING)
            .answerTool(PAID)
            .write("Your fare is on its way.");

    private Optional<String> fault(Map<String, String> newer) {
        return MoveRule.fault(
                waiting.edition.handbook(), CheckedHandbook.of(newer).handbook(), waiting.state);
    }

    @Test
    void aRunMovesWhereOnlyWordsDiffer() {
        assertThat(fault(DemoHandbook.with(DemoHandbook.PAGE, "No promises beyond that.", "No promises.")))
                .isEmpty();
        waiting.give(new RunInput.Moved("maren", 2));
        assertThat(waiting.state.edition()).isEqualTo(2);
        assertThat(waiting.state.status()).isEqualTo(RunStatus.WAITING);
        assertThat(waiting.logged("run-moved").path("to").asInt()).isEqualTo(2);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "## Check the wording | ## Look at the wording | has no step ‘Check the wording’",
                "declined: hand over, expired | declined: stop, expired | the ways on from ‘Check the wording’ differ",
                "save: booking | save: bookings | looks different there",
            })
    void aRunStaysWhereWhatItStandsOnDiffers(String from, String to, String why) {
        Map<String, String> newer = DemoHandbook.with(DemoHandbook.PAGE, from, to);
        newer.computeIfPresent(
                DemoHandbook.PAGE, (path, text) -> text.replace("go: check the wording", "go: look at the wording"));
        assertThat(fault(newer)).hasValueSatisfying(fault -> assertThat(fault).contains(why));
    }

    @Test
    void onlyWaitingRunsMove() {
        waiting.approve();
        assertThat(fault(DemoHandbook.files()))
                .hasValueSatisfying(fault -> assertThat(fault).contains("only a waiting run"));
    }
}
