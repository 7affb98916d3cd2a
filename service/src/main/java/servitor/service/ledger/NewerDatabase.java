package servitor.service.ledger;

import java.io.Serial;

/** The database was last written by a newer version, whose tables this one doesn't know. */
public final class NewerDatabase extends RuntimeException {
    @Serial
    private static final long serialVersionUID = 1L;

    NewerDatabase(String there, String known) {
        super("The database was last opened by a newer version of Servitor: its tables are at version " + there
                + ", and this program knows them up to " + known + ".");
    }
}
