package servitor.service.ledger;

import java.nio.file.Path;

/** The database doesn't hold what was acknowledged before: its newest rows are gone, or it is another database. */
public final class LedgerBehind extends RuntimeException {
    private final transient Path file;

    LedgerBehind(Path file, HeadRow acknowledged, long there) {
        super("The trail in the database ends at entry " + there + ", but entry " + acknowledged.seq()
                + " was acknowledged (" + file + " says so)"
                + (there >= acknowledged.seq() ? "; the entry of that number is another one" : "") + ".");
        this.file = file;
    }

    private LedgerBehind(Path file, String message) {
        super(message);
        this.file = file;
    }

    /** The database holds entries, and nothing says how many there should be. */
    static LedgerBehind headMissing(Path file, long there) {
        return new LedgerBehind(
                file,
                "The trail in the database ends at entry " + there
                        + ", but the file that says how far it was acknowledged (" + file
                        + ") is missing or can't be read.");
    }

    public Path file() {
        return file;
    }
}
