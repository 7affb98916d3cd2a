package servitor.service.intake;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Acknowledgements as they are kept. */
@Component
class AcknowledgementStore {
    private final AcknowledgementMapper rows;

    AcknowledgementStore(AcknowledgementMapper rows) {
        this.rows = rows;
    }

    void insert(AcknowledgementRow row) {
        rows.insert(row);
    }

    int since(String requester, Instant since) {
        return rows.since(requester, since);
    }

    List<AcknowledgementRow> in(String state) {
        return rows.in(state);
    }

    Optional<AcknowledgementRow> find(String caseId) {
        return Optional.ofNullable(rows.find(caseId));
    }

    boolean move(AcknowledgementRow row, AcknowledgementRow.State to, Instant now, String detail) {
        return rows.move(row, to.word(), now, detail) == 1;
    }
}
