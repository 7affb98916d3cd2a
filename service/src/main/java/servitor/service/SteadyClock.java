package servitor.service;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.function.LongSupplier;

/**
 * The one clock of the service. It never goes back, even when the machine's clock does: it then goes on from the last time it has
 * told, as fast as time really passes, until the machine's clock has caught up. It tells microseconds, as the tables do: a time that is
 * remembered is the same when it is read. Safe for use by several threads.
 */
public final class SteadyClock extends Clock {
    private final Clock machine;
    private final LongSupplier nanos;
    private Instant last = Instant.MIN;
    private long lastNanos;

    public SteadyClock(Clock machine) {
        this(machine, System::nanoTime);
    }

    /** The same, with what measures how time passes; it only goes forward. */
    SteadyClock(Clock machine, LongSupplier nanos) {
        this.machine = machine;
        this.nanos = nanos;
        this.lastNanos = nanos.getAsLong();
    }

    @Override
    public synchronized Instant instant() {
        Instant told = machine.instant();
        long now = nanos.getAsLong();
        Instant steady = last.equals(Instant.MIN) ? told : last.plusNanos(now - lastNanos);
        last = told.isBefore(last) ? steady : told;
        lastNanos = now;
        return last.truncatedTo(ChronoUnit.MICROS);
    }

    /** Nothing that has been kept may lie in the future: from now on it is at least {@code time}. Says how far the machine is behind. */
    public synchronized Duration notBefore(Instant time) {
        Instant now = instant();
        if (time.isAfter(now)) {
            last = time;
            return Duration.between(now, time);
        }
        return Duration.ZERO;
    }

    @Override
    public ZoneId getZone() {
        return machine.getZone();
    }

    @Override
    public Clock withZone(ZoneId zone) {
        return new SteadyClock(machine.withZone(zone), nanos);
    }
}
