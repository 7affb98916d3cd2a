package servitor.service.ledger;

import java.sql.Connection;
import java.sql.SQLException;
import org.h2.api.Trigger;

/** Refuses to change or remove entries of the trail, whoever asks the database to. */
public final class AppendOnly implements Trigger {
    @Override
    public void fire(Connection connection, Object[] before, Object[] after) throws SQLException {
        throw new SQLException("The trail is append-only: its entries can't be changed or removed.");
    }
}
