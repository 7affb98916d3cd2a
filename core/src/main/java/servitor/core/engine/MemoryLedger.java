package servitor.core.engine;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.ToIntFunction;
import org.jspecify.annotations.Nullable;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;

/** The engine's books in memory: what rehearsals play on, and what tests hold a real database against. */
public final class MemoryLedger {
    private static final String COUNTER = MemoryBooks.Counter.class.getSimpleName() + " ";

    /** Every kept thing by its kind and key. Values are immutable, so that identity tells whether they changed. */
    final Map<String, Object> things = new LinkedHashMap<>();

    final List<RecordedEntry> trail = new ArrayList<>();
    private final ToIntFunction<Set<String>> eligible;
    private final Deque<String> runIds = new ArrayDeque<>();
    private final Set<String> givenIds = new HashSet<>();
    private final Map<String, Object> counted;
    private final Map<String, Object> metFirst = new HashMap<>();
    private int numbers = 1000;

    /** An empty one; {@code eligible} says how many people could answer for groups. */
    public MemoryLedger(ToIntFunction<Set<String>> eligible) {
        this(eligible, new Counters());
    }

    /** An empty one that counts, with others, what limits count. */
    public MemoryLedger(ToIntFunction<Set<String>> eligible, Counters counters) {
        this.eligible = eligible;
        this.counted = counters.kept;
    }

    /** What limits count; several ledgers may share it. */
    public static final class Counters {
        private final Map<String, Object> kept;

        /** Nothing counted yet. */
        public Counters() {
            this(Map.of());
        }

        private Counters(Map<String, Object> kept) {
            this.kept = new HashMap<>(kept);
        }

        /** The same, to count on from. */
        public Counters copy() {
            return new Counters(kept);
        }
    }

    /** Where the counters stood when this ledger first looked at them; of those it never looked at, nothing. */
    public Counters metFirst() {
        return new Counters(metFirst);
    }

    /** What is kept under a key; null for nothing. */
    @Nullable
    Object thing(String key) {
        if (!key.startsWith(COUNTER)) {
            return things.get(key);
        }
        Object kept = counted.get(key);
        if (!metFirst.containsKey(key)) {
            metFirst.put(key, kept);
        }
        return kept;
    }

    /** Calls the next runs so. */
    public void callRuns(List<String> ids) {
        runIds.addAll(ids);
        givenIds.addAll(ids);
    }

    String newRunId() {
        String called = runIds.poll();
        if (called != null) {
            return called;
        }
        String made = "R-" + nextNumber();
        return givenIds.contains(made)
                ? newRunId()
                : made; // more runs begin than had a name, and none may have that of another
    }

    /** Numbers that are given once, whether or not the transaction commits, like those of a sequence. */
    int nextNumber() {
        return ++numbers;
    }

    int eligible(Set<String> groups) {
        return eligible.applyAsInt(groups);
    }

    String head() {
        return trail.isEmpty()
                ? TrailEntry.GENESIS
                : trail.get(trail.size() - 1).entry().hash();
    }

    /** Keeps what a transaction wrote. */
    public void commit(MemoryBooks books) {
        books.written.forEach((key, thing) -> (key.startsWith(COUNTER) ? counted : things).put(key, thing));
        trail.addAll(books.entries);
    }

    /** Everything that happened, the first first. */
    public List<RecordedEntry> trail() {
        return Collections.unmodifiableList(trail);
    }

    /** The long texts that were kept, by their digests. */
    public Map<String, String> texts() {
        Map<String, String> texts = new HashMap<>();
        things.forEach((key, thing) -> {
            if (thing instanceof MemoryBooks.Material material) {
                texts.put(key.substring(key.indexOf(' ') + 1), material.text());
            }
        });
        return texts;
    }

    /** The committed things of a kind. */
    public <V> List<V> all(Class<V> type) {
        List<V> found = new ArrayList<>();
        things.values().forEach(thing -> {
            if (type.isInstance(thing)) {
                found.add(type.cast(thing));
            }
        });
        return found;
    }
}
