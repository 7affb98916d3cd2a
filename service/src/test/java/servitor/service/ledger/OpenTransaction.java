package servitor.service.ledger;

import java.time.Instant;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Transactions without a writer, one at a time, for tests that end them themselves. */
public final class OpenTransaction {
    private final MemoryDatabase database;
    private @Nullable LedgerTransaction tx;

    public OpenTransaction(MemoryDatabase database) {
        this.database = database;
    }

    public LedgerTransaction begin(Instant now) {
        tx = new LedgerTransaction(
                database.trail(),
                database.get(InstallationMapper.class),
                database.get(EngineStores.class),
                now,
                Runnable::run);
        return tx;
    }

    public void firstEpoch(String epoch) {
        Objects.requireNonNull(tx).firstEpoch(epoch);
    }

    /** Whatever came of it, this thread isn't in it any more. */
    public void end() {
        LedgerTransaction.ended();
    }

    /** Writes what the writer writes at a transaction's end. */
    public void seal() {
        Objects.requireNonNull(tx).seal();
    }
}
