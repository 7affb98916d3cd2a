package servitor.core.rehearsal;

import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import servitor.core.handbook.Problem;
import servitor.core.run.RunMachine;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;

/**
 * When each run went on then. A house that was down, or that was stopped at once, sees late that some time is up: by the pace
 * of what was it sees that as late again, and what came in between comes first. That is told as long as a run does what it did, with
 * the same times to keep.
 */
final class Pace {
    /** How something was carried out, which tells nothing of where a run stood. */
    private static final Set<TrailWord> CARRIED_OUT = EnumSet.of(
            TrailWord.CALL_SENT,
            TrailWord.CALL_ANSWERED,
            TrailWord.CALL_FAILED,
            TrailWord.TRY_AGAIN,
            TrailWord.TAKEN_UP_AGAIN,
            TrailWord.HELD_BACK,
            TrailWord.TRANSCRIPT,
            TrailWord.ANSWER_REFUSED,
            TrailWord.APPROVAL_REMINDED,
            TrailWord.NOTED,
            TrailWord.LATE);

    /** What people do to a run wherever it stands. */
    private static final Set<TrailWord> STEERED =
            EnumSet.of(TrailWord.RUN_PAUSED, TrailWord.RUN_RESUMED, TrailWord.AGENT_ADVISED);

    /** What a run begins once it has its answers. */
    private static final Set<TrailWord> BEGUN = EnumSet.of(
            TrailWord.STEP,
            TrailWord.MODEL_ASKED,
            TrailWord.APPROVAL_OPENED,
            TrailWord.WAITING,
            TrailWord.PAGE_FOLLOWED,
            TrailWord.LOOKING_UP);

    private final Map<String, List<RecordedEntry>> then = new HashMap<>();
    private final List<RecordedEntry> trail;
    private final List<RecordedEntry> again;
    private int heard;

    /**
     * That of runs as they stand on a trail.
     *
     * @param again what comes of them now, which grows
     */
    Pace(List<RecordedEntry> trail, List<RecordedEntry> again) {
        this.trail = trail;
        this.again = again;
        trail.stream()
                .filter(Pace::goesOn)
                .forEach(entry -> then.computeIfAbsent(entry.entry().runId(), id -> new ArrayList<>())
                        .add(entry));
    }

    /**
     * A moment at which a run went on.
     *
     * @param entries from there on
     */
    record Moment(List<RecordedEntry> entries) {
        Instant at() {
            return entries.get(0).entry().at();
        }

        /** Whether the time of its page was up, before it began anything new. */
        boolean pageIsUp() {
            return entries.stream()
                    .takeWhile(entry -> entry.entry().at().equals(at()) && !isOneOf(entry, BEGUN))
                    .anyMatch(Pace::isPageUp);
        }

        /** Whether it had waited long enough. */
        boolean waitIsOver() {
            return isWaitOver(entries.get(0));
        }

        /** Whether people hadn't answered in time. */
        boolean expires() {
            return is(entries.get(0), TrailWord.APPROVAL_EXPIRED);
        }
    }

    /** When a run goes on next by what was; empty when that isn't known. */
    Optional<Moment> next(String run) {
        List<RecordedEntry> toCome = toCome(run);
        int steered = 0;
        while (steered < toCome.size() && isOneOf(toCome.get(steered), STEERED)) {
            steered++;
        }
        return steered == toCome.size()
                ? Optional.empty()
                : Optional.of(new Moment(toCome.subList(steered, toCome.size())));
    }

    /**
     * Where on the trail a run went on next, or, where that isn't known, where begins what was at a time: of what happened at the same
     * time, one thing was first.
     */
    long place(String run, Instant at) {
        return toCome(run).stream()
                .findFirst()
                .or(() -> trail.stream()
                        .filter(entry -> !entry.entry().at().isBefore(at))
                        .findFirst())
                .map(entry -> entry.entry().seq())
                .orElse(Long.MAX_VALUE);
    }

    private List<RecordedEntry> toCome(String run) {
        for (; heard < again.size(); heard++) {
            hear(again.get(heard));
        }
        return then.getOrDefault(run, List.of());
    }

    /** A run that does something else from here on goes on at a pace of its own. */
    private void hear(RecordedEntry now) {
        List<RecordedEntry> left = then.getOrDefault(now.entry().runId(), List.of());
        if (goesOn(now) && !left.isEmpty()) {
            then.put(now.entry().runId(), isSame(left.get(0), now) ? left.subList(1, left.size()) : List.of());
        }
    }

    private static boolean isSame(RecordedEntry one, RecordedEntry other) {
        return one.entry().what().equals(other.entry().what())
                && one.entry().step().equals(other.entry().step())
                && text(one, "until").equals(text(other, "until"));
    }

    private static boolean goesOn(RecordedEntry entry) {
        return !entry.entry().runId().isEmpty() && !isOneOf(entry, CARRIED_OUT);
    }

    private static boolean isOneOf(RecordedEntry entry, Set<TrailWord> words) {
        return TrailWord.of(entry.entry().what()).filter(words::contains).isPresent();
    }

    private static boolean is(RecordedEntry entry, TrailWord word) {
        return entry.entry().what().equals(word.word());
    }

    private static String text(RecordedEntry entry, String field) {
        return entry.data() == null ? "" : entry.data().path(field).asString("");
    }

    private static boolean isProblem(RecordedEntry entry, Problem problem) {
        return is(entry, TrailWord.PROBLEM) && text(entry, "problem").equals(problem.word());
    }

    /** Whether it stands there that the time of a page was up. */
    static boolean isPageUp(RecordedEntry entry) {
        return isProblem(entry, Problem.EXHAUSTED) && text(entry, "detail").startsWith(RunMachine.OUT_OF_TIME);
    }

    private static boolean isWaitOver(RecordedEntry entry) {
        return isProblem(entry, Problem.EXPIRED)
                || is(entry, TrailWord.ARRIVED) && text(entry, "what").equals("time")
                || is(entry, TrailWord.CALL_PROPOSED); // to look up what is in doubt
    }
}
