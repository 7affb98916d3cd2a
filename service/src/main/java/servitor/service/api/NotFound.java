package servitor.service.api;

/** There is no such thing, or not for this person. */
final class NotFound extends RuntimeException {
    NotFound(String what, String id) {
        super("There is no " + what + " ‘" + id + "’ that you could see.");
    }

    NotFound(String message) {
        super(message);
    }
}
