package servitor.core.handbook.check;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;
import servitor.core.handbook.Agent;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Place;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.VerbForm.Trait;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;

/** Checks one page against the handbook it stands in. */
final class RunbookChecker {
    private final Handbook handbook;
    private final Runbook page;
    private final Findings findings;
    private final Flow flow;
    private final Scopes scopes;
    private final StepChecker steps;

    RunbookChecker(Handbook handbook, Runbook page, Scopes scopes, Findings findings) {
        this.handbook = handbook;
        this.page = page;
        this.scopes = scopes;
        this.findings = findings;
        this.flow = new Flow(page);
        this.steps = new StepChecker(handbook, page, flow, findings);
    }

    /** What a page starts on is something its kind of case has, and says no more than is known then. */
    private void change(CaseChange change) {
        known(Code.UNKNOWN_KIND, change.kind(), handbook.kinds().keySet(), page.placeOf("starts"));
        Kind kind = handbook.kinds().get(change.kind());
        if (change.what() == CaseChange.What.FIELD && kind != null) {
            known(Code.UNKNOWN_FIELD, change.named(), kind.fields().keySet(), page.placeOf("starts"));
        }
        if (change.what() == CaseChange.What.LATE && kind != null && kind.resolveWithin() == null) {
            findings.error(
                    page.placeOf("starts"),
                    Code.START,
                    "Cases of ‘" + kind.title() + "’ are never late, so that the page never starts.",
                    "Say in kinds/" + kind.name() + ".yaml how long they may be open, as in ‘resolve-within: P2D’.");
        }
        if (change.when() != null) {
            new ExpressionRule(findings)
                    .condition(change.when(), page.placeOf("starts"), scopes.onChange(change.kind()), List.of());
        }
        if (!page.takes().fields().isEmpty()) {
            findings.error(
                    page.placeOf("starts"),
                    Code.START,
                    "‘" + page.title() + "’ takes inputs, so only another page can start it.",
                    "Take ‘starts’ or ‘takes’ out.");
        }
    }

    void check() {
        known(Code.UNKNOWN_DESK, page.desk(), handbook.desks().keySet(), page.placeOf("desk"));
        known(Code.UNKNOWN_AGENT, page.agent(), handbook.agents().keySet(), page.placeOf("agent"));
        page.startsOn()
                .forEach(kind -> known(Code.UNKNOWN_KIND, kind, handbook.kinds().keySet(), page.placeOf("starts")));
        page.changes().forEach(this::change);
        if (page.steps().isEmpty()) {
            findings.error(
                    page.place(),
                    Code.NO_STEPS,
                    "The page has no steps.",
                    "Add a level-2 heading with a step block under it.");
            return;
        }
        Set<String> reachable = flow.reachable();
        for (Step step : page.steps()) {
            if (!reachable.contains(step.address())) {
                findings.error(
                        step.place(),
                        Code.UNREACHABLE,
                        "No way leads to the step ‘" + step.title() + "’.",
                        "Lead a ‘go’ here or remove the step.");
            }
            ways(step);
            instruction(step);
            steps.check(step, scopes.at(page, step).orElseGet(() -> scopes.anywhere(page)));
            saveName(step);
        }
        if (!Step.isReserved(page.onTrouble())) {
            Checker.unknownStep(findings, page, page.onTrouble(), page.placeOf("on-trouble"));
        }
        loops();
        new Forecast(handbook, page, findings).check();
    }

    private void known(Code code, String name, java.util.Collection<String> known, Place place) {
        findings.unknown(code, name, known, place);
    }

    private void ways(Step step) {
        for (Flow.Way way : flow.waysOut(step)) {
            if (way.to().isEmpty()) {
                findings.error(
                        step.place(),
                        Code.MISSING_FINISH,
                        "After ‘" + step.title() + "’ the page ends without finishing.",
                        "Add a step with ‘finish: resolved’, or a ‘go’.");
            } else if (!Step.isReserved(way.to())) {
                Checker.unknownStep(findings, page, way.to(), placeOf(step, way));
            }
        }
        Set<String> problems = new LinkedHashSet<>(Problem.words());
        problems.addAll(step.verb().problems());
        called(step).forEach(tool -> problems.addAll(tool.problems().values()));
        step.on()
                .keySet()
                .forEach(problem -> known(Code.UNKNOWN_PROBLEM, problem, problems, step.placeOf("on." + problem)));
    }

    private static Place placeOf(Step step, Flow.Way way) {
        if (way.problem()) {
            return step.placeOf("on." + way.on());
        }
        if (step.verb() instanceof Decide decide && decide.table() != null) {
            for (int i = 0; i < decide.table().lines().size(); i++) {
                if (decide.table().lines().get(i).words().equals(way.on())
                        && decide.table().lines().get(i).go().equals(way.to())) {
                    return step.placeOf("table." + i + ".go");
                }
            }
            return step.placeOf("otherwise");
        }
        if (step.verb() instanceof Decide decide) {
            for (int i = 0; i < decide.branches().size(); i++) {
                if (decide.branches().get(i).when().text().equals(way.on())) {
                    return step.placeOf("decide." + i + ".go");
                }
            }
            return step.placeOf("decide." + decide.branches().size() + ".otherwise");
        }
        return step.placeOf("go." + way.on());
    }

    private void instruction(Step step) {
        if (!step.is(Trait.THINKS)) {
            return;
        }
        if (step.prose().isBlank()) {
            findings.error(
                    step.place(),
                    Code.MISSING_PROSE,
                    "‘" + step.title() + "’ asks a model to work, but says nothing to it.",
                    "Write under the heading what it should do: the prose is the instruction.");
            return;
        }
        Agent agent = handbook.agents().get(page.agent());
        if (agent != null && agent.brief().isThin() && step.prose().split("\\s+").length < 12) {
            findings.warning(
                    step.place(),
                    Code.THIN_BRIEF,
                    "A model is told little here: a short instruction, and a brief without rule or example.",
                    "Add an example of good work to the brief of ‘" + agent.name()
                            + "’, or say more under the heading.");
        }
    }

    private void loops() {
        for (Step step : flow.unboundedLoops()) {
            findings.error(
                    step.place(),
                    Code.UNBOUNDED_LOOP,
                    "A run can come back to ‘" + step.title() + "’ as often as it likes.",
                    "Add ‘at-most: 3’ to a step of the loop; the problem ‘exhausted’ is met after that.");
        }
        for (Step step : page.steps()) {
            called(step)
                    .filter(tool -> tool.effect() == Effect.ONCE && flow.inLoop(step))
                    .forEach(tool -> findings.error(
                            step.placeOf(step.word()),
                            Code.ONCE_IN_LOOP,
                            "‘" + tool.name() + "’ must not be repeated blindly, and stands in a loop.",
                            "Lead the loop around it."));
        }
    }

    /** The tool that a step calls of itself; a model's choice among several is the gate's to judge. */
    private Stream<Tool> called(Step step) {
        return step.is(Trait.THINKS)
                ? Stream.empty()
                : step.verb().tools().stream()
                        .map(offer -> handbook.tools().get(offer.tool()))
                        .filter(Objects::nonNull);
    }

    private void saveName(Step step) {
        String save = step.verb().save();
        if (save != null && (Scopes.GIVEN.contains(save) || !save.matches("[a-z_][a-zA-Z0-9_]*"))) {
            findings.error(
                    step.placeOf("save"),
                    Code.SAVE_NAME,
                    "‘" + save + "’ can't be the name of a saved value.",
                    "Use a word of letters, digits and ‘_’ that isn't one of " + String.join(", ", Scopes.GIVEN) + ".");
        }
    }
}
