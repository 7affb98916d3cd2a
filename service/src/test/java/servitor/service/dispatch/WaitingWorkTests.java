package servitor.service.dispatch;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import servitor.core.engine.Work;
import servitor.core.run.Command;

/** What the dispatcher remembers of work that waits. */
class WaitingWorkTests {
    private static final Instant NOW = Instant.parse("2026-11-28T10:00:00Z");
    private final WaitingWork waiting = new WaitingWork();

    private static Work work(String id, String connection, Instant due) {
        return new Work(
                id, "R-1", new Command.SetTimer(id, due), connection, Work.Stage.PENDING, null, null, 0, due, false);
    }

    private List<String> take(int most, int room) {
        return waiting.take(NOW, most, line -> room).stream().map(Work::id).toList();
    }

    @Test
    void whatWaitsLongestIsTakenFirstAndOnlyOnce() {
        waiting.add(List.of(work("R-1-2", "fares", NOW), work("R-1-1", "models", NOW.minusSeconds(5))));
        waiting.add(List.of(work("R-1-2", "fares", NOW)));

        assertThat(take(10, 10)).containsExactly("R-1-1", "R-1-2");
        assertThat(take(10, 10)).isEmpty();
    }

    @Test
    void whatFallsDueLaterWaitsAndSaysWhen() {
        waiting.add(List.of(work("R-1-1", "", NOW.plusMillis(300))));

        assertThat(take(10, 10)).isEmpty();
        assertThat(waiting.firstDue(NOW)).isEqualTo(NOW.plusMillis(300));
    }

    @Test
    void whatTheTablesSayLaterOfWhenItIsDueCounts() {
        waiting.add(List.of(work("R-1-1", "", NOW.plusNanos(456)))); // as it was in memory
        assertThat(take(10, 10)).isEmpty();

        waiting.add(List.of(work("R-1-1", "", NOW))); // as the tables keep it, without what is below a microsecond
        assertThat(take(10, 10)).containsExactly("R-1-1");
        assertThat(take(10, 10)).isEmpty();
    }

    @Test
    void aConnectionWithoutRoomHoldsUpNoOtherAndLosesNothing() {
        waiting.add(List.of(
                work("R-1-1", "slow", NOW.minusSeconds(9)),
                work("R-1-2", "slow", NOW.minusSeconds(8)),
                work("R-1-3", "fares", NOW)));

        assertThat(waiting.take(NOW, 10, line -> line.equals("slow") ? 0 : 8))
                .extracting(Work::id)
                .containsExactly("R-1-3");
        assertThat(take(1, 8)).containsExactly("R-1-1");
        assertThat(take(1, 8)).containsExactly("R-1-2");
    }

    @Test
    void whatIsMoreThanItRemembersIsLookedForOnceThereIsRoom() {
        waiting.add(IntStream.range(0, 250)
                .mapToObj(i -> work("R-1-" + i, "fares", NOW))
                .toList());
        assertThat(waiting.wanted("fares")).isZero();

        assertThat(take(1_000, 1_000)).hasSize(200);
        assertThat(waiting.mayHaveMore()).isTrue();
        assertThat(waiting.mayHaveMore()).as("that was said").isFalse();
        assertThat(waiting.wanted("fares")).isPositive();
    }
}
