package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import servitor.core.document.FoundAt;
import servitor.core.expression.EvaluationFailed;
import servitor.core.handbook.DecisionTable;
import servitor.core.handbook.DecisionTable.Decided;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb.Branch;
import servitor.core.handbook.Verb.Decide;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code decide}: the first condition that holds gives the way, or the row that a table finds worst. A condition without a value is a
 * problem, not a no.
 */
final class DecideHandler implements VerbHandler<Decide> {

    @Override
    public void enter(TransitionBuilder turn, Decide verb) {
        try {
            if (verb.table() != null) {
                byTable(turn, verb, verb.table());
            } else {
                byConditions(turn, verb);
            }
        } catch (EvaluationFailed e) {
            turn.problem(Problem.INVALID, String.valueOf(e.getMessage()));
        }
    }

    private static void byConditions(TransitionBuilder turn, Decide verb) throws EvaluationFailed {
        Map<String, JsonNode> scope = new LinkedHashMap<>();
        turn.scope().forEach((name, value) -> scope.put(name, value.value()));
        for (Branch branch : verb.branches()) {
            if (branch.when().holds(scope)) {
                turn.log(
                        TrailWord.DECIDED,
                        Json.object().put("because", branch.when().text()).put("go", branch.go()));
                turn.goTo(branch.go());
                return;
            }
        }
        turn.log(
                TrailWord.DECIDED,
                Json.object().put("because", "no condition held").put("go", verb.otherwise()));
        turn.goTo(verb.otherwise());
    }

    private static void byTable(TransitionBuilder turn, Decide verb, DecisionTable table) throws EvaluationFailed {
        TracedValue of = turn.fill(table.of());
        if (of == null) {
            return;
        }
        JsonNode rows = of.value().isObject() ? Json.mapper().createArrayNode().add(of.value()) : of.value();
        if (!rows.isArray() || rows.isEmpty()) {
            turn.problem(Problem.INVALID, "there are no rows to decide about");
            return;
        }
        Decided decided = table.decide(rows);
        TracedValue row =
                of.value().isObject() ? of : Objects.requireNonNull(of.at(List.of(String.valueOf(decided.index()))));
        String says = table.words(row.value(), decided);
        String go = decided.line() == null ? verb.otherwise() : decided.line().go();
        ObjectNode told = Json.object()
                .put("because", says)
                .put("go", go)
                .put("line", decided.at())
                .put("rows", rows.size())
                .set("row", row.value());
        row.foundAt().map(FoundAt::told).ifPresent(at -> told.put("at", at));
        turn.log(TrailWord.DECIDED, told);
        turn.known().save(verb.save(), kept(decided, row, says));
        turn.goTo(go);
    }

    private static TracedValue kept(Decided decided, TracedValue row, String says) {
        Map<String, TracedValue> kept = new LinkedHashMap<>();
        kept.put("line", TracedValue.of(Json.of(decided.at()), Origin.HANDBOOK));
        kept.put(
                "because",
                TracedValue.of(
                        Json.of(decided.line() == null ? "" : decided.line().because()), Origin.HANDBOOK));
        kept.put("says", new TracedValue(Json.of(says), row.originsAt(""), Map.of(), row.written()));
        kept.put("row", row);
        return TracedValue.fields(kept);
    }
}
