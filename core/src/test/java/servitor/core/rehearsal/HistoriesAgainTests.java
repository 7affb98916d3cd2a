package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
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
    private static Optional<String> fault(long seed, AtomicInteger again) {
        Edition edition = edition(seed);
        List<Decided> all = decided(History.punctual(seed, edition), edition);
        again.addAndGet(all.size());
        return all.stream()
                .flatMap(one -> difference(one).stream())
                .findFirst()
                .map(found -> "seed " + seed + ", " + found);
    }

    private static Optional<String> difference(Decided one) {
        if (!recorded(one.past()).left().isEmpty()) {
            return Optional.of(one.past().caseId() + " isn't all kept: "
                    + recorded(one.past()).left());
        }
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

    @Test
    void whatCameOfAStormIsDecidedTheSame() {
        Long one = Long.getLong("seed");
        AtomicInteger again = new AtomicInteger();
        LongStream seeds = one == null ? LongStream.range(0, HISTORIES) : LongStream.of(one);
        List<String> faults = seeds.parallel()
                .mapToObj(seed -> fault(seed, again))
                .flatMap(Optional::stream)
                .limit(Integer.getInteger("most", 3))
                .toList();
        assertThat(faults).isEmpty();
        assertThat(again.get()).as("cases that nobody steered").isGreaterThan(one == null ? HISTORIES / 2 : 0);
        System.out.println("Decided " + again.get() + " cases of storms again.");
    }

    /**
     * Where clocks were set back, timers came late, and things were stopped at once, the answers don't tell what came first. That is said,
     * but for what no trail of a case shows: how long a stop held a timer, and what other cases had used by then.
     */
    @Test
    void whereTheHouseWasLateItIsSaid() {
        List<Decided> all = LongStream.range(0, HISTORIES)
                .parallel()
                .mapToObj(seed -> decided(History.unpunctual(seed, edition(seed)), edition(seed)))
                .flatMap(List::stream)
                .toList();
        List<Decided> unknown = all.stream()
                .filter(one -> one.made() instanceof LookBack.NotKnowable)
                .toList();
        assertThat(unknown)
                .hasSizeBetween(1, all.size() / 40)
                .allMatch(one -> recorded(one.past()).late());
        assertThat(all.stream().filter(one -> one.made() instanceof LookBack.Other))
                .hasSizeLessThan(Math.max(2, all.size() / 200));
    }
}
