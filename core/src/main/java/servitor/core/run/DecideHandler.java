package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.Map;
import servitor.core.expression.EvaluationFailed;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb.Branch;
import servitor.core.handbook.Verb.Decide;
import servitor.core.json.Json;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** {@code decide}: the first condition that holds gives the way. A condition without a value is a problem, not a no. */
final class DecideHandler implements VerbHandler<Decide> {

    @Override
    public void enter(TransitionBuilder turn, Decide verb) {
        Map<String, JsonNode> scope = new LinkedHashMap<>();
        turn.scope().forEach((name, value) -> scope.put(name, value.value()));
        try {
            for (Branch branch : verb.branches()) {
                if (branch.when().holds(scope)) {
                    turn.log(
                            TrailWord.DECIDED,
                            Json.object().put("because", branch.when().text()).put("go", branch.go()));
                    turn.goTo(branch.go());
                    return;
                }
            }
        } catch (EvaluationFailed e) {
            turn.problem(Problem.INVALID, String.valueOf(e.getMessage()));
            return;
        }
        turn.log(
                TrailWord.DECIDED,
                Json.object().put("because", "no condition held").put("go", verb.otherwise()));
        turn.goTo(verb.otherwise());
    }
}
