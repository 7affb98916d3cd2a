package servitor.service.ledger;

import java.util.function.Supplier;

/**
 * Opens what the engine reads and writes for each transaction, and may remember of one for the next what was read and written: that
 * is true only while nobody else writes, so that the writer says when it isn't any more. Used by the writer's thread alone.
 */
public interface EngineStores {
    /** What the engine works on within a transaction. */
    TransactionStore open(LedgerTransaction transaction);

    /** The epoch of the installation, which {@code read} gives where it isn't remembered. */
    String epoch(Supplier<String> read);

    /** A transaction failed, or others may have written: nothing that is remembered counts any more. */
    void forget();

    /** People or what they belong to were changed. */
    void forgetPeople();

    /** A case was changed beside the engine. */
    void forgetCase(String id);

    /** A run was changed beside the engine. */
    void forgetRun(String id);
}
