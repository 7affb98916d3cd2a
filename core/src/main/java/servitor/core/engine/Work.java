package servitor.core.engine;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import servitor.core.run.Command;
import servitor.core.run.RunState;

/**
 * A command of a run that waits to be carried out, with who has taken it.
 *
 * @param id the command's id: the idempotency key of every try
 * @param command a {@link Command.CallTool}, {@link Command.AskModel}, {@link Command.ReadDocument} or {@link Command.SetTimer}
 * @param connection what it goes out by; empty when it needs none
 * @param owner who carries it out; null when nobody does
 * @param leaseUntil until when that is believed
 * @param attempts how often it has been taken
 * @param due not before then
 * @param sent whether any try may have reached the outside system
 */
public record Work(
        String id,
        String run,
        Command command,
        String connection,
        Stage stage,
        @Nullable String owner,
        @Nullable Instant leaseUntil,
        int attempts,
        Instant due,
        boolean sent) {

    /** How far it has come. */
    public enum Stage {
        PENDING,
        TAKEN,
        DONE,
        /** Its run is paused. */
        HELD,
        /** An emergency stop holds it back. */
        STOPPED,
        /** It broke again and again in ways nobody foresaw; a person takes it up. */
        STUCK,
        /** It may have happened; a person settles it. */
        IN_DOUBT,
        /** The run ended before it was carried out. */
        DROPPED;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
        }

        /** The stage of this word; throws {@link IllegalArgumentException} when there is none. */
        public static Stage of(String word) {
            return valueOf(word.toUpperCase(java.util.Locale.ROOT).replace('-', '_'));
        }
    }

    /** What the outside system knows it by; its own id where nothing outside does. */
    public String key() {
        return command instanceof Command.CallTool call ? call.key() : id;
    }

    /** The same, taken. */
    Work taken(String by, Instant until) {
        return new Work(id, run, command, connection, Stage.TAKEN, by, until, attempts, due, sent);
    }

    /** The same in another stage. */
    public Work in(Stage now, @Nullable String by, @Nullable Instant until, int tries, Instant dueThen) {
        return new Work(id, run, command, connection, now, by, until, tries, dueThen, sent);
    }

    /** The same, which may have reached the outside system. */
    public Work maybeSent() {
        return new Work(id, run, command, connection, stage, owner, leaseUntil, attempts, due, true);
    }

    /** The same, held back by an emergency stop. */
    Work stopped() {
        return new Work(id, run, command, connection, Stage.STOPPED, null, null, attempts, due, sent);
    }

    static Work of(RunState run, String id, Command command, String connection, Instant due) {
        Stage stage = run.isPaused() ? Stage.HELD : Stage.PENDING;
        return new Work(id, run.id(), command, connection, stage, null, null, 0, due, false);
    }
}
