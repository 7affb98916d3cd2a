package servitor.service.api;

/** What was asked for doesn't fit how things stand now. */
final class Conflict extends RuntimeException {
    private final String title;

    Conflict(String title, String message) {
        super(message);
        this.title = title;
    }

    String title() {
        return title;
    }
}
