package servitor.service.intake;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.core.handbook.Intake;
import servitor.service.cases.CaseRow;
import servitor.service.ledger.LedgerTransaction;

/** Acknowledgements of mails that opened cases: one for each case, and few for each person. Sending them is the gate's. */
@Component
public class Acknowledgements {
    private static final int MOST_AN_HOUR = 5;
    private static final Duration HOUR = Duration.ofHours(1);

    private final AcknowledgementStore kept;

    Acknowledgements(AcknowledgementStore kept) {
        this.kept = kept;
    }

    /** Notes that a case is to be acknowledged, unless its requester has heard that often enough lately. */
    void wanted(LedgerTransaction tx, CaseRow row, Intake intake) {
        boolean enough = kept.since(row.requester(), tx.now().minus(HOUR)) >= MOST_AN_HOUR;
        kept.insert(new AcknowledgementRow(
                row.id(),
                intake.name(),
                row.requester(),
                tx.now(),
                (enough ? AcknowledgementRow.State.LEFT : AcknowledgementRow.State.WAITING).word(),
                enough ? "more than " + MOST_AN_HOUR + " cases of theirs were acknowledged within an hour" : ""));
    }

    /** Those in a state, the oldest first. */
    public List<AcknowledgementRow> in(AcknowledgementRow.State state) {
        return kept.in(state.word());
    }

    public Optional<AcknowledgementRow> find(String caseId) {
        return kept.find(caseId);
    }

    /** Moves one from one state to another; false when it isn't there any more. Called within the writer's transaction. */
    public boolean move(AcknowledgementRow row, AcknowledgementRow.State to, Instant now, String detail) {
        return kept.move(row, to, now, detail);
    }
}
