package servitor.core.engine;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Supplier;
import servitor.core.json.Json;
import servitor.core.run.Situation;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * A {@link MemoryLedger} that several processes share: transactions read what is committed, keep their own writes until they
 * commit, and lose a race when something they wrote over, or the head of the trail, has moved on meanwhile.
 */
final class MemoryStore {
    /** How many people could answer for any group. */
    int eligible = 3;

    final MemoryLedger ledger = new MemoryLedger(groups -> eligible);
    final Map<String, Object> things = ledger.things;
    final List<RecordedEntry> trail = ledger.trail;
    private final Supplier<Instant> clock;
    private final Faults faults;
    private final Mirror mirror;
    private MemoryBooks current;

    /** What can be broken on purpose, to see that it is noticed. */
    enum Fault {
        NONE,
        HEAD_NOT_FENCED,
        COMMIT_FORGETS
    }

    /** What happens around a commit. */
    interface Faults {
        Fault broken();

        /** Between the work of a transaction and its commit; may throw to crash, or let others commit. */
        void beforeCommit();

        /** After the commit, before anybody is told; may throw to crash. */
        void afterCommit();
    }

    MemoryStore(Supplier<Instant> clock, Faults faults, Mirror mirror) {
        this.clock = clock;
        this.faults = faults;
        this.mirror = mirror;
    }

    int nextNumber() {
        return ledger.nextNumber();
    }

    /** One process's way to the store. */
    Grouping.Store<EngineStore> asSeenByAProcess() {
        return work -> {
            mirror.transaction(() -> commit(work));
            faults.afterCommit();
        };
    }

    /** Opens a case within a transaction. */
    void openCase(EngineStore books, String id, String kind, JsonNode fields) {
        current.openCase(aCase(id, kind, fields));
        mirror.openCase(id, kind, fields);
        books.trail(
                id,
                "",
                new TrailEvent(
                        "person:ines", TrailWord.CASE_OPENED, "", Json.object().set("fields", fields)));
    }

    private void commit(Consumer<EngineStore> work) {
        MemoryBooks books = new MemoryBooks(ledger, clock.get());
        MemoryBooks outer = current;
        current = books;
        int headBefore = trail.size();
        work.accept(mirror.over(books));
        current = outer;
        faults.beforeCommit();
        if (trail.size() != headBefore && faults.broken() != Fault.HEAD_NOT_FENCED && !books.entries.isEmpty()) {
            throw new LostRace("the trail's head has moved on");
        }
        books.basedOn.forEach((key, base) -> {
            if (ledger.thing(key) != base) {
                throw new LostRace(key + " was changed meanwhile");
            }
        });
        if (faults.broken() != Fault.COMMIT_FORGETS) {
            ledger.commit(books);
        }
    }

    /** The committed things of a kind. */
    <V> List<V> all(Class<V> type) {
        return ledger.all(type);
    }

    /** A case of the passenger Ines. */
    static Situation aCase(String id, String kind, JsonNode fields) {
        return new Situation(
                Instant.EPOCH,
                new Situation.CaseView(
                        id,
                        kind,
                        "desk",
                        "A subject",
                        "A text",
                        "en",
                        fields,
                        Json.mapper().createArrayNode(),
                        Json.mapper().createArrayNode(),
                        "normal",
                        "note",
                        "open"),
                new Situation.Requester("ines", "Ines", "P-1", "osei", Set.of(), "signed-in"),
                "ines");
    }
}
