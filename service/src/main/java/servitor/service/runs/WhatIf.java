package servitor.service.runs;

import org.springframework.stereotype.Service;
import servitor.core.handbook.Edition;
import servitor.core.mandate.Judge;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.run.Situation;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;

/** What the gate would say of a call now. Nothing is called, counted or kept. */
@Service
public class WhatIf {
    private final Writer writer;

    WhatIf(Writer writer) {
        this.writer = writer;
    }

    /** The verdict on {@code call}, were it made for a case; by the same judge, within the same sort of transaction. */
    public Verdict verdict(Edition edition, ProposedCall call, String caseId) {
        return writer.write(tx -> judged(tx, edition, call, tx.store().situation(caseId)));
    }

    /** A case and its requester as they are now. */
    public Situation situation(String caseId) {
        return writer.write(tx -> tx.store().situation(caseId));
    }

    /** The same for a case as it is, or as somebody thinks of it. */
    public Verdict verdict(Edition edition, ProposedCall call, Situation situation) {
        return writer.write(tx -> judged(tx, edition, call, situation));
    }

    private static Verdict judged(LedgerTransaction tx, Edition edition, ProposedCall call, Situation situation) {
        return Judge.judge(edition.handbook(), call, situation.plainScope(edition.number()), tx.store()::alone);
    }
}
