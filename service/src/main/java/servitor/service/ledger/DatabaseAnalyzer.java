package servitor.service.ledger;

import java.sql.SQLException;
import org.h2.api.ErrorCode;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.diagnostics.AbstractFailureAnalyzer;
import org.springframework.boot.diagnostics.FailureAnalysis;

/** Says why the database can't be opened, and what to do. */
class DatabaseAnalyzer extends AbstractFailureAnalyzer<SQLException> {
    @Override
    protected @Nullable FailureAnalysis analyze(Throwable root, SQLException e) {
        return switch (e.getErrorCode()) {
            case ErrorCode.DATABASE_ALREADY_OPEN_1 ->
                new FailureAnalysis(
                        "The database is open in another process: " + e.getMessage(),
                        "Stop the other service, or give this one a data folder of its own with -Dservitor.data=DIR. "
                                + "Several services share one database as docs/scaling.md says.",
                        e);
            case ErrorCode.FILE_CORRUPTED_1 ->
                new FailureAnalysis(
                        "The database file is damaged: " + e.getMessage(),
                        "Keep the file, and restore the newest backup (docs/durability.md).",
                        e);
            case ErrorCode.IO_EXCEPTION_1, ErrorCode.IO_EXCEPTION_2 ->
                new FailureAnalysis(
                        "The database can't be read or written: " + e.getMessage(),
                        "See that the disk has room and that this user may write to the data folder.",
                        e);
            case ErrorCode.CONNECTION_BROKEN_1 ->
                new FailureAnalysis(
                        "The shared database can't be reached: " + e.getMessage(),
                        "Start it (docs/scaling.md), or mend SERVITOR_DATABASE.",
                        e);
            default -> null;
        };
    }
}
