package servitor.service.ledger;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.Executor;
import java.util.function.Supplier;
import servitor.core.engine.EngineStore;
import servitor.core.engine.LostRace;
import servitor.core.engine.Work;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;

/**
 * One of the writer's transactions. What features write through their stores, and what goes on the trail here, is kept together or
 * not at all. Only the {@link Writer} makes one, and it is worthless once the transaction has ended.
 */
public final class LedgerTransaction {
    /** Far more than are given between two backups. */
    private static final long JUMP = 1_000_000;
    /** The transaction that this thread is in. */
    private static final ThreadLocal<LedgerTransaction> HERE = new ThreadLocal<>();

    private final TrailMapper trail;
    private final InstallationMapper installation;
    private final EngineStores engine;
    private final Instant now;
    private final TransactionStore store;
    private final List<Changed> changes = new ArrayList<>();
    private final List<Work> ready = new ArrayList<>();
    private final Map<String, String> material = new LinkedHashMap<>();
    private final Executor beside;
    private final NewEntries entries;
    private HeadRow head;
    private boolean hasEntries;

    LedgerTransaction(
            TrailMapper trail, InstallationMapper installation, EngineStores engine, Instant now, Executor beside) {
        this.trail = trail;
        this.installation = installation;
        this.engine = engine;
        this.now = now;
        this.head = trail.lockHead();
        this.beside = beside;
        this.entries = new NewEntries(beside);
        this.store = engine.open(this);
        HERE.set(this);
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
    }

    /** What the engine reads and writes in this transaction. */
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

    List<Work> ready() {
        return ready;
    }

    /** Tells whoever carries work out that there is some, once it is committed. */
    public void ready(Work work) {
        ready.add(work);
    }

    /** Tells people looking on about a change, once it is committed. */
    public void changed(Changed change) {
        if (!changes.contains(change)) {
            changes.add(change);
        }
    }

    /** The engine reads people anew before it next needs them. */
    public void forgetPeople() {
        engine.forgetPeople();
    }

    /** The engine reads a case anew before it next needs it. */
    public void forgetCase(String id) {
        engine.forgetCase(id);
    }

    /** The engine reads a run anew before it next needs it. */
    public void forgetRun(String id) {
        engine.forgetRun(id);
    }

    /** Puts something on the trail; its number and hash are given at the transaction's end. Its data stay as they are from here on. */
    public void trail(String caseId, String runId, TrailEvent event) {
        entries.add(caseId, runId, event);
        hasEntries = true;
    }

    /** Makes something that is needed when this transaction is written, on another thread while the writer goes on. */
    public <T> CompletableFuture<T> beside(Supplier<T> made) {
        return CompletableFuture.supplyAsync(made, beside);
    }

    /**
     * To be called by stores before they read a table whose rows the engine changes: within a transaction, what it has changed is
     * written first.
     */
    public static void writeHeld() {
        LedgerTransaction here = HERE.get();
        if (here != null) {
            here.writeAllHeld();
        }
    }

    /** Whatever came of it, this thread isn't in a transaction any more. */
    static void ended() {
        HERE.remove();
    }

    /**
     * Writes what is held back, and the entries, and moves the chain's head on; a head that isn't where this transaction found it
     * is a lost race.
     */
    void seal() {
        entries.digest();
        writeAllHeld();
        List<TrailRow> rows = entries.chainedTo(head, now);
        if (rows.isEmpty()) {
            return;
        }
        TrailColumns columns = TrailColumns.of(rows);
        trail.insert(columns);
        trail.insertData(columns);
        long before = head.seq();
        TrailRow last = rows.get(rows.size() - 1);
        head = new HeadRow(last.seq(), last.hash());
        if (trail.moveHead(head.seq(), head.hash(), before) != 1) {
            throw new LostRace("the trail's head has moved on");
        }
    }

    private void writeAllHeld() {
        store.writeHeld();
        if (!material.isEmpty()) {
            trail.keep(
                    material.keySet().toArray(String[]::new), material.values().toArray(String[]::new), now);
            material.clear();
        }
    }

    /** Whether anything of this transaction is on the trail. */
    boolean hasEntries() {
        return hasEntries;
    }

    /** Where the trail ends with this transaction, once it is sealed. */
    HeadRow head() {
        return head;
    }

    /** Keeps a long text under its digest and returns that. */
    public String keep(String text) {
        String hash = Json.digest(text);
        material.put(hash, text);
        return hash;
    }

    /** The number of a new case. */
    public long nextCaseNumber() {
        return installation.nextCaseNumber();
    }

    /** The number of a new run. */
    public long nextRunNumber() {
        return installation.nextRunNumber();
    }

    /** What sets the keys of calls apart from those of other installations, and of this one before it was restored. */
    public String epoch() {
        return engine.epoch(() -> Objects.requireNonNull(
                installation.epoch(), "the writer gives an installation its epoch before anything else"));
    }

    /** Begins an epoch of its own: numbers jump ahead, so that none of those given before comes back. */
    void newEpoch(String epoch) {
        installation.putEpoch(epoch);
        engine.forget();
        installation.jumpToCase(nextCaseNumber() + JUMP);
        installation.jumpToRun(nextRunNumber() + JUMP);
    }

    void firstEpoch(String epoch) {
        if (installation.epoch() == null) {
            installation.putEpoch(epoch);
        }
    }

    /** Throws {@link LostRace} when a write that is fenced by what was read changed no row. */
    public static void fenced(int rows, String what) {
        if (rows == 0) {
            throw new LostRace(what + " was changed by somebody else at the same moment");
        }
        if (rows > 1) {
            throw new IllegalStateException(rows + " rows were changed for " + what + ", not one");
        }
    }
}
