package servitor.core.handbook;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import servitor.core.expression.Path;
import servitor.core.expression.Template;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Call;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.HandOver;
import servitor.core.handbook.Verb.Tell;

/** Checks one page against the handbook it stands in. */
final class RunbookChecker {
    /** Names that every page has without saving them. */
    static final List<String> GIVEN = List.of("case", "requester", "desk", "run", "now");

    private static final List<String> PROBLEMS =
            List.of("not-found", "refused", "declined", "expired", "unavailable", "timeout", "invalid", "exhausted");

    private final Handbook handbook;
    private final Runbook page;
    private final Findings findings;
    private final Flow flow;

    RunbookChecker(Handbook handbook, Runbook page, Findings findings) {
        this.handbook = handbook;
        this.page = page;
        this.findings = findings;
        this.flow = new Flow(page);
    }

    void check() {
        Checker.unknown(findings, "desk", page.desk(), handbook.desks().keySet(), page.place());
        Checker.unknown(findings, "agent", page.agent(), handbook.agents().keySet(), page.place());
        page.startsOn()
                .forEach(kind ->
                        Checker.unknown(findings, "kind", kind, handbook.kinds().keySet(), page.place()));
        if (page.steps().isEmpty()) {
            findings.error(
                    page.place(),
                    "no-steps",
                    "The page has no steps.",
                    "Add a level-2 heading with a step block under it.");
            return;
        }
        Set<String> reachable = flow.reachable();
        for (Step step : page.steps()) {
            if (!reachable.contains(step.address())) {
                findings.error(
                        step.place(),
                        "unreachable",
                        "No way leads to the step ‘" + step.title() + "’.",
                        "Lead a ‘go’ here or remove the step.");
            }
            ways(step);
            verb(step);
            names(step);
        }
        if (!Step.isReserved(page.onTrouble())) {
            stepNamed(page.onTrouble(), page.place());
        }
        reviewRule();
    }

    private void ways(Step step) {
        for (Flow.Way way : flow.waysOut(step)) {
            if (way.to().isEmpty()) {
                findings.error(
                        step.place(),
                        "missing-finish",
                        "After ‘" + step.title() + "’ the page ends without finishing.",
                        "Add a step with ‘finish: resolved’, or a ‘go’.");
            } else if (!Step.isReserved(way.to())) {
                stepNamed(way.to(), step.place());
            }
        }
        Set<String> problems = new LinkedHashSet<>(PROBLEMS);
        if (step.verb() instanceof Call call && handbook.tools().containsKey(call.tool())) {
            problems.addAll(handbook.tools().get(call.tool()).problems().values());
        }
        step.on().keySet().forEach(problem -> Checker.unknown(findings, "problem", problem, problems, step.place()));
    }

    private void stepNamed(String address, Place place) {
        List<String> known = new ArrayList<>(List.of(Step.HAND_OVER, Step.STOP));
        page.steps().forEach(step -> known.add(step.address()));
        Checker.unknown(findings, "step", address, known, place);
    }

    private void verb(Step step) {
        if (Flow.usesModel(step) && step.prose().isEmpty()) {
            findings.error(
                    step.place(),
                    "missing-prose",
                    "‘" + step.title() + "’ asks a model to write, but says nothing to it.",
                    "Write under the heading what the text should say: the prose is the instruction.");
        }
        if (step.verb() instanceof Call call) {
            call(step, call);
        } else if (step.verb() instanceof Approve approve) {
            approve.of().forEach(group -> Checker.unknown(findings, "group", group, groupsAndDesks(), step.place()));
            Set<String> saved = saved();
            if (approve.edit() != null) {
                Checker.unknown(findings, "name", approve.edit(), saved, step.place());
            }
            approve.show().forEach(name -> Checker.unknown(findings, "name", name, saved, step.place()));
        } else if (step.verb() instanceof HandOver handOver && handOver.to() != null) {
            Checker.unknown(findings, "group", handOver.to(), groupsAndDesks(), step.place());
        }
    }

    private Set<String> groupsAndDesks() {
        Set<String> names = new HashSet<>(handbook.groups().keySet());
        names.addAll(handbook.desks().keySet());
        return names;
    }

    private void call(Step step, Call call) {
        Tool tool = handbook.tools().get(call.tool());
        if (tool == null) {
            Checker.unknown(findings, "tool", call.tool(), handbook.tools().keySet(), step.place());
            return;
        }
        List<String> inputs = new ArrayList<>(tool.inputs().path("properties").propertyNames());
        Set<String> given = call.inputs().fieldNames();
        given.forEach(name -> Checker.unknown(findings, "input", name, inputs, step.place()));
        tool.inputs().path("required").forEach(name -> {
            if (!given.contains(name.asString())) {
                findings.error(
                        step.place(),
                        "missing-input",
                        "‘" + tool.name() + "’ needs the input ‘" + name.asString() + "’.",
                        "Add it under ‘with’.");
            }
        });
        call.inputs()
                .asConstant()
                .ifPresent(constant -> servitor.core.json.Schemas.violations(tool.inputs(), constant)
                        .forEach(violation -> findings.error(
                                step.place(),
                                "input-value",
                                "An input doesn't fit ‘" + tool.name() + "’: " + violation + ".",
                                "Give a value of the declared type.")));
    }

    private Set<String> saved() {
        Set<String> names = new LinkedHashSet<>();
        for (Step step : page.steps()) {
            String name = savedBy(step);
            if (name != null) {
                names.add(name);
            }
        }
        return names;
    }

