package servitor.service.cases;

import java.time.Instant;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.LedgerTransaction.Changed;
import servitor.service.people.Person;

/** Cases with their notes, documents and relations. Whatever is written is written within one of the writer's transactions. */
@Component
public class CaseStore {
    private final CaseMapper cases;
    // Of the writer's thread: what the transaction under way adds, held back until its end or until somebody reads the
    // tables.
    private final Map<String, CaseRow> newCases = new LinkedHashMap<>();
    private final Map<String, NoteRow> newNotes = new LinkedHashMap<>();

    CaseStore(CaseMapper cases) {
        this.cases = cases;
    }

    public Optional<CaseRow> find(String id) {
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(cases.find(id));
    }

    /** A case that a person sees; whoever doesn't see it is told that there is none. */
    public CaseRow seenBy(Person person, String id) {
        return find(id).filter(person::sees).orElseThrow(() -> new NoSuchCase(id));
    }

    /** Cases by their ids; those that aren't there are left out. */
    public Map<String, CaseRow> all(Set<String> ids) {
        LedgerTransaction.writeHeld();
        return ids.isEmpty()
                ? Map.of()
                : cases.all(ids).stream().collect(Collectors.toMap(CaseRow::id, Function.identity()));
    }

    /** A case as the table holds it, whatever a transaction holds back. */
    public Optional<CaseRow> asWritten(String id) {
        return Optional.ofNullable(cases.find(id));
    }

    /** Cases of the desks or of the requester, newest first, numbered below {@code below}. */
    public List<CaseRow> list(String me, Collection<String> desks, CaseFilter about, long below, int limit) {
        LedgerTransaction.writeHeld();
        return cases.list(me, desks, about, null, below, limit);
    }

    /** Those of them that have one of these numbers. */
    List<CaseRow> list(
            String me, Collection<String> desks, CaseFilter about, List<Long> numbers, long below, int limit) {
        return cases.list(me, desks, about, numbers, below, limit);
    }

    /** What is searched of the cases numbered above {@code after}, the first of them. */
    List<SearchedRow> searched(long after, int limit) {
        return cases.searched(after, limit);
    }

    /** When the requester's case that is {@code back} places before the newest was opened. */
    Optional<Instant> openedBack(String requester, int back) {
        List<CaseRow> held = newCases.values().stream()
                .filter(row -> row.requester().equals(requester))
                .toList();
        return back < held.size()
                ? Optional.of(held.get(held.size() - 1 - back).created())
                : Optional.ofNullable(cases.opened(requester, back - held.size()));
    }

    Optional<RequestKeyRow> requestKey(String person, String key) {
        return Optional.ofNullable(cases.requestKey(person, key));
    }

    void insertRequestKey(String person, String key, String digest, String caseId) {
        cases.insertRequestKey(person, key, digest, caseId);
    }

    public List<NoteRow> notes(String caseId) {
        LedgerTransaction.writeHeld();
        return cases.notes(caseId);
    }

