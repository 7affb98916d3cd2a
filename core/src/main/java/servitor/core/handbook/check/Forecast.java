package servitor.core.handbook.check;

import java.util.EnumSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Template;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Telling;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb.Call;
import servitor.core.handbook.Verb.Open;
import servitor.core.handbook.Verb.Tell;
import servitor.core.handbook.WayOfWorking;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Foresees verdicts as far as constants allow: calls that are always refused, and calls that always ask. */
final class Forecast {
    private final Handbook handbook;
    private final Runbook page;
    private final Findings findings;

    Forecast(Handbook handbook, Runbook page, Findings findings) {
        this.handbook = handbook;
        this.page = page;
        this.findings = findings;
    }

    void check() {
        Agent agent = handbook.agents().get(page.agent());
        if (agent == null) {
            return;
        }
        for (Step step : page.steps()) {
            if (step.verb() instanceof Call call && handbook.tools().containsKey(call.tool())) {
                foresee(step, "call", agent, handbook.tools().get(call.tool()), constants(call.inputs()));
            } else if (step.verb() instanceof Open open) {
                foresee(step, "open", agent, handbook.tool(Opening.OPEN), constants(open.inputs()));
            } else if (step.verb() instanceof Tell tell) {
                ObjectNode constants = Json.object();
                tell.to().asConstant().ifPresent(to -> constants.set("to", to));
                TellRule.tools(handbook, page, tell)
                        .forEach(tool -> foresee(step, "tell", agent, handbook.tool(tool), constants));
                if (TellRule.tools(handbook, page, tell).contains(Telling.MAIL)) {
                    lookedUp(step, agent);
                }
            }
        }
    }

    /** A mail that may have gone out is looked for, if that is granted. */
    private void lookedUp(Step step, Agent agent) {
        if (possible(agent, handbook.tool(Telling.FIND_MAIL), Json.object()).equals(EnumSet.of(Decision.DENY))) {
            findings.hint(
                    step.placeOf("tell"),
                    Code.SETTLE_WITH,
                    "People are asked about every mail of which it isn't known whether it went out: the mandate of ‘"
                            + agent.name() + "’ doesn't allow ‘" + Telling.FIND_MAIL + "’.",
                    "Grant it beside ‘" + Telling.MAIL + "’, so that it is looked for first.");
        }
    }

    private static ObjectNode constants(Template inputs) {
        ObjectNode constants = Json.object();
        for (String name : inputs.fieldNames()) {
            inputs.field(name).asConstant().ifPresent(value -> constants.set(name, value));
        }
        return constants;
    }

    private Set<Decision> possible(Agent agent, Tool tool, ObjectNode constants) {
        Set<Decision> possible = EnumSet.of(Decision.ALLOW);
        var mandates = handbook.mandatesOf(agent.name());
        if (mandates.isEmpty()) {
            possible = EnumSet.of(Decision.DENY);
        }
        for (Mandate mandate : mandates) {
            possible = strictest(possible, under(mandate, tool, constants));
        }
        if (WayOfWorking.of(agent, tool) == WayOfWorking.SUPERVISED && possible.remove(Decision.ALLOW)) {
            possible.add(Decision.ASK);
        }
        return possible;
    }

    private void foresee(Step step, String key, Agent agent, Tool tool, ObjectNode constants) {
        Set<Decision> possible = possible(agent, tool, constants);
        if (possible.equals(EnumSet.of(Decision.DENY))) {
            findings.error(
                    step.placeOf(key),
                    Code.NEVER_ALLOWED,
                    "The mandate of ‘" + agent.name() + "’ never allows ‘" + tool.name() + "’ here.",
                    "Grant it in mandates/, or take the step out.");
        } else if (possible.equals(EnumSet.of(Decision.ASK))) {
            findings.hint(
                    step.placeOf(key),
                    Code.ALWAYS_ASKED,
                    "People are asked every time before ‘" + tool.name() + "’ is called here.",
                    "Nothing to do, if that is meant.");
        }
    }

    private static Set<Decision> strictest(Set<Decision> one, Set<Decision> other) {
        Set<Decision> all = EnumSet.noneOf(Decision.class);
        one.forEach(a -> other.forEach(b -> all.add(a.compareTo(b) >= 0 ? a : b)));
        return all;
    }

    private static Set<Decision> under(Mandate mandate, Tool tool, ObjectNode constants) {
        Set<Decision> possible = EnumSet.noneOf(Decision.class);
        for (Grant never : mandate.never()) {
            if (never.covers(tool)) {
                Optional<Boolean> holds = holds(never, constants);
                if (holds.orElse(true)) {
                    possible.add(Decision.DENY);
                    if (holds.isPresent()) {
                        return possible;
                    }
                }
            }
        }
        for (Grant grant : mandate.grants()) {
            if (grant.covers(tool)) {
                Optional<Boolean> holds = holds(grant, constants);
                if (holds.orElse(true)) {
                    possible.add(grant.decision());
                    if (holds.isPresent()) {
                        return possible;
                    }
                }
            }
        }
        possible.add(Decision.DENY);
        return possible;
    }

    /** Whether the grant's condition holds; empty when that depends on more than constants. */
    private static Optional<Boolean> holds(Grant grant, ObjectNode constants) {
        if (grant.when() == null) {
            return Optional.of(true);
        }
        boolean decidable = grant.when().paths().stream()
                .allMatch(path -> path.root().equals("args")
                        && !path.fields().isEmpty()
                        && constants.has(path.fields().get(0)));
        if (!decidable) {
            return Optional.empty();
        }
        try {
            return Optional.of(grant.when().holds(Map.<String, JsonNode>of("args", constants)));
        } catch (EvaluationFailed e) {
            return Optional.empty();
        }
    }
}
