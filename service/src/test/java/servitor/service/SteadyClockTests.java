package servitor.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

class SteadyClockTests {
    private static final Instant NOON = Instant.parse("2026-06-01T12:00:00Z");

    private final Machine machine = new Machine();
    private final AtomicLong nanos = new AtomicLong();
    private final SteadyClock clock = new SteadyClock(machine, nanos::get);

    /** The clock of a machine, which people and networks set. */
    private static final class Machine extends Clock {
        private Instant now = NOON;

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

    private void passes(Duration time) {
        machine.now = machine.now.plus(time);
        nanos.addAndGet(time.toNanos());
    }

    @Test
    void itTellsWhatTheMachineTells() {
        assertThat(clock.instant()).isEqualTo(NOON);
        passes(Duration.ofMinutes(3));
        assertThat(clock.instant()).isEqualTo(NOON.plusSeconds(180));
    }

    @Test
    void itTellsNoFinerTimeThanTheTablesKeep() {
        machine.now = NOON.plusNanos(565_318_999);
        assertThat(clock.instant()).isEqualTo(NOON.plusNanos(565_318_000));
        passes(Duration.ofNanos(1));
        assertThat(clock.instant()).isEqualTo(NOON.plusNanos(565_319_000));
    }

    @Test
    void itGoesOnAsFastAsTimePassesWhenTheMachineGoesBackUntilThatHasCaughtUp() {
        clock.instant();
        machine.now = NOON.minus(Duration.ofHours(2));
        assertThat(clock.instant()).isEqualTo(NOON);
        passes(Duration.ofMinutes(1));
        assertThat(clock.instant()).isEqualTo(NOON.plusSeconds(60));
        passes(Duration.ofMinutes(1));
        assertThat(clock.instant()).isEqualTo(NOON.plusSeconds(120));
        machine.now = NOON.plus(Duration.ofHours(1));
        assertThat(clock.instant()).isEqualTo(NOON.plus(Duration.ofHours(1)));
    }

    @Test
    void afterARestartItGoesOnFromTheNewestThatWasKept() {
        Instant kept = NOON.plus(Duration.ofHours(2));
        assertThat(clock.notBefore(kept)).isEqualTo(Duration.ofHours(2));
        passes(Duration.ofSeconds(5));
        assertThat(clock.instant()).isEqualTo(kept.plusSeconds(5));
        assertThat(clock.notBefore(NOON)).isEqualTo(Duration.ZERO);
    }
}
