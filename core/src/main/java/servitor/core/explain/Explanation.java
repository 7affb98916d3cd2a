package servitor.core.explain;

import java.util.List;

/**
 * A page in plain words.
 *
 * @param paragraph what the page does as a whole
 * @param steps each step in a sentence or two, in the page's order
 */
public record Explanation(String title, String paragraph, List<Line> steps) {
    public Explanation {
        steps = List.copyOf(steps);
    }

    /** One step in words; {@code line} is where its heading stands in the file, counted from 1. */
    public record Line(String address, String title, int line, String words) {}
}
