package servitor.service.ledger;

import org.springframework.boot.diagnostics.AbstractFailureAnalyzer;
import org.springframework.boot.diagnostics.FailureAnalysis;

/** Says what to do about a database of a newer version. */
class NewerDatabaseAnalyzer extends AbstractFailureAnalyzer<NewerDatabase> {
    @Override
    protected FailureAnalysis analyze(Throwable root, NewerDatabase e) {
        return new FailureAnalysis(
                e.getMessage() + " Nothing was changed.",
                "Start the newer version again, or restore the backup that was made before the upgrade (docs/operations.md).",
                e);
    }
}