    /** Notes that were told to a person, or to a group or desk of theirs, about cases they see. */
    public List<NoteRow> told(Person person, Instant since, int limit) {
        LedgerTransaction.writeHeld();
        return person.isStaff()
                ? cases.told(person.called(), person.id(), person.staffDesks(), since, limit)
                : List.of();
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

    /** A case that the transaction under way has opened and not written yet; null otherwise. */
    public @Nullable CaseRow justOpened(String id) {
        return newCases.get(id);
    }

    /** Writes the cases and notes that the transaction under way adds. */
    public void writeHeld() {
        if (!newCases.isEmpty()) {
            CaseColumns columns = CaseColumns.of(List.copyOf(newCases.values()));
            cases.insert(columns);
            cases.insertTexts(columns);
        }
        if (!newNotes.isEmpty()) {
            cases.insertNotes(NoteColumns.of(newNotes.values()));
        }
        forgetHeld();
    }

    /** The transaction under way came to nothing. */
    public void forgetHeld() {
        newCases.clear();
        newNotes.clear();
    }

    public void insert(LedgerTransaction tx, CaseRow row) {
        newCases.put(row.id(), row);
        changed(tx, row);
    }

    /** Writes cases that are there as they are now, all at once. */
    public void update(List<CaseRow> changed) {
        if (!changed.isEmpty()) {
            cases.update(CaseColumns.of(changed));
        }
    }

    /** Adds a note; one of its id that is there already stays as it is. */
    public void insertNote(LedgerTransaction tx, NoteRow note, CaseRow of) {
        newNotes.putIfAbsent(note.id(), note);
        changed(tx, of);
    }

    void insertDocument(LedgerTransaction tx, DocumentRow row, CaseRow of) {
        LedgerTransaction.writeHeld();
        cases.insertDocument(row);
        tx.forgetCase(of.id());
        changed(tx, of);
    }

    /** What is known of a case's requester is less, or more, than it was. */
    void proven(LedgerTransaction tx, CaseRow row, String proof) {
        LedgerTransaction.writeHeld();
        cases.proven(row.id(), proof);
        tx.forgetCase(row.id());
        changed(tx, row);
    }

    /** Somebody else is to see to it. */
    void owned(LedgerTransaction tx, CaseRow row, String owner) {
        LedgerTransaction.writeHeld();
        cases.owned(row.id(), owner);
        tx.forgetCase(row.id());
        changed(tx, row);
    }

    /** How many cases were opened for one by steps. */
    int openedFor(String id) {
        LedgerTransaction.writeHeld();
        return cases.openedFor(id);
    }

    /** Keeps what a case's page gave, as JSON. */
    public void gave(String id, String gave) {
        LedgerTransaction.writeHeld();
        cases.gave(id, gave);
    }

    /** What a case's page gave last, as JSON. */
    public Optional<String> gave(String id) {
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(cases.gaveOf(id));
    }

    /** Cases that were due and of which nobody has seen yet whether they are late, the first of them. */
    List<String> due(Instant now, int limit) {
        return cases.due(now, limit);
    }

    /** When the next of them is due. */
    public Optional<Instant> nextDue() {
        return Optional.ofNullable(cases.nextDue());
    }

    /** Notes that somebody has seen whether a case was late when it was due; false when somebody else had. */
    boolean dueSeen(String id, boolean late) {
        return cases.dueSeen(id, late) > 0;
    }

    /** The people beside its requester whom staff have named as taking part in a case. */
    public List<String> named(String caseId) {
        return cases.named(caseId);
    }

    void name(LedgerTransaction tx, CaseRow row, String person, String by) {
        cases.name(row.id(), person, by, tx.now());
        changed(tx, row);
    }

    boolean unname(LedgerTransaction tx, CaseRow row, String person) {
        changed(tx, row);
        return cases.unname(row.id(), person) > 0;
    }

    /** The open cases of a kind at a desk that are numbered above {@code above}, the newest first. */
    public List<CaseRow> open(String desk, String kind, long above, int most) {
        LedgerTransaction.writeHeld();
        return cases.open(desk, kind, above, most);
    }

    /** What those are related to. */
    public List<RelationRow> relationsOfOpen(String desk, String kind, long above) {
        LedgerTransaction.writeHeld();
        return cases.relationsOfOpen(desk, kind, above);
    }

    /** What cases are related to. */
    public List<RelationRow> relations(Set<String> ids) {
        LedgerTransaction.writeHeld();
        return ids.isEmpty() ? List.of() : cases.relationsOf(ids);
    }

    /** The number of the newest case. */
    public long newest() {
        LedgerTransaction.writeHeld();
        return cases.newest();
    }

    /** The newest case of a desk that somebody asked for and that is still open. */
    public Optional<CaseRow> newestOpen(String requester, String desk) {
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(cases.newestOpen(requester, desk));
    }

    public void relate(RelationRow row) {
        LedgerTransaction.writeHeld();
        cases.relate(row);
    }

    /** Tells people looking on that something about a case is another. */
    public static void changed(LedgerTransaction tx, CaseRow row) {
        tx.changed(new Changed("case", row.id(), row.desk(), row.requester()));
    }
}
