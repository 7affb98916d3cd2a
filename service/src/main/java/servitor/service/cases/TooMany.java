package servitor.service.cases;

/** More than one person may have within some time, or at once. */
public final class TooMany extends RuntimeException {
    public TooMany(String message) {
        super(message);
    }
}
