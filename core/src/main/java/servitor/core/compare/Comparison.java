package servitor.core.compare;

import com.github.difflib.DiffUtils;
import com.github.difflib.UnifiedDiffUtils;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.check.CheckedHandbook;

/**
 * What lies between two handbooks.
 *
 * @param meanings what the difference means for the work, in sentences
 * @param files the difference of each changed file's text
 */
public record Comparison(List<Meaning> meanings, List<FileDifference> files) {
    private static final int AROUND = 3;

    public Comparison {
        meanings = List.copyOf(meanings);
        files = List.copyOf(files);
    }

    /** One sentence about what has changed, and the file it stands in. */
    public record Meaning(String file, String sentence) {}

    /** {@code change} is {@code added}, {@code removed} or {@code changed}; {@code text} is a unified difference. */
    public record FileDifference(String path, String change, String text) {}

    /** Compares the files of two handbooks, the older first. */
    public static Comparison of(Map<String, String> before, Map<String, String> after) {
        Handbook older = CheckedHandbook.of(before).handbook();
        Handbook newer = CheckedHandbook.of(after).handbook();
        return new Comparison(new ChangeDescriber(older, newer).all(), texts(before, after));
    }

    private static List<FileDifference> texts(Map<String, String> before, Map<String, String> after) {
        List<FileDifference> differences = new ArrayList<>();
        TreeSet<String> paths = new TreeSet<>(before.keySet());
        paths.addAll(after.keySet());
        for (String path : paths) {
            String old = before.get(path);
            String now = after.get(path);
            if (!java.util.Objects.equals(old, now)) {
                differences.add(new FileDifference(
                        path, old == null ? "added" : now == null ? "removed" : "changed", unified(path, old, now)));
            }
        }
        return differences;
    }

    private static String unified(
            String path, @org.jspecify.annotations.Nullable String old, @org.jspecify.annotations.Nullable String now) {
        List<String> lines = old == null ? List.of() : old.lines().toList();
        List<String> newer = now == null ? List.of() : now.lines().toList();
        return String.join(
                "\n", UnifiedDiffUtils.generateUnifiedDiff(path, path, lines, DiffUtils.diff(lines, newer), AROUND));
    }
}
