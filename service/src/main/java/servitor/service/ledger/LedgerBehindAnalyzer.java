package servitor.service.ledger;

import org.springframework.boot.diagnostics.AbstractFailureAnalyzer;
import org.springframework.boot.diagnostics.FailureAnalysis;

/** Says what to do about a database that has lost what was acknowledged. */
class LedgerBehindAnalyzer extends AbstractFailureAnalyzer<LedgerBehind> {
    @Override
    protected FailureAnalysis analyze(Throwable root, LedgerBehind e) {
        return new FailureAnalysis(
                e.getMessage() + " The service doesn't start on it: what was done since may be done again.",
                "Restore the newest backup (docs/durability.md), which is checked against the same file. If there is none, "
                        + "compare the outside systems with the trail by hand, then start once with --servitor.accept-loss=true: "
                        + "the loss is put on the trail.",
                e);
    }
}
