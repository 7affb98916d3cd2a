package servitor.core.handbook.check;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Cell;
import servitor.core.handbook.DecisionTable;
import servitor.core.handbook.DecisionTable.Line;
import servitor.core.handbook.Place;
import servitor.core.handbook.Step;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;
import servitor.core.json.Json;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Checks a decision table: its columns against the rows it decides about, and its lines against each other. Conditions are constants, so
 * a few values of each column stand for all: those that are named, and one between any two of them.
 */
final class TableRule {
    /** More combinations of values than this aren't tried. */
    private static final long MOST_TRIED = 50_000;

    private static final int MOST_GAPS_TOLD = 3;

    private final Findings findings;

    TableRule(Findings findings) {
        this.findings = findings;
    }

    void check(Step step, DecisionTable table, Shape of) {
        if (!(of instanceof Shape.ListOf) && !(of instanceof Shape.Fields) && !(of instanceof Shape.Anything)) {
            findings.error(
                    step.placeOf("decide"),
                    Code.TYPES,
                    "A table decides about rows, and is given " + of.words() + ".",
                    "Give it a list of rows, as in ‘decide: ${declaration.goods}’, or a map of values.");
            return;
        }
        Shape row = DecisionTable.row(of);
        boolean sound = true;
        for (int i = 0; i < table.lines().size(); i++) {
            sound &= columns(step, "table." + i, table.lines().get(i), row);
        }
        if (sound) {
            lines(step, table, row);
        }
    }

    private boolean columns(Step step, String key, Line line, Shape row) {
        boolean sound = true;
        for (Map.Entry<String, Cell> cell : line.cells().entrySet()) {
            Place place = step.placeOf(key + "." + cell.getKey());
            Optional<Shape.Field> field = row.field(cell.getKey());
            if (field.isEmpty()) {
                findings.error(
                        place,
                        Code.UNKNOWN_FIELD,
                        "The rows have no column ‘" + cell.getKey() + "’.",
                        Suggest.remedy(
                                cell.getKey(),
                                row instanceof Shape.Fields fields
                                        ? List.copyOf(fields.fields().keySet())
                                        : List.of()));
                sound = false;
            } else if (!cell.getValue().goesWith(field.get().shape())) {
                findings.error(
                        place,
                        Code.TYPES,
                        "‘" + cell.getKey() + "’ is " + field.get().shape().words() + " and can never be "
                                + cell.getValue().words() + ".",
                        "Write a condition that fits; a number that is a word, such as a class, stands in quotes.");
                sound = false;
            }
        }
        return sound;
    }

    /** Lines that no row can meet, and rows that meet no line. */
    private void lines(Step step, DecisionTable table, Shape row) {
        Map<String, List<JsonNode>> tried = new LinkedHashMap<>();
        long combinations = 1;
        for (String column : table.columns()) {
            List<JsonNode> values = values(
                    table, column, row.field(column).map(Shape.Field::shape).orElse(Shape.ANYTHING));
            tried.put(column, values);
            combinations *= Math.max(1, values.size());
        }
        if (combinations > MOST_TRIED) {
            return;
        }
        List<ObjectNode> rows = rows(tried);
        boolean[] met = new boolean[table.lines().size()];
        List<ObjectNode> gaps = new ArrayList<>();
        for (ObjectNode one : rows) {
            int line = first(table, one);
            if (line < 0) {
                gaps.add(one);
            } else {
                met[line] = true;
            }
        }
        for (int i = 0; i < met.length; i++) {
            if (!met[i]) {
                findings.error(
                        step.placeOf("table." + i + ".go"),
                        Code.DECISION,
                        "No row can ever meet this line ("
                                + table.lines().get(i).words() + "): those above it take them all.",
                        "Move it up, or take it out.");
            }
        }
        if (!gaps.isEmpty()) {
            findings.hint(
                    step.placeOf("otherwise"),
                    Code.DECISION,
                    "Some rows meet no line and go this way, such as "
                            + gaps.stream()
                                    .limit(MOST_GAPS_TOLD)
                                    .map(TableRule::words)
                                    .collect(Collectors.joining("; "))
                            + ".",
                    "Nothing to do, if that is meant.");
        }
    }

    private static int first(DecisionTable table, ObjectNode row) {
        for (int i = 0; i < table.lines().size(); i++) {
            boolean all = table.lines().get(i).cells().entrySet().stream()
                    .allMatch(cell ->
                            cell.getValue().holds(row.path(cell.getKey())).orElse(false));
            if (all) {
                return i;
            }
        }
        return -1;
    }

    private static List<ObjectNode> rows(Map<String, List<JsonNode>> tried) {
        List<ObjectNode> rows = List.of(Json.object());
        for (Map.Entry<String, List<JsonNode>> column : tried.entrySet()) {
            List<ObjectNode> more = new ArrayList<>();
            for (ObjectNode row : rows) {
                column.getValue()
                        .forEach(value -> more.add((ObjectNode) row.deepCopy().set(column.getKey(), value)));
            }
            rows = more;
        }
        return rows;
    }

    /** Values that stand for all a column can have. */
    private static List<JsonNode> values(DecisionTable table, String column, Shape shape) {
        if (shape instanceof Shape.OneOf words) {
            return words.options().stream().map(Json::of).toList();
        } else if (shape instanceof Shape.YesNo) {
            return List.of(Json.of(true), Json.of(false));
        }
        List<JsonNode> named = new ArrayList<>();
        for (Line line : table.lines()) {
            Cell cell = line.cells().get(column);
            if (cell instanceof Cell.OneOf oneOf) {
                named.addAll(oneOf.options());
            } else if (cell instanceof Cell.Range range) {
                add(named, range.least());
                add(named, range.most());
            }
        }
        if (named.stream().allMatch(JsonNode::isNumber)) {
            return numbers(named, shape instanceof Shape.Whole);
        }
        named.stream()
                .filter(JsonNode::isString)
                .toList()
                .forEach(word -> named.add(Json.of(word.stringValue() + "~")));
        named.add(Json.of(""));
        return named.stream().distinct().toList();
    }

    private static void add(List<JsonNode> named, @Nullable JsonNode bound) {
        if (bound != null) {
            named.add(bound);
        }
    }

    /** The numbers themselves, one below, one above, and one between any two that have one between them. */
    private static List<JsonNode> numbers(List<JsonNode> named, boolean whole) {
        TreeSet<BigDecimal> all = new TreeSet<>();
        named.forEach(number -> all.add(number.decimalValue()));
        List<BigDecimal> bounds = List.copyOf(all);
        if (!bounds.isEmpty()) {
            all.add(bounds.get(0).subtract(BigDecimal.ONE));
            all.add(bounds.get(bounds.size() - 1).add(BigDecimal.ONE));
        }
        for (int i = 0; i + 1 < bounds.size(); i++) {
            BigDecimal between = whole
                    ? bounds.get(i).add(BigDecimal.ONE)
                    : bounds.get(i).add(bounds.get(i + 1)).divide(BigDecimal.valueOf(2));
            if (between.compareTo(bounds.get(i + 1)) < 0) {
                all.add(between);
            }
        }
        return all.stream()
                .map(number -> (JsonNode) Json.nodes().numberNode(number))
                .toList();
    }

    private static String words(ObjectNode row) {
        return row.properties().stream()
                .map(e -> e.getKey() + " "
                        + new Cell.OneOf(List.of(e.getValue())).words().replace("~", "…"))
                .collect(Collectors.joining(", "));
    }
}
