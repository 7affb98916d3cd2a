package servitor.core.handbook;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.EnumMap;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * When a desk works. Time is counted as it passes: an hour that clocks skip in spring isn't worked, and one that they repeat in autumn
 * is worked twice.
 *
 * @param days from when to when it works, by day of the week; a day that is missing is free
 * @param holidays days on which it doesn't
 */
public record WorkingHours(Map<DayOfWeek, Span> days, Set<LocalDate> holidays) {
    private static final int MOST_DAYS = 3_660;

    /** From one time of a day to a later one. */
    public record Span(LocalTime from, LocalTime to) {
        public Span {
            if (!from.isBefore(to)) {
                throw new IllegalArgumentException("work ends after it begins");
            }
        }
    }

    public WorkingHours {
        days = days.isEmpty() ? Map.of() : new EnumMap<>(days);
        holidays = Set.copyOf(holidays);
    }

    /** When so much working time has passed since {@code from}; null when that isn't within ten years. */
    public @Nullable Instant after(Instant from, Duration working, ZoneId zone) {
        LocalDate day = from.atZone(zone).toLocalDate();
        Duration left = working;
        for (int i = 0; i < MOST_DAYS; i++, day = day.plusDays(1)) {
            Span span = holidays.contains(day) ? null : days.get(day.getDayOfWeek());
            if (span == null) {
                continue;
            }
            Instant begins = later(day.atTime(span.from()).atZone(zone).toInstant(), from);
            Instant ends = day.atTime(span.to()).atZone(zone).toInstant();
            if (begins.isBefore(ends)) {
                Duration open = Duration.between(begins, ends);
                if (open.compareTo(left) >= 0) {
                    return begins.plus(left);
                }
                left = left.minus(open);
            }
        }
        return null;
    }

    private static Instant later(Instant one, Instant other) {
        return one.isAfter(other) ? one : other;
    }
}
