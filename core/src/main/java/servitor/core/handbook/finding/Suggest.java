package servitor.core.handbook.finding;

import java.util.Collection;
import java.util.Comparator;
import java.util.Optional;
import java.util.TreeSet;
import org.apache.commons.text.similarity.DamerauLevenshteinDistance;

/** Finds the name somebody probably meant. */
public final class Suggest {
    private Suggest() {}

    /** A sentence that says how to mend an unknown name: the nearest known one, or what there is. */
    public static String remedy(String wrong, Collection<String> known) {
        Optional<String> near = nearest(wrong, known);
        if (near.isPresent()) {
            return "Did you mean ‘" + near.get() + "’?";
        }
        if (known.isEmpty()) {
            return "Nothing of this kind is declared yet.";
        }
        TreeSet<String> sorted = new TreeSet<>(known);
        String few = String.join(", ", sorted.stream().limit(8).toList());
        return "Known here: " + few + (sorted.size() > 8 ? ", … (" + sorted.size() + " in all)." : ".");
    }

    /** The known name that is close enough to be meant; empty when none is. */
    public static Optional<String> nearest(String wrong, Collection<String> known) {
        int most = Math.max(1, wrong.length() / 3);
        Optional<String> begun = known.stream()
                .filter(name ->
                        wrong.length() > 3 && (name.startsWith(wrong) || wrong.startsWith(name) && name.length() > 3))
                .min(Comparator.comparingInt(String::length));
        Optional<String> near = known.stream()
                .filter(name -> distance(wrong, name, most) <= most)
                .min(Comparator.<String>comparingInt(name -> distance(wrong, name, most))
                        .thenComparing(name -> name));
        return near.isPresent() ? near : begun;
    }

    /** How many letters are added, taken away, changed or swapped; more than {@code most} where that is more. */
    private static int distance(String a, String b, int most) {
        int distance = new DamerauLevenshteinDistance(most).apply(a, b);
        return distance < 0 ? most + 1 : distance;
    }
}
