package servitor.core.mandate;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import servitor.core.expression.BadExpression;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Expression;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Limit;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Proof;
import servitor.core.handbook.Tool;
import servitor.core.handbook.WayOfWorking;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Gives the verdict on a proposed call. Pure, and closed by default: no grant is a refusal, and so is everything that
 * can't be decided.
 */
public final class Judge {
    private Judge() {}

    /**
     * Judges {@code call} under a handbook.
     *
     * @param scope {@code case}, {@code requester}, {@code run} and {@code now} as conditions see them
     * @param usage what has been used of limits so far
     */
    public static Verdict judge(Handbook handbook, ProposedCall call, Map<String, JsonNode> scope, Usage usage) {
        Tool tool = handbook.tools().get(call.tool());
        if (tool == null) {
            return Verdict.deny("there is no tool ‘" + call.tool() + "’", "");
        }
        List<String> violations = Schemas.violations(tool.inputs(), call.args());
        if (!violations.isEmpty()) {
            return Verdict.deny("the inputs don't fit the tool: " + String.join("; ", violations), "");
        }
        Verdict verdict = ofAgent(call.agent(), handbook, tool, call, scope, usage);
        for (String behind : call.chain()) {
            verdict = stricter(verdict, ofAgent(behind, handbook, tool, call, scope, usage));
        }
        return Objects.requireNonNull(verdict, "a mandate");
    }

    /** The verdict of all mandates that bind one agent. */
    private static Verdict ofAgent(
            String name, Handbook handbook, Tool tool, ProposedCall call, Map<String, JsonNode> scope, Usage usage) {
        Agent agent = handbook.agents().get(name);
        if (agent == null) {
            return Verdict.deny("there is no agent ‘" + name + "’", "");
        }
        List<Mandate> mandates = handbook.mandatesOf(name);
        if (mandates.isEmpty()) {
            return Verdict.deny("no mandate binds the agent ‘" + name + "’", "");
        }
        Map<String, JsonNode> variables = variables(name, call, scope);
        Verdict verdict = null;
        for (Mandate mandate : mandates) {
            variables.put(Expression.USED, used(mandate, variables, handbook, usage));
            Verdict one =
                    tightened(under(mandate, tool, variables, handbook, usage), mandate, tool, agent, call, scope);
            verdict = verdict == null ? one : stricter(verdict, one);
        }
        return Objects.requireNonNull(verdict, "a mandate");
    }

    /** What has been used of the first limit of each grant that a condition of the mandate asks about. */
    private static ObjectNode used(Mandate mandate, Map<String, JsonNode> variables, Handbook handbook, Usage usage) {
        Set<String> asked = new TreeSet<>();
        Stream.concat(mandate.never().stream(), mandate.grants().stream())
                .filter(grant -> grant.when() != null)
                .flatMap(grant -> grant.when().paths().stream())
                .filter(path -> path.root().equals(Expression.USED))
                .forEach(path -> asked.add(path.fields().get(0)));
        ObjectNode used = Json.object();
        for (Grant grant : mandate.grants()) {
            if (asked.contains(grant.name()) && !grant.limits().isEmpty()) {
                String counter = grant.limits()
                        .get(0)
                        .counter(
                                mandate.name(),
                                grant.name(),
                                variables,
                                handbook.house().timeZone());
                used.put(grant.name(), usage.alone(counter));
            }
        }
        return used;
    }

    /** The stricter of two verdicts; when both ask, everybody named by either is asked. */
    public static Verdict stricter(Verdict one, Verdict other) {
        Set<Charge> charges = new LinkedHashSet<>(one.charges());
        charges.addAll(other.charges());
        Set<String> of = new TreeSet<>();
        Verdict speaks = one.decision().compareTo(other.decision()) >= 0 ? one : other;
        for (Verdict verdict : List.of(one, other)) {
            if (verdict.decision() == speaks.decision()) {
                of.addAll(verdict.of());
            }
        }
        return new Verdict(speaks.decision(), speaks.reason(), speaks.grant(), of, List.copyOf(charges));
    }

    private static Verdict under(
            Mandate mandate, Tool tool, Map<String, JsonNode> variables, Handbook handbook, Usage usage) {
        for (Grant never : mandate.never()) {
            if (never.covers(tool)) {
                Match match = matches(never, variables, true);
                if (match.matched()) {
                    return Verdict.deny("‘" + never.name() + "’ says never" + match.trouble(), never.name());
                }
            }
        }
        String troubles = "";
        String alone = "";
        for (Grant grant : mandate.grants()) {
            if (grant.covers(tool)) {
                Match match = matches(grant, variables, grant.decision() == Decision.DENY);
                if (match.matched()) {
                    String more = grant.decision() == Decision.ASK ? troubles + alone : troubles;
                    Verdict given = given(mandate, grant, match.trouble() + more);
                    return limited(given, mandate, grant, variables, handbook, usage);
                }
                alone += alone(grant, variables);
                troubles +=
                        match.trouble().isEmpty() ? "" : "; ‘" + grant.name() + "’ was passed over" + match.trouble();
            }
        }
        return Verdict.deny("‘" + mandate.title() + "’ grants nothing for this call" + troubles, "");
    }

