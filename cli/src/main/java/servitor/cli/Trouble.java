package servitor.cli;

/** Something a command can't go on after: what to say, and the exit code to end with. */
public final class Trouble extends RuntimeException {
    private final ExitCode code;

    public Trouble(ExitCode code, String message) {
        super(message);
        this.code = code;
    }

    public ExitCode code() {
        return code;
    }
}
