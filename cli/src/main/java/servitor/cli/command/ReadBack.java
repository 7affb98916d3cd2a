package servitor.cli.command;

import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;

/** Words are read back to whoever said them before they count. */
final class ReadBack {
    private ReadBack() {}

    /**
     * Whether words count: they mean something that can be done, and {@code yes} was given or whoever said them agrees. Throws
     * {@link Trouble} when they don't.
     *
     * @param said what they were read as, and {@code words} what that would do
     */
    static boolean counts(Servitor servitor, String said, String words, boolean doable, boolean yes) {
        if (!yes || !doable) {
            servitor.err().println("Read as ‘" + said + "’: " + words);
            servitor.err().flush();
        }
        if (doable && !yes && !servitor.agreed("Is that meant?")) {
            throw new Trouble(ExitCode.NO, "Nothing was done; --yes has it count without asking.");
        }
        return doable;
    }
}
