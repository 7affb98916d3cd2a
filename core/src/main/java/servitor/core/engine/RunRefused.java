package servitor.core.engine;

/** A run can't be started or steered like that; the message says why. */
public final class RunRefused extends RuntimeException {
    public RunRefused(String message) {
        super(message);
    }
}
