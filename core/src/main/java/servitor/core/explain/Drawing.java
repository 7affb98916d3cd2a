package servitor.core.explain;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.VerbForm.Trait;

/**
 * The flow of a page as a column: its steps from top to bottom as they are written, and the ways that don't simply go to
 * the next one as lines in lanes at the side.
 *
 * @param rows the steps in the page's order
 * @param lanes how many lanes the jumps need
 */
public record Drawing(String title, List<Row> rows, int lanes) {
    /** What a way is said to be taken on that is taken in any case. */
    static final String THEN = "then";

    public Drawing {
        rows = List.copyOf(rows);
    }

    /**
     * One step.
     *
     * @param line where its heading stands in the file, counted from 1
     * @param people whether people are asked or waited for
     * @param model whether a model judges or writes
     * @param acts whether something outside may be changed
     * @param ends whether the run ends here
     * @param flowsOn whether a way leads to the row below
     */
    public record Row(
            String address,
            String title,
            String verb,
            int line,
            boolean people,
            boolean model,
            boolean acts,
            boolean ends,
            boolean flowsOn,
            List<Exit> exits) {}

    /**
     * A way that doesn't simply go to the next row.
     *
     * @param on what it is taken on
     * @param to the row it leads to; -1 for people, -2 for the end of the run
     * @param lane the lane of its line, counted from 0; -1 when it needs none, because it leads to the row below or to an end
     */
    public record Exit(String on, int to, int lane, boolean problem) {
        static final int PEOPLE = -1;
        static final int STOP = -2;
    }

    /** Draws a page. */
    public static Drawing of(Handbook handbook, Runbook page) {
        Flow flow = new Flow(page);
        Map<String, Integer> rowOf = new LinkedHashMap<>();
        page.steps().forEach(step -> rowOf.put(step.address(), rowOf.size()));
        List<Jump> jumps = new ArrayList<>();
        for (int i = 0; i < page.steps().size(); i++) {
            for (Flow.Way way : flow.waysOut(page.steps().get(i))) {
                if (!way.to().isEmpty()
                        && !(way.on().isEmpty() && Integer.valueOf(i + 1).equals(rowOf.get(way.to())))) {
                    int to = way.to().equals(Step.HAND_OVER)
                            ? Exit.PEOPLE
                            : way.to().equals(Step.STOP) ? Exit.STOP : rowOf.getOrDefault(way.to(), Exit.STOP);
                    jumps.add(new Jump(i, to, way.on().isEmpty() ? THEN : way.on(), way.problem()));
                }
            }
        }
        Map<Jump, Integer> lanes = lanes(jumps);
        List<Row> rows = new ArrayList<>();
        for (int i = 0; i < page.steps().size(); i++) {
            rows.add(row(handbook, page.steps().get(i), i, flow, rowOf, jumps, lanes));
        }
        return new Drawing(
                page.title(),
                rows,
                lanes.values().stream().mapToInt(lane -> lane + 1).max().orElse(0));
    }

    private static Row row(
            Handbook handbook,
            Step step,
            int at,
            Flow flow,
            Map<String, Integer> rowOf,
            List<Jump> jumps,
            Map<Jump, Integer> lanes) {
        boolean flowsOn = flow.waysOut(step).stream()
                .anyMatch(way -> Integer.valueOf(at + 1).equals(rowOf.get(way.to())));
        List<Exit> exits = jumps.stream()
                .filter(jump -> jump.from() == at)
                .map(jump -> new Exit(jump.on(), jump.to(), lanes.getOrDefault(jump, -1), jump.problem()))
                .toList();
        return new Row(
                step.address(),
                step.title(),
                step.word(),
                step.place().line(),
                step.verb().waitsForPeople(),
                step.is(Trait.THINKS),
                Flow.acts(step, handbook.tools()),
                step.is(Trait.ENDS),
                flowsOn,
                exits);
    }

    private record Jump(int from, int to, String on, boolean problem) {
        int top() {
            return Math.min(from, to);
        }

        int bottom() {
            return Math.max(from, to);
        }

        /** Lines to the same row may share a lane: they run together into it. */
        boolean collides(Jump other) {
            return to != other.to && top() <= other.bottom() && other.top() <= bottom();
        }
    }

    /** Short jumps take the inner lanes. */
    private static Map<Jump, Integer> lanes(List<Jump> jumps) {
        Map<Jump, Integer> lanes = new LinkedHashMap<>();
        jumps.stream()
                .filter(jump -> jump.to() >= 0 && jump.to() != jump.from() + 1)
                .sorted(Comparator.comparingInt((Jump jump) -> jump.bottom() - jump.top())
                        .thenComparingInt(Jump::from))
                .forEach(jump -> {
                    int lane = 0;
                    while (taken(lanes, jump, lane)) {
                        lane++;
                    }
                    lanes.put(jump, lane);
                });
        return lanes;
    }

    private static boolean taken(Map<Jump, Integer> lanes, Jump jump, int lane) {
        return lanes.entrySet().stream()
                .anyMatch(e -> e.getValue() == lane && e.getKey().collides(jump));
    }
}
