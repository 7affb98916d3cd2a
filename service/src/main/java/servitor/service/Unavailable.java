package servitor.service;

/** The service can't take this now, and nothing of it was kept: it is ending, or has too much to write. */
public final class Unavailable extends RuntimeException {
    public Unavailable(String message) {
        super(message);
    }
}
