package servitor.core.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Supplier;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * A database in memory for the engine's books: transactions read what is committed, keep their own writes until they
 * commit, and lose a race when something they wrote over, or the head of the trail, has moved on meanwhile.
 */
final class MemoryStore {
    /** Every kept thing by its kind and key. Values are immutable, so that identity tells whether they changed. */
    final Map<String, Object> things = new LinkedHashMap<>();

    final List<RecordedEntry> trail = new ArrayList<>();
    private final Supplier<Instant> clock;
    private int numbers = 1000;
    private final Faults faults;
    private final Mirror mirror;
    private MemoryEngineStore current;

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

    /** Numbers that are given once, whether or not the transaction commits, like those of a sequence. */
    int nextNumber() {
        return ++numbers;
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
        current.openCase(id, kind, fields);
        mirror.openCase(id, kind, fields);
        books.trail(
                id,
                "",
                new TrailEvent(
                        "person:ines", TrailWord.CASE_OPENED, "", Json.object().set("fields", fields)));
    }

    private void commit(Consumer<EngineStore> work) {
        MemoryEngineStore books = new MemoryEngineStore(this, clock.get());
        MemoryEngineStore outer = current;
        current = books;
        int headBefore = trail.size();
        work.accept(mirror.over(books));
        current = outer;
        faults.beforeCommit();
        if (trail.size() != headBefore && faults.broken() != Fault.HEAD_NOT_FENCED && !books.entries.isEmpty()) {
            throw new LostRace("the trail's head has moved on");
        }
        books.basedOn.forEach((key, base) -> {
            if (things.get(key) != base) {
                throw new LostRace(key + " was changed meanwhile");
            }
        });
        if (faults.broken() != Fault.COMMIT_FORGETS) {
            things.putAll(books.written);
            trail.addAll(books.entries);
        }
    }

    String head() {
        return trail.isEmpty()
                ? TrailEntry.GENESIS
                : trail.get(trail.size() - 1).entry().hash();
    }

    /** The committed things of a kind. */
    <V> List<V> all(Class<V> type) {
        List<V> found = new ArrayList<>();
        things.values().forEach(thing -> {
            if (type.isInstance(thing)) {
                found.add(type.cast(thing));
            }
        });
        return found;
    }
}
