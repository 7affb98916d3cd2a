package servitor.service.ledger;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.engine.EngineStore;
import servitor.core.engine.LostRace;
import servitor.core.engine.Trouble;
import servitor.core.engine.Work;
import servitor.core.json.Json;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailEvent;
import servitor.service.ledger.Rows.ApprovalRow;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.CommandRow;
import servitor.service.ledger.Rows.ConnectionRow;
import servitor.service.ledger.Rows.ConsentRow;
import servitor.service.ledger.Rows.DocumentRow;
import servitor.service.ledger.Rows.DraftRow;
import servitor.service.ledger.Rows.EditionRow;
import servitor.service.ledger.Rows.HeadRow;
import servitor.service.ledger.Rows.NoteRow;
import servitor.service.ledger.Rows.PersonRow;
import servitor.service.ledger.Rows.RelationRow;
import servitor.service.ledger.Rows.RunRow;
import servitor.service.ledger.Rows.TokenRow;
import servitor.service.ledger.Rows.TrailColumns;
import servitor.service.ledger.Rows.TrailRow;

/**
 * Everything that can be changed, inside one of the writer's transactions. Only the {@link Writer} makes one, and it is
 * worthless once the transaction has ended.
 */
public final class LedgerTransaction {
    private static final SecureRandom RANDOM = new SecureRandom();
    /** Far more than are given between two backups. */
    private static final long JUMP = 1_000_000;

    private final Ledger ledger;
    private final WriterCache recent;
    private final Instant now;
    private final EngineStore store;
    private final List<Changed> changes = new ArrayList<>();
    private final List<TrailRow> entries = new ArrayList<>();
    private HeadRow head;
    private final long before;

    LedgerTransaction(Ledger ledger, WriterCache recent, Instant now) {
        this.ledger = ledger;
        this.recent = recent;
        this.now = now;
        this.store = new SqlEngineStore(this, recent);
        this.head = ledger.trail.lockHead();
        this.before = head.seq();
    }

    /**
     * Something that people looking on should hear of, such as a case and the desk it belongs to.
     *
     * @param of who is asked, for an approval: nobody else hears of it beside the desk
     */
    public record Changed(String what, String id, String desk, String requester, Set<String> of) {
        public Changed(String what, String id, String desk, String requester) {
            this(what, id, desk, requester, Set.of());
        }

        static Changed approval(String id, String desk, Set<String> of) {
            return new Changed("approval", id, desk, "", of);
        }
    }

    /** Reads what this transaction sees, its own changes included. */
    public Ledger ledger() {
        return ledger;
    }

    /** The same transaction as the engine sees it. */
    public EngineStore store() {
        return store;
    }

    /** The time of this transaction. */
    public Instant now() {
        return now;
    }

    List<Changed> changes() {
        return changes;
    }

    /** Tells people looking on about a change, once it is committed. */
    public void changed(Changed change) {
        if (!changes.contains(change)) {
            changes.add(change);
        }
    }

    /** Puts something on the trail; its number and hash are given here. */
    public void trail(String caseId, String runId, TrailEvent event) {
        byte[] salt = new byte[16];
        RANDOM.nextBytes(salt);
        TrailEntry entry = TrailEntry.append(head.seq() + 1, head.hash(), now, caseId, runId, event, salt);
        entries.add(new TrailRow(
                entry.seq(),
                entry.at(),
                entry.actor(),
                caseId,
                runId,
                entry.step(),
                entry.what(),
                entry.dataDigest(),
                entry.previous(),
                entry.hash(),
                HexFormat.of().formatHex(salt),
                Json.write(event.data())));
        head = new HeadRow(entry.seq(), entry.hash());
    }

    /** Writes the entries and moves the chain's head on; a head that isn't where this transaction found it is a lost race. */
    void seal() {
        if (entries.isEmpty()) {
            return;
        }
        TrailColumns columns = TrailColumns.of(entries);
        ledger.trail.insert(columns);
        ledger.trail.insertData(columns);
        if (ledger.trail.moveHead(head.seq(), head.hash(), before) != 1) {
            throw new LostRace("the trail's head has moved on");
        }
    }

    /** Whether anything of this transaction is on the trail. */
    boolean hasEntries() {
        return !entries.isEmpty();
    }

    /** Where the trail ends with this transaction. */
    HeadRow head() {
        return head;
    }

    /** Keeps a long text under its digest and returns that. */
    public String keep(String text) {
        String hash = Json.digest(text);
        ledger.trail.keep(hash, text, now);
        return hash;
    }

    public void putConnection(ConnectionRow row) {
        ledger.connections.put(row);
    }

    public void insertPerson(PersonRow row) {
        ledger.people.insert(row);
        recent.forgetCases();
    }

    public void updatePerson(PersonRow row) {
        fenced(ledger.people.update(row), "person " + row.id());
        recent.forgetCases();
        changed(new Changed("person", row.id(), "", row.id()));
    }

