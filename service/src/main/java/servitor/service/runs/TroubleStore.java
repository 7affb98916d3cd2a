package servitor.service.runs;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.core.engine.Trouble;
import servitor.service.ledger.LedgerTransaction;

/** Trouble that people see to. */
@Component
public class TroubleStore {
    private final TroubleMapper troubles;

    TroubleStore(TroubleMapper troubles) {
        this.troubles = troubles;
    }

    /** Trouble that nobody has seen to, the oldest first. */
    public List<TroubleRow> open(int limit) {
        return troubles.allOpen(limit);
    }

    public List<TroubleRow> openOf(String run) {
        return troubles.openOf(run);
    }

    public Optional<Trouble> find(String id) {
        return Optional.ofNullable(troubles.open(id)).map(RowConversion::trouble);
    }

    public List<Trouble> openOfCase(String caseId) {
        return troubles.openOfCase(caseId).stream().map(RowConversion::trouble).toList();
    }

    public void insert(Trouble trouble) {
        LedgerTransaction.writeHeld(); // its run must be there
        troubles.insert(new TroubleRow(
                trouble.id(),
                trouble.what().word(),
                trouble.caseId(),
                trouble.run(),
                trouble.work(),
                trouble.step(),
                trouble.problem(),
                trouble.detail(),
                trouble.at(),
                "",
                "",
                null));
    }

    public void mended(String trouble, String by, String how, Instant now) {
        LedgerTransaction.fenced(troubles.mended(trouble, by, how, now), "trouble " + trouble);
    }
}