    private static @org.jspecify.annotations.Nullable String savedBy(Step step) {
        if (step.verb() instanceof Call call) {
            return call.save();
        }
        if (step.verb() instanceof Draft draft) {
            return draft.save();
        }
        return step.verb() instanceof Approve approve ? approve.save() : null;
    }

    private void names(Step step) {
        Set<String> known = saved();
        known.addAll(GIVEN);
        for (Path path : pathsIn(step.verb())) {
            Checker.unknown(findings, "name", path.root(), known, step.place());
            if (path.root().equals("case")) {
                caseField(step, path);
            }
        }
        String save = savedBy(step);
        if (save != null && (GIVEN.contains(save) || !save.matches("[a-z_][a-zA-Z0-9_]*"))) {
            findings.error(
                    step.place(),
                    "save-name",
                    "‘" + save + "’ can't be the name of a saved value.",
                    "Use a word of letters, digits and ‘_’ that isn't one of " + String.join(", ", GIVEN) + ".");
        }
    }

    private void caseField(Step step, Path path) {
        List<String> parts = List.of(
                "id", "kind", "desk", "subject", "text", "language", "fields", "documents", "priority", "state");
        if (path.fields().isEmpty()) {
            return;
        }
        Checker.unknown(findings, "field", path.fields().get(0), parts, step.place());
        if (path.fields().get(0).equals("fields") && path.fields().size() > 1) {
            Set<String> fields = new LinkedHashSet<>();
            page.startsOn().stream()
                    .map(kind -> handbook.kinds().get(kind))
                    .filter(java.util.Objects::nonNull)
                    .forEach(kind -> fields.addAll(kind.fields().keySet()));
            if (!fields.isEmpty()) {
                Checker.unknown(findings, "field", path.fields().get(1), fields, step.place());
            }
        }
    }

    private static Set<Path> pathsIn(Verb verb) {
        Set<Path> paths = new LinkedHashSet<>();
        templatesIn(verb).forEach(template -> paths.addAll(template.paths()));
        if (verb instanceof Decide decide) {
            decide.branches().forEach(branch -> paths.addAll(branch.when().paths()));
        }
        return paths;
    }

    private static List<Template> templatesIn(Verb verb) {
        List<Template> templates = new ArrayList<>();
        if (verb instanceof Call call) {
            templates.add(call.inputs());
        } else if (verb instanceof Draft draft && draft.language() != null) {
            templates.add(draft.language());
        } else if (verb instanceof Approve approve) {
            templates.add(approve.question());
        } else if (verb instanceof Tell tell) {
            templates.add(tell.text());
        } else if (verb instanceof Verb.Set set) {
            templates.add(set.changes());
        } else if (verb instanceof HandOver handOver) {
            templates.add(handOver.why());
        } else if (verb instanceof Finish finish && finish.summary() != null) {
            templates.add(finish.summary());
        }
        return templates;
    }

    /**
     * Finds texts that a machine wrote and that could reach people without a person having approved them: follows the
     * set of unreviewed names along every way until nothing changes.
     */
    private void reviewRule() {
        Map<String, Set<String>> unreviewedAt = new HashMap<>();
        ArrayDeque<Step> open = new ArrayDeque<>();
        unreviewedAt.put(page.steps().get(0).address(), new HashSet<>());
        open.add(page.steps().get(0));
        while (!open.isEmpty()) {
            Step step = open.poll();
            for (Flow.Way way : flow.waysOut(step)) {
                Set<String> after = after(step, way.on(), unreviewedAt.get(step.address()));
                page.step(way.to()).ifPresent(next -> {
                    Set<String> before = unreviewedAt.get(next.address());
                    if (before == null || !before.containsAll(after)) {
                        unreviewedAt
                                .computeIfAbsent(next.address(), key -> new HashSet<>())
                                .addAll(after);
                        open.add(next);
                    }
                });
            }
        }
        page.steps().forEach(step -> spoken(step, unreviewedAt.getOrDefault(step.address(), Set.of())));
    }

    private Set<String> after(Step step, String on, Set<String> before) {
        Set<String> after = new HashSet<>(before);
        if (step.verb() instanceof Draft draft && on.isEmpty()) {
            after.add(draft.save());
        } else if (step.verb() instanceof Approve approve && on.equals("approved")) {
            after.removeAll(approve.show());
            if (approve.edit() != null) {
                after.remove(approve.edit());
            }
        } else if (step.verb() instanceof Call call && call.save() != null && on.isEmpty()) {
            after.remove(call.save());
        }
        return after;
    }

    private void spoken(Step step, Set<String> unreviewed) {
        Set<Path> paths = new LinkedHashSet<>();
        if (step.verb() instanceof Tell tell && tell.unreviewed() == null) {
            paths.addAll(tell.text().paths());
        } else if (step.verb() instanceof Call call && handbook.tools().containsKey(call.tool())) {
            handbook.tools()
                    .get(call.tool())
                    .speaks()
                    .forEach(input -> paths.addAll(call.inputs().field(input).paths()));
        }
        for (Path path : paths) {
            if (unreviewed.contains(path.root())) {
                findings.error(
                        step.place(),
                        "unreviewed",
                        "‘" + path.root()
                                + "’ was written by a model and can reach people here without anybody having approved it.",
                        "Add an ‘approve’ step with ‘edit: " + path.root()
                                + "’ on every way here, or say why in ‘unreviewed: …’.");
            }
        }
    }
}
