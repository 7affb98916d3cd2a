package servitor.service.ledger;

import servitor.core.engine.EngineStore;

/**
 * Opens what the engine reads and writes for each transaction, and may remember of one for the next what was read and written: that
 * is true only while nobody else writes, so that the writer says when it isn't any more. Used by the writer's thread alone.
 */
public interface EngineStores {
    /** What the engine works on within a transaction. */
    EngineStore open(LedgerTransaction transaction);

    /** A transaction failed, or others may have written: nothing that is remembered counts any more. */
    void forget();

    /** People or what they belong to were changed. */
    void forgetPeople();

    /** A case was changed beside the engine. */
    void forgetCase(String id);

    /** A run was changed beside the engine. */
    void forgetRun(String id);
}