    /** What a grant that would have allowed the call alone asks for and didn't find: the limit that people are asked because of. */
    private static String alone(Grant grant, Map<String, JsonNode> variables) {
        if (grant.decision() != Decision.ALLOW || grant.when() == null) {
            return "";
        }
        String missed = grant.when().conjuncts().stream()
                .filter(condition -> !holds(condition, variables))
                .collect(Collectors.joining(" and "));
        return missed.isEmpty() ? "" : "; ‘" + grant.name() + "’ allows it alone only when " + missed;
    }

    private static boolean holds(String condition, Map<String, JsonNode> variables) {
        try {
            return Expression.parse(condition).holds(variables);
        } catch (BadExpression | EvaluationFailed e) {
            return false; // what can't be told doesn't hold
        }
    }

    private static Verdict given(Mandate mandate, Grant grant, String trouble) {
        String reason = "‘" + grant.name() + "’ says " + grant.decision().word() + trouble;
        return new Verdict(grant.decision(), reason, grant.name(), askedBy(mandate, grant));
    }

    /** Holds an allowance against the limits of its grant; what can't be counted is refused. */
    private static Verdict limited(
            Verdict given,
            Mandate mandate,
            Grant grant,
            Map<String, JsonNode> variables,
            Handbook handbook,
            Usage usage) {
        List<Charge> charges = new ArrayList<>();
        String over = "";
        for (Limit limit : grant.limits()) {
            Optional<BigDecimal> amount = limit.amount(variables);
            if (amount.isEmpty()) {
                return Verdict.deny(
                        "‘" + grant.name() + "’ is limited to " + limit.words()
                                + ", and this call's share can't be told",
                        grant.name());
            }
            String counter = limit.counter(
                    mandate.name(), grant.name(), variables, handbook.house().timeZone());
            BigDecimal used = usage.alone(counter);
            if (used.add(amount.get()).compareTo(limit.atMost()) > 0) {
                over += " (limited to " + limit.words() + "; used: "
                        + used.stripTrailingZeros().toPlainString() + ")";
            }
            charges.add(new Charge(counter, amount.get()));
        }
        boolean beyond = given.decision() == Decision.ALLOW && !over.isEmpty();
        return new Verdict(
                beyond ? grant.overLimit() : given.decision(),
                beyond ? "‘" + grant.name() + "’ would allow, but its limit is reached" + over : given.reason(),
                grant.name(),
                given.of(),
                charges);
    }

    private static Set<String> askedBy(Mandate mandate, Grant grant) {
        String group = grant.of() != null ? grant.of() : mandate.ask();
        return group == null ? Set.of() : Set.of(group);
    }

    /** Turns an allow into an ask where the requester, the inputs or the agent's way of working demand it. */
    private static Verdict tightened(
            Verdict verdict, Mandate mandate, Tool tool, Agent agent, ProposedCall call, Map<String, JsonNode> scope) {
        if (verdict.decision() != Decision.ALLOW) {
            return verdict;
        }
        boolean sensitive = tool.effect().acts() || tool.personal();
        String why = null;
        if (sensitive && !isProven(scope)) {
            why = "the requester is only claimed";
        } else if (sensitive && tool.identifies().stream().anyMatch(name -> isInvented(call, name))) {
            why = "an input that identifies a record was made up by the model";
        } else if (WayOfWorking.of(agent, tool) == WayOfWorking.SUPERVISED) {
            why = agent.works() == WayOfWorking.SUPERVISED ? "the agent works supervised" : "the tool is supervised";
        } else if (!call.confirm().isEmpty()) {
            why = call.confirm();
        }
        if (why == null) {
            return verdict;
        }
        Set<String> of = verdict.of().isEmpty() && mandate.ask() != null ? Set.of(mandate.ask()) : verdict.of();
        return new Verdict(Decision.ASK, verdict.reason() + ", but " + why, verdict.grant(), of, verdict.charges());
    }

    private static boolean isProven(Map<String, JsonNode> scope) {
        JsonNode requester = scope.get("requester");
        JsonNode proof = requester == null ? null : requester.get("proof");
        return proof != null && Proof.holds(proof.asString());
    }

    private static boolean isInvented(ProposedCall call, String input) {
        TracedValue value = call.input(input);
        return value != null && Origin.weakest(value.originsAt("")) == Origin.MODEL;
    }

    private record Match(boolean matched, String trouble) {}

    private static Match matches(Grant grant, Map<String, JsonNode> variables, boolean onFailure) {
        Expression when = grant.when();
        if (when == null) {
            return new Match(true, "");
        }
        try {
            return new Match(when.holds(variables), "");
        } catch (EvaluationFailed e) {
            return new Match(onFailure, " (its condition failed: " + e.getMessage() + ")");
        }
    }

    private static Map<String, JsonNode> variables(String agent, ProposedCall call, Map<String, JsonNode> scope) {
        Map<String, JsonNode> variables = new HashMap<>(scope);
        variables.put("args", call.args());
        variables.put("agent", Json.object().put("name", agent));
        var sources = Json.object();
        call.sources().forEach(sources::set);
        variables.put(Expression.SOURCES, sources);
        var origins = Json.object();
        call.inputs().forEach((name, input) -> {
            Set<Origin> places = EnumSet.noneOf(Origin.class);
            places.addAll(input.originsAt(""));
            origins.set(name, Json.of(TracedValue.words(places)));
        });
        variables.put(Expression.ORIGINS, origins);
        return variables;
    }
}
