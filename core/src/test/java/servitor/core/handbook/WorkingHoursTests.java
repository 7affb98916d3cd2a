package servitor.core.handbook;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.EnumMap;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.handbook.WorkingHours.Span;

class WorkingHoursTests {
    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");

    private static WorkingHours hours(String from, String to, LocalDate... holidays) {
        Map<DayOfWeek, Span> days = new EnumMap<>(DayOfWeek.class);
        for (int day = 1; day <= 5; day++) {
            days.put(DayOfWeek.of(day), new Span(LocalTime.parse(from), LocalTime.parse(to)));
        }
        return new WorkingHours(days, Set.of(holidays));
    }

    @ParameterizedTest
    @CsvSource({
        "2026-11-30T09:00+01:00, PT4H, 2026-11-30T13:00+01:00, within a day",
        "2026-11-30T06:00+01:00, PT4H, 2026-11-30T12:00+01:00, from before work begins",
        "2026-11-30T14:00+01:00, PT4H, 2026-12-01T10:00+01:00, over night",
        "2026-12-04T15:00+01:00, PT2H, 2026-12-07T09:00+01:00, over a weekend",
        "2026-12-05T11:00+01:00, PT8H, 2026-12-07T16:00+01:00, begun on a Saturday",
        "2026-12-23T15:00+01:00, PT9H, 2026-12-28T16:00+01:00, over holidays and a weekend",
        "2026-11-30T08:00+01:00, PT80H, 2026-12-11T16:00+01:00, two weeks",
    })
    void onlyHoursCountInWhichTheDeskWorks(String from, Duration working, String until, String what) {
        WorkingHours hours = hours("08:00", "16:00", LocalDate.of(2026, 12, 24), LocalDate.of(2026, 12, 25));
        assertThat(hours.after(Instant.parse(instant(from)), working, OSLO))
                .as(what)
                .isEqualTo(Instant.parse(instant(until)));
    }

    private static String instant(String time) {
        return java.time.OffsetDateTime.parse(time).toInstant().toString();
    }

    @Test
    void anHourThatIsSkippedIsntWorkedAndOneThatIsRepeatedIsWorkedTwice() {
        Map<DayOfWeek, Span> night = Map.of(DayOfWeek.SUNDAY, new Span(LocalTime.of(1, 0), LocalTime.of(6, 0)));
        WorkingHours hours = new WorkingHours(night, Set.of());
        assertThat(hours.after(Instant.parse("2026-03-29T00:00:00Z"), Duration.ofHours(2), OSLO))
                .as("01:00 to 04:00 are two hours when clocks go forward")
                .isEqualTo(Instant.parse("2026-03-29T02:00:00Z"));
        assertThat(hours.after(Instant.parse("2026-10-24T23:00:00Z"), Duration.ofHours(6), OSLO))
                .as("01:00 to 06:00 are six hours when clocks go back")
                .isEqualTo(Instant.parse("2026-10-25T05:00:00Z"));
    }

    @Test
    void whoNeverWorksIsNeverThrough() {
        assertThat(new WorkingHours(Map.of(), Set.of()).after(Instant.EPOCH, Duration.ofHours(1), OSLO))
                .isNull();
    }
}
