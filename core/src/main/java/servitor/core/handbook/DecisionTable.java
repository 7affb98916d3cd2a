package servitor.core.handbook;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.document.WantedTable;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Template;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;

/**
 * Decides about rows by lines of conditions. Every row meets the first line all of whose conditions it holds; the topmost line that was
 * met decides, so that the worst stands first. A row that meets none comes before any that does: it goes the way of {@code otherwise}.
 *
 * @param of a list of rows, or a map of values, which counts as one row
 */
public record DecisionTable(Template of, List<Line> lines) {
    public DecisionTable {
        lines = List.copyOf(lines);
    }

    /**
     * A line.
     *
     * @param cells conditions by the name of their column; all must hold
     * @param go where a row leads that meets it
     * @param because why, for people; may be empty
     */
    public record Line(Map<String, Cell> cells, String go, String because) {
        public Line {
            cells = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(cells));
        }

        boolean holds(JsonNode row) throws EvaluationFailed {
            for (Map.Entry<String, Cell> cell : cells.entrySet()) {
                JsonNode value = row.path(cell.getKey());
                Optional<Boolean> holds = value.isMissingNode()
                        ? Optional.empty()
                        : cell.getValue().holds(value);
                if (holds.isEmpty()) {
                    throw new EvaluationFailed("‘" + cell.getKey() + "’ of " + called(row) + " can't be compared with "
                            + cell.getValue().words());
                }
                if (!holds.get()) {
                    return false;
                }
            }
            return true;
        }

        /** The conditions in words. */
        public String words() {
            return cells.isEmpty()
                    ? "whatever else there is"
                    : cells.entrySet().stream()
                            .map(cell -> cell.getKey() + " " + cell.getValue().words())
                            .collect(Collectors.joining(", "));
        }
    }

    /**
     * What was decided.
     *
     * @param index of the row that decided, from 0
     * @param line it met; null when it met none
     * @param at the line's number, from 1; 0 for none
     */
    public record Decided(int index, @Nullable Line line, int at) {}

    /** Decides; {@code rows} holds at least one. */
    public Decided decide(JsonNode rows) throws EvaluationFailed {
        Decided worst = null;
        for (int i = 0; i < rows.size(); i++) {
            Decided one = decide(i, rows.get(i));
            if (worst == null || one.at < worst.at) {
                worst = one;
            }
        }
        return Objects.requireNonNull(worst, "there are rows");
    }

    private Decided decide(int index, JsonNode row) throws EvaluationFailed {
        for (int i = 0; i < lines.size(); i++) {
            if (lines.get(i).holds(row)) {
                return new Decided(index, lines.get(i), i + 1);
            }
        }
        return new Decided(index, null, 0);
    }

    /** What decided, in words for people, such as {@code row 7, class 3, litres 600: over the limit}. */
    public String words(JsonNode row, Decided decided) {
        Line line = decided.line();
        List<String> read = line == null || line.cells().isEmpty()
                ? columns()
                : List.copyOf(line.cells().keySet());
        String values = read.stream()
                .filter(row::has)
                .map(name -> ", " + name + " " + Cell.text(row.get(name)))
                .collect(Collectors.joining());
        String why = line == null ? "no line of the table is about it" : line.because();
        return called(row) + values + (why.isEmpty() ? "" : ": " + why);
    }

    private static String called(JsonNode row) {
        return row.has(WantedTable.ROW) ? "row " + row.get(WantedTable.ROW).asString("") : "the value";
    }

    /** The columns that its lines read. */
    public List<String> columns() {
        return lines.stream()
                .flatMap(line -> line.cells().keySet().stream())
                .distinct()
                .toList();
    }

    /** The shape of the rows, when {@code of} has this one. */
    public static Shape row(Shape of) {
        return of instanceof Shape.ListOf list ? list.item() : of;
    }
}
