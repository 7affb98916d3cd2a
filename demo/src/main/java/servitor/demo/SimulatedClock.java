package servitor.demo;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that stands still until it is told to go on, or back. Safe for use by several threads. */
public final class SimulatedClock extends Clock {
    private volatile Instant now;

    public SimulatedClock(Instant start) {
        this.now = start;
    }

    public synchronized void pass(Duration time) {
        now = now.plus(time);
    }

    @Override
    public Instant instant() {
        return now;
    }

    @Override
    public ZoneId getZone() {
        return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
        return this;
    }
}
