package servitor.service.cases;

/** There is no such case, or not for this person: the two aren't told apart. */
public final class NoSuchCase extends RuntimeException {
    public NoSuchCase(String id) {
        super("There is no case ‘" + id + "’ that you could see.");
    }
}
