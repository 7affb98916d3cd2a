package servitor.core.handbook.finding;

import java.util.Collection;
import java.util.Comparator;
import java.util.Optional;
import java.util.TreeSet;

/** Finds the name somebody probably meant. */
public final class Suggest {
    private Suggest() {}

    /** A sentence that says how to mend an unknown name: the nearest known one, or what there is. */
    public static String mend(String wrong, Collection<String> known) {
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
                .filter(name -> Math.abs(name.length() - wrong.length()) <= most)
                .filter(name -> distance(wrong, name) <= most)
                .min(Comparator.<String>comparingInt(name -> distance(wrong, name))
                        .thenComparing(name -> name));
        return near.isPresent() ? near : begun;
    }

    /** Edit distance with transpositions (optimal string alignment), capped by the lengths of names. */
    static int distance(String a, String b) {
        if (a.length() > 100 || b.length() > 100) {
            return Integer.MAX_VALUE;
        }
        int[][] d = new int[a.length() + 1][b.length() + 1];
        for (int i = 0; i <= a.length(); i++) {
            d[i][0] = i;
        }
        for (int j = 0; j <= b.length(); j++) {
            d[0][j] = j;
        }
        for (int i = 1; i <= a.length(); i++) {
            for (int j = 1; j <= b.length(); j++) {
                int change = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
                d[i][j] = Math.min(Math.min(d[i - 1][j], d[i][j - 1]) + 1, d[i - 1][j - 1] + change);
                if (i > 1 && j > 1 && a.charAt(i - 1) == b.charAt(j - 2) && a.charAt(i - 2) == b.charAt(j - 1)) {
                    d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
                }
            }
        }
        return d[a.length()][b.length()];
    }
}
