package servitor.service.api;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.mockito.Mockito;
import servitor.service.api.SignInTries.Answer;

class SignInTriesTests {
    private final Clock clock = Mockito.mock(Clock.class);
    private final SignInTries tries = new SignInTries(clock);

    SignInTriesTests() {
        Mockito.when(clock.instant()).thenReturn(Instant.parse("2026-06-01T12:00:00Z"));
        Mockito.when(clock.getZone()).thenReturn(ZoneOffset.UTC);
    }

    private List<Answer> begin(int times, String person, String address) {
        return IntStream.range(0, times)
                .mapToObj(i -> tries.begin(person, address))
                .toList();
    }

    @Test
    void theNinthTryIsNotLookedAt() {
        assertThat(begin(8, "maren", "a")).containsOnly(Answer.TRY);
        assertThat(begin(2, "maren", "a")).containsExactly(Answer.LOCKED_NOW, Answer.LOCKED);
    }

    @Test
    void nobodyLocksOutSomebodyElseAtAnotherAddress() {
        begin(20, "maren", "a");
        assertThat(tries.begin("maren", "b")).isEqualTo(Answer.TRY);
    }

    @Test
    void oneAddressTryingManyNamesIsLocked() {
        for (int i = 0; i < 60; i++) {
            assertThat(tries.begin("person" + i, "a")).isEqualTo(Answer.TRY);
        }
        assertThat(tries.begin("maren", "a")).isEqualTo(Answer.LOCKED_NOW);
        assertThat(tries.begin("maren", "b")).isEqualTo(Answer.TRY);
    }

    @Test
    void oneNameTriedFromManyAddressesIsLocked() {
        for (int i = 0; i < 100; i++) {
            assertThat(tries.begin("maren", "address" + i)).isEqualTo(Answer.TRY);
        }
        assertThat(tries.begin("maren", "another")).isEqualTo(Answer.LOCKED_NOW);
    }

    @Test
    void manyAtTheSameMomentAreNoWayAround() throws Exception {
        CountDownLatch together = new CountDownLatch(1);
        try (var people = new Closing()) {
            List<Future<Answer>> answers = IntStream.range(0, 64)
                    .mapToObj(i -> people.all.submit(() -> {
                        together.await();
                        return tries.begin("maren", "a");
                    }))
                    .toList();
            together.countDown();
            int looked = 0;
            for (Future<Answer> answer : answers) {
                looked += answer.get() == Answer.TRY ? 1 : 0;
            }
            assertThat(looked).isEqualTo(8);
        }
    }

    private static final class Closing implements AutoCloseable {
        private final java.util.concurrent.ExecutorService all = Executors.newFixedThreadPool(16);

        @Override
        public void close() {
            all.shutdownNow();
        }
    }

    @Test
    void waitingAMinuteHelpsAndTryingMeanwhileDoesNotProlongIt() {
        begin(9, "maren", "a");
        Instant start = clock.instant();
        Mockito.when(clock.instant()).thenReturn(start.plus(Duration.ofSeconds(40)));
        assertThat(tries.begin("maren", "a")).isEqualTo(Answer.LOCKED);
        Mockito.when(clock.instant()).thenReturn(start.plus(Duration.ofSeconds(62)));
        assertThat(tries.begin("maren", "a")).isEqualTo(Answer.TRY);
    }

    @Test
    void theRightPasswordForgetsWhatWasCounted() {
        begin(7, "maren", "a");
        tries.succeeded("maren", "a");
        assertThat(begin(8, "maren", "a")).containsOnly(Answer.TRY);
    }
}
