package servitor.core.intake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** When schedules fire; in Dublin clocks went back on 25 October 2026 at two, and forward on 29 March 2026 at one. */
class ScheduleTests {
    private static final ZoneId DUBLIN = ZoneId.of("Europe/Dublin");

    private static List<String> firings(String cron, String from, String until) {
        Schedule schedule = Schedule.of(cron);
        List<String> firings = new ArrayList<>();
        Instant last = Instant.parse(from);
        while (true) {
            Instant next = schedule.after(last, DUBLIN).orElseThrow();
            if (!next.isBefore(Instant.parse(until))) {
                return firings;
            }
            assertThat(next).isAfter(last);
            firings.add(next.toString());
            last = next;
        }
    }

    @Test
    void aTimeOfDayComesOnceADayByTheClockOnTheWall() {
        assertThat(firings("30 6 * * 1-5", "2026-06-05T00:00:00Z", "2026-06-09T00:00:00Z"))
                .containsExactly("2026-06-05T05:30:00Z", "2026-06-08T05:30:00Z");
        assertThat(firings("30 6 * * *", "2026-10-24T00:00:00Z", "2026-10-27T00:00:00Z"))
                .containsExactly("2026-10-24T05:30:00Z", "2026-10-25T06:30:00Z", "2026-10-26T06:30:00Z");
    }

    @Test
    void inTheHourThatComesTwiceATimeOfDayComesOnce() {
        assertThat(firings("30 1 * * *", "2026-10-24T12:00:00Z", "2026-10-26T12:00:00Z"))
                .containsExactly("2026-10-25T00:30:00Z", "2026-10-26T01:30:00Z");
        assertThat(firings("*/20 1 * * *", "2026-10-24T12:00:00Z", "2026-10-25T12:00:00Z"))
                .containsExactly("2026-10-25T00:00:00Z", "2026-10-25T00:20:00Z", "2026-10-25T00:40:00Z");
        assertThat(firings("30 1 * * *", "2026-10-25T01:10:00Z", "2026-10-26T12:00:00Z"))
                .as("begun in the second of the two hours")
                .containsExactly("2026-10-26T01:30:00Z");
    }

    @Test
    void inTheNightWithoutThatHourItComesAllTheSame() {
        assertThat(firings("30 1 * * *", "2026-03-28T12:00:00Z", "2026-03-30T12:00:00Z"))
                .containsExactly("2026-03-29T01:30:00Z", "2026-03-30T00:30:00Z");
    }

    @Test
    void everyHourIsEveryHourThatPasses() {
        assertThat(firings("0 * * * *", "2026-10-24T22:30:00Z", "2026-10-25T03:30:00Z"))
                .containsExactly(
                        "2026-10-24T23:00:00Z",
                        "2026-10-25T00:00:00Z",
                        "2026-10-25T01:00:00Z",
                        "2026-10-25T02:00:00Z",
                        "2026-10-25T03:00:00Z");
        assertThat(firings("30 * * * *", "2026-03-28T23:00:00Z", "2026-03-29T03:00:00Z"))
                .containsExactly(
                        "2026-03-28T23:30:00Z", "2026-03-29T00:30:00Z", "2026-03-29T01:30:00Z", "2026-03-29T02:30:00Z");
    }

    @Test
    void aDayThatNeverComesFiresNever() {
        assertThat(Schedule.of("0 6 30 2 *").after(Instant.parse("2026-01-01T00:00:00Z"), DUBLIN))
                .isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "* * * *",
                "* * * * * *",
                "60 * * * *",
                "0 25 * * *",
                "x * * * *",
                "@daily",
                "0 6 * * 8",
                "0 0 0 * *"
            })
    void whatIsNoScheduleIsRefused(String text) {
        assertThatIllegalArgumentException().isThrownBy(() -> Schedule.of(text));
    }
}
