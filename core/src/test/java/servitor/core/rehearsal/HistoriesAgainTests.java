package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BiFunction;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import servitor.core.engine.History;
import servitor.core.engine.RandomHandbook;
import servitor.core.handbook.Edition;
import servitor.core.rehearsal.LookBack.Decided;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.rehearsal.LookBack.Same;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;

/**
 * Storms over the real engine, with crashes, lost work, tools that fall silent, people who answer late and twice, and others who pause,
 * advise, stop, mend and resolve: what their cases came to is decided the same again, entry by entry, but for how it was carried out.
 * {@code -Dhistories=N} plays more or fewer.
 */
class HistoriesAgainTests {
    private static final int HISTORIES = Integer.getInteger("histories", 15_000) / 10;
    private static final int HANDBOOKS = 100;
    private static final List<Edition> EDITIONS = IntStream.range(0, HANDBOOKS)
            .parallel()
            .mapToObj(RandomHandbook::edition)
            .toList();

    /** What was true of it all the same: how often something was sent, and what came too late to count. */
    private static final List<String> CARRIED_OUT = List.of(
            TrailWord.CASE_OPENED.word(),
            TrailWord.CALL_SENT.word(),
            TrailWord.TRY_AGAIN.word(),
            TrailWord.TAKEN_UP_AGAIN.word(),
            TrailWord.HELD_BACK.word(),
            TrailWord.TRANSCRIPT.word(),
            TrailWord.ANSWER_REFUSED.word(),
            TrailWord.APPROVAL_REMINDED.word(),
            TrailWord.NOTED.word(),
            TrailWord.LATE.word());

    private static Recording.Made recorded(Past past) {
        return Recording.of(past.then(), "again", "", past.about(), past.trail(), past.state(), past.papers());
    }

    /** The calls of which it was said what had come of them, or that came too late. */
    private static Set<String> late(List<RecordedEntry> trail) {
        Set<String> settled = new HashSet<>();
        trail.stream()
                .filter(entry -> entry.entry().what().equals(TrailWord.SETTLED.word())
                        || entry.entry().what().equals(TrailWord.NOTED.word()))
                .forEach(entry -> settled.add(entry.data().path("key").asString()));
        return settled;
    }

    /** The entries of each run, but for their times; of what happened at the same time it isn't told what was first. */
    private static List<String> told(List<RecordedEntry> trail, Set<String> late) {
        return trail.stream()
                .filter(entry -> !CARRIED_OUT.contains(entry.entry().what()))
                .filter(entry -> !entry.entry().what().startsWith("call-")
                        || !late.contains(entry.data().path("key").asString()))
                .map(HistoriesAgainTests::told)
                .sorted()
                .toList();
    }

    private static String told(RecordedEntry entry) {
        String all = entry.entry().runId() + " ‘" + entry.entry().step() + "’ "
                + entry.entry().what() + " " + entry.data();
        return all.replaceAll("\\d{4}-\\d\\d-\\d\\dT[\\d:.]+Z", "then")
                .replaceAll("used: [\\d.]+", "used") // what was sent at that moment, in other cases, too
                .replaceAll("\"note\":\"[^\"]*\"", "a note")
                .replaceAll(",?\"(model|tokens|material|shown)\":(\"[^\"]*\"|\\d+)", "");
    }

    private static Edition edition(long seed) {
        return EDITIONS.get((int) (seed % HANDBOOKS));
    }

    private static List<Decided> decided(History history, Edition edition) {
        history.play();
        List<Past> pasts = history.pasts();
        LookBack look = new LookBack(edition);
        List<Decided> all = new ArrayList<>();
        pasts.forEach(past -> all.addAll(look.take(past, null)));
        all.addAll(look.rest());
        assertThat(all).hasSameSizeAs(pasts);
        return all;
    }

    /** What is wrong with the history of a seed; empty when nothing is. */
    private static Optional<String> fault(long seed, BiFunction<Long, Edition, History> storm, AtomicInteger again) {
        Edition edition = edition(seed);
        List<Decided> all = decided(storm.apply(seed, edition), edition);
        again.addAndGet(all.size());
        return all.stream()
                .flatMap(one -> difference(one).stream())
                .findFirst()
                .map(found -> "seed " + seed + ", " + found);
    }

    static Optional<String> difference(Decided one) {
        if (!(one.made() instanceof Same)) {
            return Optional.of(one.past().caseId() + ": " + one.made());
        }
        Set<String> late = late(one.past().trail());
        List<String> then = told(one.past().trail(), late);
        List<String> again = told(one.made().played().trail(), late);
        return then.equals(again)
                ? Optional.empty()
                : Optional.of(one.past().caseId() + "\n  then  " + without(then, again) + "\n  again "
                        + without(again, then));
    }

    private static List<String> without(List<String> some, List<String> others) {
        List<String> left = new ArrayList<>(some);
        others.forEach(left::remove);
        return left;
    }

    private static void areDecidedTheSame(BiFunction<Long, Edition, History> storm) {
        Long one = Long.getLong("seed");
        AtomicInteger again = new AtomicInteger();
        LongStream seeds = one == null ? LongStream.range(0, HISTORIES) : LongStream.of(one);
        List<String> faults = seeds.parallel()
                .mapToObj(seed -> fault(seed, storm, again))
                .flatMap(Optional::stream)
                .limit(Integer.getInteger("most", 3))
                .toList();
        assertThat(faults).isEmpty();
        assertThat(again.get()).as("cases").isGreaterThan(one == null ? HISTORIES : 0);
        System.out.println("Decided " + again.get() + " cases of storms again.");
    }

    /** What is due happens when it is due. */
    @Test
    void whatCameOfAStormIsDecidedTheSame() {
        areDecidedTheSame(History::punctual);
    }

    /** Timers come late, several things are written at the same moment, and others are stopped at once. */
    @Test
    void whereTheHouseWasLateItIsLateAgain() {
        areDecidedTheSame(History::late);
    }

    @Test
    void nothingIsLeftOutOfWhatWasInTime() {
        List<String> left = LongStream.range(0, HISTORIES / 10)
                .parallel()
                .mapToObj(seed -> {
                    History history = History.punctual(seed, edition(seed));
                    history.play();
                    return history.pasts();
                })
                .flatMap(List::stream)
                .flatMap(past -> recorded(past).left().stream())
                .toList();
        assertThat(left).isEmpty();
    }
}
