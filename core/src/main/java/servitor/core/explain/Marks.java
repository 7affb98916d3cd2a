package servitor.core.explain;

import java.util.Set;

/**
 * What is set apart in a drawing.
 *
 * @param steps by their addresses
 * @param ways that lead on from steps which aren't set apart themselves
 * @param legend what it means that they are
 */
public record Marks(Set<String> steps, Set<Way> ways, String legend) {
    /** Nothing is. */
    static final Marks NONE = new Marks(Set.of(), Set.of(), "");

    public Marks {
        steps = Set.copyOf(steps);
        ways = Set.copyOf(ways);
    }

    /** A way out of a step, by its address; {@code on} is what it is taken on, empty for the plain way. */
    public record Way(String step, String on) {}

    boolean has(Drawing.Row row) {
        return steps.contains(row.address());
    }

    boolean has(Drawing.Row row, Drawing.Exit exit) {
        return has(row) || ways.contains(new Way(row.address(), exit.on().equals(Drawing.THEN) ? "" : exit.on()));
    }
}
