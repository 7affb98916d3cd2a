package servitor.service.ledger;

import servitor.core.engine.EngineStore;

/** What the engine works on within one transaction, which writes at its end what has changed, each row once. */
public interface TransactionStore extends EngineStore {
    /** Writes what has changed and isn't written yet; what is read from the tables after that is as it is now. */
    void writeHeld();
}
