package servitor.service.runs;

import org.springframework.stereotype.Service;
import servitor.core.handbook.Edition;
import servitor.core.mandate.Judge;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
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
        return writer.write(tx -> Judge.judge(
                edition.handbook(),
                call,
                tx.store().situation(caseId).plainScope(edition.number()),
                tx.store()::alone));
    }
}
