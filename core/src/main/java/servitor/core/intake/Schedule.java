package servitor.core.intake;

import com.cronutils.model.Cron;
import com.cronutils.model.CronType;
import com.cronutils.model.definition.CronDefinitionBuilder;
import com.cronutils.model.time.ExecutionTime;
import com.cronutils.parser.CronParser;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.zone.ZoneOffsetTransition;
import java.util.Optional;

/**
 * Times that come again, as cron says them: minute, hour, day of the month, month, day of the week (POSIX crontab, with steps and
 * ranges), by the clock on the wall of a time zone.
 *
 * <p>Where the hour is named, a time of day comes once a day: once in the night whose hour comes twice, the first time, and in the
 * night that has no such hour as much later as that night is shorter. Where every hour is meant ({@code *}), each hour that passes
 * counts.
 */
public final class Schedule {
    private static final CronParser PARSER = new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX));
    private static final int LONGEST = 100;
    /** A time of day may be behind us in the hour that comes twice; more often than that in one night there is none. */
    private static final int TRIES = 200;

    private final String text;
    private final ExecutionTime times;
    private final boolean everyHour;

    private Schedule(String text, Cron cron) {
        this.text = text;
        this.times = ExecutionTime.forCron(cron);
        this.everyHour = text.split("\\s+")[1].equals("*");
    }

    /** Throws {@link IllegalArgumentException} saying what is wrong with it. */
    public static Schedule of(String text) {
        String plain = text.strip();
        if (plain.length() > LONGEST || plain.split("\\s+").length != 5) {
            throw new IllegalArgumentException(
                    "it has five parts: minute, hour, day of the month, month, day of the week");
        }
        return new Schedule(plain, PARSER.parse(plain).validate());
    }

    public String text() {
        return text;
    }

    /** The first time after {@code last}; empty when there is none any more. */
    public Optional<Instant> after(Instant last, ZoneId zone) {
        return everyHour ? passing(last, zone) : ofDay(last, zone);
    }

    private Optional<LocalDateTime> next(LocalDateTime last) {
        return times.nextExecution(last.atZone(ZoneOffset.UTC)).map(ZonedDateTime::toLocalDateTime);
    }

    private Optional<Instant> ofDay(Instant last, ZoneId zone) {
        LocalDateTime local = last.atZone(zone).toLocalDateTime();
        for (int tries = 0; tries < TRIES; tries++) {
            Optional<LocalDateTime> next = next(local);
            if (next.isEmpty()) {
                return Optional.empty();
            }
            local = next.get();
            Instant then =
                    local.atZone(zone).toInstant(); // the earlier of two, and later by the gap where there is none
            if (then.isAfter(last)) {
                return Optional.of(then);
            }
        }
        return Optional.empty();
    }

    private Optional<Instant> passing(Instant last, ZoneId zone) {
        return passing(last, last, zone.getRules().getOffset(last), zone);
    }

    /** As long as clocks aren't changed, the wall's clock and the time that passes go together: {@code offset} holds from {@code since} on. */
    private Optional<Instant> passing(Instant last, Instant since, ZoneOffset offset, ZoneId zone) {
        Optional<Instant> next = next(LocalDateTime.ofInstant(last, offset)).map(local -> local.toInstant(offset));
        ZoneOffsetTransition change = zone.getRules().nextTransition(since);
        return next.isEmpty() || change == null || next.get().isBefore(change.getInstant())
                ? next
                : passing(change.getInstant().minusNanos(1), change.getInstant(), change.getOffsetAfter(), zone);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Schedule that && that.text.equals(text);
    }

    @Override
    public int hashCode() {
        return text.hashCode();
    }

    @Override
    public String toString() {
        return text;
    }
}
