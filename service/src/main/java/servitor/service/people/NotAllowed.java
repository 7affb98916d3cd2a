package servitor.service.people;

/** Somebody asked for what isn't theirs to see or do. */
public final class NotAllowed extends RuntimeException {
    public NotAllowed(String message) {
        super(message);
    }
}
