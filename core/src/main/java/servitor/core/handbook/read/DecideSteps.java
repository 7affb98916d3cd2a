package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Cell;
import servitor.core.handbook.DecisionTable;
import servitor.core.handbook.DecisionTable.Line;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Branch;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import tools.jackson.databind.JsonNode;

/** Reads the steps in which a rule decides: by a list of conditions, or by a table about rows. */
final class DecideSteps {
    private DecideSteps() {}

    static Verb decide(Keys keys, Findings findings) {
        return keys.has("table")
                        || !keys.value("decide").isList()
                                && !keys.value("decide").isEmptyValue()
                ? byTable(keys, findings)
                : byConditions(keys, findings);
    }

    private static Verb byConditions(Keys keys, Findings findings) {
        List<Branch> branches = new ArrayList<>();
        String otherwise = null;
        for (Yaml item : keys.value("decide").items()) {
            if (item.get("otherwise") != null) {
                otherwise = Step.address(
                        Keys.of(item, findings, List.of("otherwise")).required("otherwise"));
                continue;
            }
            Keys branch = Keys.of(item, findings, List.of("when", "go"));
            var when = branch.condition("when");
            String go = Step.address(branch.required("go"));
            if (when != null) {
                branches.add(new Branch(when, go));
            } else if (!branch.has("when")) {
                findings.error(
                        item.place(),
                        Code.MISSING_KEY,
                        "This branch has no ‘when’.",
                        "Write ‘- when: '…'’ and ‘go: …’.");
            }
        }
        List.of("otherwise", "save").stream()
                .filter(keys::has)
                .forEach(key -> findings.error(
                        keys.placeOf(key),
                        Code.UNKNOWN_KEY,
                        "‘" + key + "’ stands beside a table only.",
                        key.equals("save") ? "Take it out." : "End the list with ‘- otherwise: <step>’."));
        return new Decide(
                branches,
                null,
                otherwise == null ? noOtherwise(keys, findings, "End the list with ‘- otherwise: <step>’.") : otherwise,
                null);
    }

    private static String noOtherwise(Keys keys, Findings findings, String remedy) {
        findings.error(
                keys.place(), Code.MISSING_OTHERWISE, "Nothing says what happens when no condition holds.", remedy);
        return Step.HAND_OVER;
    }

    private static Verb byTable(Keys keys, Findings findings) {
        List<Line> lines = new ArrayList<>();
        for (Yaml item : keys.needed("table").items()) {
            lines.add(line(item, findings));
        }
        String otherwise = keys.has("otherwise")
                ? Step.address(keys.required("otherwise"))
                : noOtherwise(
                        keys, findings, "Write ‘otherwise: <step>’ beside ‘table’; rows that meet no line go there.");
        return new Decide(List.of(), new DecisionTable(keys.template("decide"), lines), otherwise, keys.text("save"));
    }

    private static Line line(Yaml item, Findings findings) {
        Map<String, Cell> cells = new LinkedHashMap<>();
        item.entries().forEach((column, value) -> {
            if (!List.of("go", "because").contains(column)) {
                Cell cell = cell(value);
                if (cell == null) {
                    findings.error(
                            value.place(),
                            Code.DECISION,
                            "This can't be a condition of a table.",
                            "Write a value, a list of values, ‘> 450’, ‘<= 2027-01-01’ or ‘5..10’.");
                } else {
                    cells.put(column, cell);
                }
            }
        });
        Keys keys = Keys.of(item, findings, List.copyOf(item.entries().keySet()));
        return new Line(cells, Step.address(keys.required("go")), keys.text("because", ""));
    }

    private static @Nullable Cell cell(Yaml value) {
        if (value.isList()) {
            List<JsonNode> options = value.items().stream().map(Yaml::scalar).toList();
            boolean alike =
                    options.stream().map(JsonNode::getNodeType).distinct().count() == 1;
            return alike && options.stream().allMatch(DecideSteps::isValue) ? new Cell.OneOf(options) : null;
        } else if (value.isMap() || value.isEmptyValue() || !isValue(value.scalar())) {
            return null;
        }
        Optional<Cell.Range> range = value.scalar().isString() ? Cell.Range.of(value.text()) : Optional.empty();
        if (range.isEmpty() && value.scalar().isString() && value.text().strip().matches("[<>].*|.*\\.\\..*")) {
            return null;
        }
        return range.isPresent() ? range.get() : new Cell.OneOf(List.of(value.scalar()));
    }

    private static boolean isValue(JsonNode value) {
        return value.isString() || value.isNumber() || value.isBoolean();
    }
}
