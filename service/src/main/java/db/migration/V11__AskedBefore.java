package db.migration;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import org.flywaydb.core.api.migration.BaseJavaMigration;
import org.flywaydb.core.api.migration.Context;
import servitor.core.approval.ApprovalRequest;
import servitor.core.json.Json;

/** Notes who is asked by the approvals that were there before that had a table of its own. */
public final class V11__AskedBefore extends BaseJavaMigration {
    @Override
    public void migrate(Context context) throws SQLException {
        Connection connection = context.getConnection();
        try (Statement read = connection.createStatement();
                ResultSet all = read.executeQuery("select id, request from approval");
                PreparedStatement insert =
                        connection.prepareStatement("insert into approval_asked (approval_id, name) values (?, ?)")) {
            while (all.next()) {
                for (String name : Json.read(all.getString("request"), ApprovalRequest.class)
                        .of()) {
                    insert.setString(1, all.getString("id"));
                    insert.setString(2, name);
                    insert.executeUpdate();
                }
            }
        }
    }
}
