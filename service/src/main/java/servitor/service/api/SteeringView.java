package servitor.service.api;

import java.util.List;
import org.jspecify.annotations.Nullable;
import servitor.core.run.RunState;
import servitor.core.run.Steering;
import servitor.core.run.Steering.Said;
import servitor.service.runs.TroubleRow;

/**
 * What somebody's words about a run are read as, and what would be done; nothing of it is done by reading.
 *
 * @param said {@code go}, {@code change}, {@code skip}, {@code stop} or {@code unclear}
 * @param does what would be done: {@code resume}, {@code retry}, {@code decide}, {@code tell}, {@code skip}, {@code stop} or {@code nothing}
 * @param text what the agent would be told; otherwise the words
 * @param trouble what would be retried or skipped
 * @param approval the sheet that is decided on, by whoever may, on its own page
 * @param words all of it in a sentence
 */
record SteeringView(
        String said,
        String does,
        String text,
        @Nullable String trouble,
        @Nullable String approval,
        String words) {
    private static final String CHOICES = " Say ‘go ahead’, ‘skip that’, ‘stop’, or what should be different.";

    /** What words come to where a run stands; {@code asked} is the approval it waits for, if it does. */
    static SteeringView of(String words, RunState run, List<TroubleRow> troubles, @Nullable String asked) {
        Steering read = Steering.read(words);
        if (run.status().ended() && troubles.isEmpty()) {
            return nothing(read, "The run has ended, so nothing of it can be steered.");
        }
        TroubleRow trouble = troubles.isEmpty() ? null : troubles.get(0);
        return switch (read.said()) {
            case GO -> go(read, run, trouble, asked);
            case SKIP ->
                trouble == null
                        ? nothing(read, "Nothing went wrong that could be skipped.")
                        : about(read, "skip", trouble, "Go on behind ‘" + trouble.step() + "’, which went wrong.");
            case STOP ->
                new SteeringView(
                        Said.STOP.word(), "stop", read.text(), null, null, "End the run and leave the case to people.");
            case CHANGE ->
                run.status().ended()
                        ? nothing(read, "The run stands still after trouble: retry it, skip the step, or take over.")
                        : new SteeringView(
                                Said.CHANGE.word(),
                                "tell",
                                read.text(),
                                null,
                                null,
                                "Tell the agent, from its next step on: ‘" + read.text() + "’");
            case UNCLEAR -> nothing(read, "That isn’t clear, so nothing is done." + CHOICES);
        };
    }

    private static SteeringView go(Steering read, RunState run, @Nullable TroubleRow trouble, @Nullable String asked) {
        if (trouble != null) {
            return about(read, "retry", trouble, "Try ‘" + trouble.step() + "’ once more.");
        } else if (run.isPaused()) {
            return new SteeringView(read.said().word(), "resume", read.text(), null, null, "Let the paused run go on.");
        } else if (asked != null) {
            return new SteeringView(
                    read.said().word(),
                    "decide",
                    read.text(),
                    null,
                    asked,
                    "An answer is waited for; it is given on the sheet of " + asked + ", by whoever is asked.");
        }
        return nothing(read, "Nothing waits for a word to go on.");
    }

    private static SteeringView about(Steering read, String does, TroubleRow trouble, String words) {
        return new SteeringView(read.said().word(), does, read.text(), trouble.id(), null, words);
    }

    private static SteeringView nothing(Steering read, String why) {
        return new SteeringView(read.said().word(), "nothing", read.text(), null, null, why);
    }
}
