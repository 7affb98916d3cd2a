package servitor.service.runs;

/** A run can't be started or moved like that; the message says why. */
public final class RunRefused extends RuntimeException {
    RunRefused(String message) {
        super(message);
    }
}
