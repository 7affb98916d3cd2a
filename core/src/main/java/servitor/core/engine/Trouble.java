package servitor.core.engine;

import java.time.Instant;
import servitor.core.run.RunState;

/**
 * Something that went wrong and waits for a person to see to it.
 *
 * @param run the run it concerns
 * @param work the work it concerns; empty when it is none in particular
 * @param step where the run was
 * @param problem its name, such as {@code unavailable}
 * @param detail what is known of it
 */
public record Trouble(
        String id,
        What what,
        String caseId,
        String run,
        String work,
        String step,
        String problem,
        String detail,
        Instant at) {

    /** The id of the trouble with a run that failed where it is. */
    public static String ofFailed(RunState run) {
        return run.id() + "-at-" + run.used().visits();
    }

    /** What sort of trouble. */
    public enum What {
        /** A run came to a step that failed, and its page had no way for that. */
        FAILED,
        /** Work broke again and again in ways nobody foresaw, and isn't tried any more. */
        STUCK,
        /** An answer came after somebody had settled what it was about. */
        LATE,
        /** A mail about the case didn't arrive. */
        UNDELIVERED,
        /** A run gave the case to people while another run works on it, so that the case doesn't stand with them. */
        HANDED_OVER,
        /** People were asked, and there is nobody who could answer. */
        NOBODY;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
        }

        /** The one of this word; throws {@link IllegalArgumentException} when there is none. */
        public static What of(String word) {
            return valueOf(word.toUpperCase(java.util.Locale.ROOT).replace('-', '_'));
        }
    }
}
