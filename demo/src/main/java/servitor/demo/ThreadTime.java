package servitor.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;

/** What the threads of this process have used of the processor, by groups of threads that do the same; Linux only. */
final class ThreadTime {
    private static final double TICKS_A_SECOND = 100;
    private static final Path TASKS = Path.of("/proc/self/task");

    private ThreadTime() {}

    /**
     * Seconds by group: the name of its threads, with numbers left out; those of the Java machine's compiler and collector are one
     * each.
     */
    static Map<String, Double> byGroup() {
        Map<String, Double> groups = new TreeMap<>();
        try (Stream<Path> tasks = Files.list(TASKS)) {
            for (Path task : tasks.toList()) {
                add(groups, task.resolve("stat"));
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return groups;
    }

    private static void add(Map<String, Double> groups, Path stat) {
        try {
            String text = Files.readString(stat);
            int close = text.lastIndexOf(')');
            List<String> fields = List.of(text.substring(close + 2).split(" "));
            double ticks = Long.parseLong(fields.get(11)) + Long.parseLong(fields.get(12));
            groups.merge(group(text.substring(text.indexOf('(') + 1, close)), ticks / TICKS_A_SECOND, Double::sum);
        } catch (IOException e) {
            // it has ended meanwhile
        }
    }

    private static String group(String thread) {
        if (thread.matches("C[12] Comp.*|Sweeper.*")) {
            return "compiler";
        } else if (thread.startsWith("G1 ") || thread.startsWith("GC ") || thread.equals("VM Thread")) {
            return "collector";
        }
        return thread.replaceAll("[0-9]+", "#");
    }
}
