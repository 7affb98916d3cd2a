package servitor.core.engine;

import java.time.Instant;
import java.util.Locale;
import servitor.core.run.Command;

/**
 * An emergency stop: while it stands, nothing new leaves by what it names.
 *
 * @param name of the agent, tool, connection or page
 * @param by who stopped it
 */
public record Stop(What what, String name, String reason, String by, Instant at) {

    /** What can be stopped. */
    public enum What {
        AGENT,
        TOOL,
        CONNECTION,
        PAGE;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** The one of this word; throws {@link IllegalArgumentException} when there is none. */
        public static What of(String word) {
            for (What what : values()) {
                if (what.word().equals(word)) {
                    return what;
                }
            }
            throw new IllegalArgumentException(
                    "‘" + word + "’ can't be stopped; an agent, a tool, a connection or a page can.");
        }
    }

    /**
     * Whether work is held back by this.
     *
     * @param page that the work's run follows
     * @param agent of that page
     */
    public boolean holds(Work work, String page, String agent) {
        return switch (what) {
            case AGENT ->
                agent.equals(name)
                        || work.command() instanceof Command.CallTool call
                                && (call.call().agent().equals(name)
                                        || call.call().chain().contains(name));
            case PAGE -> page.equals(name);
            case CONNECTION -> work.connection().equals(name);
            case TOOL ->
                work.command() instanceof Command.CallTool call
                        && call.call().tool().equals(name);
        };
    }

    /** What a run that is held back waits for, in words for people. */
    public String words() {
        return "the " + what.word() + " ‘" + name + "’ to be let go on; stopped: " + reason;
    }
}
