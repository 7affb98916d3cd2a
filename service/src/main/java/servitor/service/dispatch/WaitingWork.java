package servitor.service.dispatch;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.PriorityQueue;
import java.util.Queue;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.ToIntFunction;
import servitor.core.engine.Work;

/**
 * Work that is due or soon will be, as far as this process knows: what its own commits made due is told here, what else there is is
 * found by looking. It is a hint and nothing more: whoever takes work does so in a transaction, which knows better. Bounded, in a
 * line for each connection. Safe for use by several threads.
 */
final class WaitingWork {
    /** Of each connection; what more there is stays where it is until there is room. */
    private static final int MOST = 200;

    private final Map<String, Queue<Work>> lines = new TreeMap<>();
    private final Map<String, Work> known = new HashMap<>();
    private final Set<String> left = new HashSet<>();

    synchronized void add(List<Work> works) {
        for (Work work : works) {
            Queue<Work> line = lines.computeIfAbsent(
                    work.connection(),
                    name -> new PriorityQueue<>(Comparator.comparing(Work::due).thenComparing(Work::id)));
            Work before = known.get(work.id());
            if (before != null && !before.due().equals(work.due())) {
                line.remove(before); // it falls due at another time now; the tables tell it to the microsecond
                known.remove(work.id());
            }
            if (line.size() >= MOST) {
                left.add(work.connection());
            } else if (known.putIfAbsent(work.id(), work) == null) {
                line.add(work);
            }
        }
    }

    /** How much of a connection is to be looked for; none while more than enough of it is remembered. */
    synchronized int wanted(String connection) {
        Queue<Work> line = lines.get(connection);
        return line != null && line.size() > MOST / 2 ? 0 : MOST + 1;
    }

    /**
     * Takes out what is due, the oldest first, at most {@code most} and no more of a connection than there is room for.
     *
     * @param room how many calls may be sent over a connection
     */
    synchronized List<Work> take(Instant now, int most, ToIntFunction<String> room) {
        List<Work> due = new ArrayList<>();
        lines.forEach((connection, line) -> {
            int free = line.isEmpty() ? 0 : Math.min(most, room.applyAsInt(connection));
            for (int i = 0; i < free && !line.isEmpty() && !line.element().due().isAfter(now); i++) {
                due.add(line.remove());
            }
        });
        due.sort(Comparator.comparing(Work::due));
        if (due.size() > most) {
            List<Work> later = List.copyOf(due.subList(most, due.size()));
            later.forEach(
                    work -> Objects.requireNonNull(lines.get(work.connection())).add(work));
            due.subList(most, due.size()).clear();
        }
        due.forEach(work -> known.remove(work.id()));
        return due;
    }

    /** Whether a connection had more than was remembered, and all of that has been taken. */
    synchronized boolean mayHaveMore() {
        return left.removeIf(
                connection -> Objects.requireNonNull(lines.get(connection)).isEmpty());
    }

    /** When the first of it falls due; the far future when there is none. */
    synchronized Instant firstDue(Instant after) {
        return lines.values().stream()
                .filter(line -> !line.isEmpty() && line.element().due().isAfter(after))
                .map(line -> line.element().due())
                .min(Comparator.naturalOrder())
                .orElse(Instant.MAX);
    }
}
