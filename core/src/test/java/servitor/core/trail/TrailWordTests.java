package servitor.core.trail;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import servitor.core.json.Json;

class TrailWordTests {
    @ParameterizedTest
    @EnumSource
    void everyWordSaysSomethingEvenOfAnEntryWhoseDataIsOfAnotherVersion(TrailWord word) {
        assertThat(word.says(Json.object())).doesNotContain("null");
        assertThat(TrailWord.of(word.word())).contains(word);
    }

    @Test
    void onlyWhatNeedsAPersonSignals() {
        assertThat(TrailWord.values())
                .filteredOn(word -> word.weight(Json.object()) == TrailWord.Weight.NEEDS_PERSON)
                .containsExactlyInAnyOrder(
                        TrailWord.APPROVAL_OPENED,
                        TrailWord.HANDED_OVER,
                        TrailWord.IN_DOUBT,
                        TrailWord.CALL_HELD,
                        TrailWord.MAIL_UNDELIVERED,
                        TrailWord.CASE_LATE);
    }

    @Test
    void aVerdictThatAllowsIsExpectedAndARefusalIsNot() {
        assertThat(TrailWord.VERDICT.weight(Json.object().put("verdict", "allow")))
                .isEqualTo(TrailWord.Weight.EXPECTED);
        assertThat(TrailWord.VERDICT.weight(Json.object().put("verdict", "deny")))
                .isEqualTo(TrailWord.Weight.TELLING);
    }

    @Test
    void dataThatAWordDoesNotDeclareIsAFaultOfOurs() {
        assertThatThrownBy(() -> new TrailEvent(
                        TrailEvent.SYSTEM,
                        TrailWord.CALL_SENT,
                        "",
                        Json.object().put("password", "x")))
                .isInstanceOf(AssertionError.class)
                .hasMessageContaining("call-sent");
    }
}
