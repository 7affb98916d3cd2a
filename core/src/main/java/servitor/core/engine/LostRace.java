package servitor.core.engine;

/** Two changes of the same thing at the same moment: this one came second, and nothing of it was kept. */
public final class LostRace extends RuntimeException {
    public LostRace(String message) {
        super(message);
    }

    public LostRace(String message, Throwable cause) {
        super(message, cause);
    }
}