    public void setMemberships(String person, Set<String> desks, Set<String> groups) {
        ledger.people.clearDesks(person);
        ledger.people.clearGroups(person);
        desks.forEach(desk -> ledger.people.insertDesk(person, desk));
        groups.forEach(group -> ledger.people.insertGroup(person, group));
        recent.forgetCases();
    }

    public void insertToken(TokenRow row) {
        ledger.people.insertToken(row);
    }

    public int deleteTokens(String person, String label) {
        return ledger.people.deleteTokens(person, label);
    }

    public void insertEdition(EditionRow row, java.util.Map<String, String> files) {
        ledger.editions.insert(row);
        files.forEach((path, text) -> ledger.editions.insertFile(row.number(), path, text));
    }

    public void putDraft(DraftRow row) {
        ledger.editions.putDraft(row);
    }

    public void dropDraft(String person, String path) {
        ledger.editions.dropDraft(person, path);
    }

    public void insertDocument(DocumentRow row, CaseRow of) {
        ledger.cases.insertDocument(row);
        recent.forgetCase(of.id());
        changed(new Changed("case", of.id(), of.desk(), of.requester()));
    }

    public void relate(RelationRow row) {
        ledger.cases.relate(row);
    }

    public long nextCaseNumber() {
        return ledger.cases.nextNumber();
    }

    public void insertCase(CaseRow row) {
        ledger.cases.insert(row);
        changed(new Changed("case", row.id(), row.desk(), row.requester()));
    }

    public void setCaseState(CaseRow row, String state, @Nullable String waitingFor) {
        fenced(ledger.cases.setState(row.id(), state, waitingFor, now), "case " + row.id());
        recent.change(row.id(), known -> known.with(row.standing(state, waitingFor, now)));
        changed(new Changed("case", row.id(), row.desk(), row.requester()));
    }

    public void setCaseContent(CaseRow row, String priority, String labels, String fields) {
        fenced(ledger.cases.setContent(row.id(), priority, labels, fields, now), "case " + row.id());
        recent.change(row.id(), known -> known.with(row.holding(priority, labels, fields, now)));
        changed(new Changed("case", row.id(), row.desk(), row.requester()));
    }

    public void insertNote(NoteRow note, CaseRow row) {
        ledger.cases.insertNote(note);
        changed(new Changed("case", row.id(), row.desk(), row.requester()));
    }

    public void insertRequestKey(String person, String key, String digest, String caseId) {
        ledger.cases.insertRequestKey(person, key, digest, caseId);
    }

    /** Lets every lease run out now: whoever held one is known to be gone. */
    public int dropLeases() {
        return ledger.runs.dropLeases(now);
    }

    /** What a run that has ended did goes out of the database; {@code slim} is what stays of its state. */
    public void moveOut(RunRow run, String slim) {
        fenced(ledger.runs.moveOut(run.id(), slim, run.version()), "run " + run.id());
        recent.forgetRun(run.id());
        ledger.approvals.ofRun(run.id()).forEach(approval -> ledger.approvals.forgetAnswers(approval.id()));
        ledger.approvals.deleteOfRun(run.id());
        ledger.runs.deleteCommands(run.id());
    }

    public void dropMaterial(String hash) {
        ledger.trail.deleteMaterial(hash);
    }

    void insertApproval(ApprovalRow row, Set<String> asked, CaseRow of) {
        ledger.approvals.insert(row);
        changed(Changed.approval(row.id(), of.desk(), asked));
    }

    /** What sets the keys of calls apart from those of other installations, and of this one before it was restored. */
    public String epoch() {
        return Objects.requireNonNull(
                ledger.stops.epoch(), "the writer gives an installation its epoch before anything else");
    }

    /** Begins an epoch of its own: numbers jump ahead, so that none of those given before comes back. */
    void newEpoch(String epoch) {
        ledger.stops.putEpoch(epoch);
        ledger.cases.jumpTo(ledger.cases.nextNumber() + JUMP);
        ledger.runs.jumpTo(ledger.runs.nextNumber() + JUMP);
    }

    void firstEpoch(String epoch) {
        if (ledger.stops.epoch() == null) {
            ledger.stops.putEpoch(epoch);
        }
    }

    /** Work that can't be read goes to what went wrong. */
    public void giveToPeople(CommandRow row) {
        String caseId = ledger.run(row.runId()).map(RunRow::caseId).orElseThrow();
        if (ledger.runs.move(row.id(), row.state(), Work.Stage.STUCK.word()) == 1) {
            store.report(new Trouble(
                    row.id() + "-unreadable",
                    Trouble.What.STUCK,
                    caseId,
                    row.runId(),
                    row.id(),
                    "",
                    "unreadable",
                    "what was to be done can't be read any more; stop the run, or take the case over",
                    now));
        }
    }

    public void putConsent(ConsentRow row) {
        ledger.editions.putConsent(row);
    }

    static void fenced(int rows, String what) {
        if (rows == 0) {
            throw new LostRace(what + " was changed by somebody else at the same moment");
        }
        if (rows > 1) {
            throw new IllegalStateException(rows + " rows were changed for " + what + ", not one");
        }
    }
}
