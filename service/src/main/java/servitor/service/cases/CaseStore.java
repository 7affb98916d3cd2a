package servitor.service.cases;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.LedgerTransaction.Changed;

/** Cases with their notes, documents and relations. Whatever is written is written within one of the writer's transactions. */
@Component
public class CaseStore {
    private final CaseMapper cases;

    CaseStore(CaseMapper cases) {
        this.cases = cases;
    }

    public Optional<CaseRow> find(String id) {
        return Optional.ofNullable(cases.find(id));
    }

    /** Cases of the desks or of the requester, newest first, numbered below {@code below}. */
    public List<CaseRow> list(String requester, Collection<String> desks, CaseFilter filter, long below, int limit) {
        return cases.list(
                requester, desks, filter.state(), filter.kind(), filter.desk(), filter.pattern(), below, limit);
    }

    /** When the requester's case that is {@code back} places before the newest was opened. */
    Optional<Instant> openedBack(String requester, int back) {
        return Optional.ofNullable(cases.opened(requester, back));
    }

    Optional<RequestKeyRow> requestKey(String person, String key) {
        return Optional.ofNullable(cases.requestKey(person, key));
    }

    void insertRequestKey(String person, String key, String digest, String caseId) {
        cases.insertRequestKey(person, key, digest, caseId);
    }

    public List<NoteRow> notes(String caseId) {
        return cases.notes(caseId);
    }

    public List<DocumentRow> documents(String caseId) {
        return cases.documents(caseId);
    }

    public Optional<DocumentRow> document(String id) {
        return Optional.ofNullable(cases.document(id));
    }

    public List<RelationRow> relations(String caseId) {
        return cases.relations(caseId);
    }

    public void insert(LedgerTransaction tx, CaseRow row) {
        cases.insert(row);
        changed(tx, row);
    }

    /** Shows where a case stands; gives the row as it is then. */
    public CaseRow stand(LedgerTransaction tx, CaseRow row, String state, @Nullable String waitingFor) {
        LedgerTransaction.fenced(cases.setState(row.id(), state, waitingFor, tx.now()), "case " + row.id());
        changed(tx, row);
        return row.standing(state, waitingFor, tx.now());
    }

    /** Changes what a case holds; gives the row as it is then. */
    public CaseRow hold(LedgerTransaction tx, CaseRow row, String priority, String labels, String fields) {
        LedgerTransaction.fenced(cases.setContent(row.id(), priority, labels, fields, tx.now()), "case " + row.id());
        changed(tx, row);
        return row.holding(priority, labels, fields, tx.now());
    }

    /** Adds a note; false when there is one of its id. */
    public boolean insertNote(LedgerTransaction tx, NoteRow note, CaseRow of) {
        if (cases.countNotes(note.id()) > 0) {
            return false;
        }
        cases.insertNote(note);
        changed(tx, of);
        return true;
    }

    void insertDocument(LedgerTransaction tx, DocumentRow row, CaseRow of) {
        cases.insertDocument(row);
        tx.forgetCase(of.id());
        changed(tx, of);
    }

    public void relate(RelationRow row) {
        cases.relate(row);
    }

    /** Tells people looking on that something about a case is another. */
    public static void changed(LedgerTransaction tx, CaseRow row) {
        tx.changed(new Changed("case", row.id(), row.desk(), row.requester()));
    }
}
