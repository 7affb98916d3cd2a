package servitor.core.intake;

/** What a system posted can't be read; the message says what is wrong with it. */
public final class UnreadableEvent extends Exception {
    private static final long serialVersionUID = 1L;

    UnreadableEvent(String message) {
        super(message);
    }
}
