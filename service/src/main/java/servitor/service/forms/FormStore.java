package servitor.service.forms;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Forms as they are kept. */
@Component
class FormStore {
    private final FormMapper rows;

    FormStore(FormMapper rows) {
        this.rows = rows;
    }

    void insert(FormRow row) {
        rows.insert(row);
    }

    Optional<FormRow> find(String id) {
        return Optional.ofNullable(rows.find(id));
    }

    List<FormRow> in(FormRow.State state) {
        return rows.in(state.word());
    }

    /** What was sent in last for any of these kinds. */
    List<FormRow> latest(Set<String> kinds, int limit) {
        return kinds.isEmpty() ? List.of() : rows.latest(kinds, limit);
    }

    /** How many were sent in since then. */
    int since(Instant since) {
        return rows.since(since);
    }

    /** How many of them came from there. */
    int from(String cameFrom, Instant since) {
        return rows.from(cameFrom, since);
    }

    /** How many of them named this mail address, and weren't left. */
    int to(String address, Instant since) {
        return rows.to(address, since);
    }

    boolean move(FormRow row, FormRow.State to, Instant now, String detail) {
        return rows.move(row, to.word(), now, detail) == 1;
    }

    /** It is a case from now on; false when it was one already, or is none any more. */
    boolean confirmed(FormRow row, String caseId, Instant now) {
        return rows.confirmed(row.id(), caseId, now) == 1;
    }

    /** Forgets what was asked before {@code before} and never confirmed. */
    void forget(Instant before, Instant now) {
        rows.forget(before, now);
    }
}
