package servitor.cli.client;

/** What the process tells its caller. */
public enum ExitCode {
    DONE,
    /** The answer is no: a check found errors, a verification failed, a request was refused for what it says. */
    NO,
    WRONG_USAGE,
    UNREACHABLE,
    NOT_ALLOWED;

    public int number() {
        return ordinal();
    }
}
