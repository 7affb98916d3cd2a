package servitor.connectors.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

class DeadlineTests {
    @Test
    void theEarlierOfTwoCounts() {
        Deadline hour = Deadline.in(Duration.ofHours(1));
        assertThat(hour.orIn(Duration.ofHours(2))).isSameAs(hour);
        assertThat(hour.orIn(Duration.ofMinutes(1)).left()).isLessThanOrEqualTo(Duration.ofMinutes(1));
    }

    @Test
    void whatIsOverHasNothingLeftAndNeverStandsForEver() {
        Deadline over = Deadline.in(Duration.ofSeconds(-5));
        assertThat(over.hasPassed()).isTrue();
        assertThat(over.left()).isZero();
        assertThat(over.millis()).isEqualTo(1);
        assertThat(over.orIn(Duration.ofHours(1)).hasPassed()).isTrue();
    }

    @Test
    void whatIsStillGoingOnIsCutOffAndWhatHasEndedIsNot() throws InterruptedException {
        CountDownLatch cutOff = new CountDownLatch(1);
        try (Deadline.Cut cut = Deadline.in(Duration.ofMillis(1)).cut(cutOff::countDown)) {
            assertThat(cutOff.await(10, TimeUnit.SECONDS)).isTrue();
            assertThat(cut.isDone()).isTrue();
        }
        Deadline.Cut ended = Deadline.in(Duration.ofHours(1)).cut(() -> {});
        ended.close();
        assertThat(ended.isDone()).isFalse();
    }
}
