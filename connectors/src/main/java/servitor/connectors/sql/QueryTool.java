package servitor.connectors.sql;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.SQLTimeoutException;
import java.util.Locale;
import java.util.concurrent.ForkJoinPool;
import servitor.connectors.access.Access;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.Query;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.json.Outside;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Queries of a database over JDBC. Nothing can be changed: the statement is parsed and must be one SELECT, the connection is
 * read-only, and its transaction is always rolled back.
 */
public final class QueryTool implements Connector<Query> {
    private final Drivers drivers;

    public QueryTool() {
        this(Drivers.NONE);
    }

    /** The same, with drivers beside those that ship. */
    public QueryTool(Drivers drivers) {
        this.drivers = drivers;
    }

    @Override
    public Reply call(Access access, Query binding, ObjectNode args, String key, Deadline deadline) {
        ReadOnlyQuery query;
        try {
            query = ReadOnlyQuery.of(binding.sql());
        } catch (IllegalArgumentException e) {
            return new Reply.Refused(Problem.INVALID, String.valueOf(e.getMessage()));
        }
        try (Connection database = connect(access, deadline)) {
            try (PreparedStatement statement = database.prepareStatement(query.text())) {
                for (int i = 0; i < query.inputs().size(); i++) {
                    statement.setObject(
                            i + 1, Values.of(args.path(query.inputs().get(i)), database));
                }
                statement.setQueryTimeout((int) Math.max(1, deadline.left().toSeconds()));
                statement.setMaxRows(binding.rows() + 1);
                try (ResultSet rows = statement.executeQuery()) {
                    return read(rows, binding);
                }
            } finally {
                database.rollback();
            }
        } catch (SQLTimeoutException e) {
            return new Reply.Unknown("the database didn't answer in time", true);
        } catch (SQLException e) {
            return failed(e);
        }
    }

    @Override
    public Reply test(Access access, Deadline deadline) {
        try (Connection database = connect(access, deadline)) {
            return database.isValid((int) Math.max(1, deadline.left().toSeconds()))
                    ? new Reply.Answered(
                            200,
                            Json.object().put("database", database.getMetaData().getDatabaseProductName()))
                    : new Reply.NotSent("the database doesn't answer");
        } catch (SQLException e) {
            return failed(e);
        }
    }

    private Connection connect(Access access, Deadline deadline) throws SQLException {
        Connection database = Database.connect(access, drivers, deadline);
        try {
            database.setNetworkTimeout(ForkJoinPool.commonPool(), deadline.millis() + 1_000);
        } catch (SQLException e) {
            // not every driver has one; the statement's own limit stays
        }
        database.setReadOnly(true);
        database.setAutoCommit(false);
        return database;
    }

    private static Reply read(ResultSet rows, Query binding) throws SQLException {
        ResultSetMetaData columns = rows.getMetaData();
        var list = Json.mapper().createArrayNode();
        int size = 0;
        while (list.size() < binding.rows() && rows.next()) {
            ObjectNode row = Json.object();
            for (int i = 1; i <= columns.getColumnCount(); i++) {
                JsonNode value = Values.column(rows, i);
                size += Outside.length(value);
                row.set(columns.getColumnLabel(i).toLowerCase(Locale.ROOT), value);
            }
            if (size > LONGEST_ANSWER) {
                return new Reply.Unreadable("the database answered with more than " + LONGEST_ANSWER + " characters");
            }
            list.add(row);
        }
        if (!binding.one()) {
            ObjectNode answer = Json.object().put("more", rows.next());
            answer.set("rows", list);
            return new Reply.Answered(200, answer);
        }
        return switch (list.size()) {
            case 0 -> new Reply.Refused(Problem.NOT_FOUND, "no row fits");
            case 1 -> new Reply.Answered(200, list.get(0));
            default -> new Reply.Refused(Problem.INVALID, "several rows fit where one is meant");
        };
    }

    /** What a driver says may hold the statement's values, so that only the class of error is told (SQL standard, SQLSTATE). */
    private static Reply failed(SQLException e) {
        if (e instanceof Database.NoWayThere) {
            return new Reply.Refused(Problem.REFUSED, String.valueOf(e.getMessage()));
        }
        String state = String.valueOf(e.getSQLState());
        if (state.startsWith("08") || state.equals("90067")) {
            return new Reply.NotSent("the database can't be reached");
        } else if (state.startsWith("28")) {
            return new Reply.Refused(Problem.REFUSED, "the database doesn't accept the connection's credentials");
        } else if (state.startsWith("57") || state.equals("HYT00")) {
            return new Reply.Unknown("the database didn't answer in time", true);
        }
        return new Reply.Refused(Problem.INVALID, "the database refused the query (SQLSTATE " + state + ")");
    }
}
