package servitor.core.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import servitor.core.engine.History.Broken;
import servitor.core.engine.History.Mutation;
import servitor.core.handbook.Edition;

/**
 * Histories by the hundred thousand over the real engine, each out of a seed. A failing one says how to play it again:
 * {@code mvn test -pl core -Dtest=SimulationTests -Dseed=N}. {@code -Dhistories=N} plays more or fewer.
 */
class SimulationTests {
    private static final int HISTORIES = Integer.getInteger("histories", 15_000);
    private static final int HANDBOOKS = 100;
    private static final List<Edition> EDITIONS = IntStream.range(0, HANDBOOKS)
            .parallel()
            .mapToObj(RandomHandbook::edition)
            .toList();

    /** What is broken in the history of this seed; empty when everything holds. */
    private static Optional<String> fault(long seed, Mutation mutation) {
        History history = new History(seed, EDITIONS.get((int) (seed % HANDBOOKS)), mutation);
        try {
            history.play();
            return Optional.empty();
        } catch (Broken | RuntimeException e) {
            return Optional.of("seed " + seed + ": " + e + "\nPlay it again with -Dtest=SimulationTests -Dseed=" + seed
                    + "\n" + history.story());
        }
    }

    @Test
    void whateverHappensEverythingHolds() {
        Long one = Long.getLong("seed");
        LongStream seeds = one == null ? LongStream.range(0, HISTORIES) : LongStream.of(one);
        Optional<String> fault = seeds.parallel()
                .mapToObj(seed -> fault(seed, Mutation.NONE))
                .flatMap(Optional::stream)
                .findAny();
        assertThat(fault).isEmpty();
        System.out.println("Simulated " + (one == null ? HISTORIES : 1) + " histories.");
    }

    @ParameterizedTest
    @EnumSource(names = "NONE", mode = EnumSource.Mode.EXCLUDE)
    void anEngineBrokenOnPurposeIsFoundOut(Mutation mutation) {
        List<Long> found = new ArrayList<>();
        for (long seed = 0; seed < 3_000 && found.isEmpty(); seed++) {
            if (fault(seed, mutation).isPresent()) {
                found.add(seed);
            }
        }
        assertThat(found).as("histories that notice %s", mutation).isNotEmpty();
    }

    @Test
    void theSameSeedIsTheSameHistory() {
        History one = new History(7, EDITIONS.get(7), Mutation.NONE);
        History other = new History(7, EDITIONS.get(7), Mutation.NONE);
        one.play();
        other.play();
        assertThat(one.story()).isEqualTo(other.story()).contains("run-finished");
    }
}
