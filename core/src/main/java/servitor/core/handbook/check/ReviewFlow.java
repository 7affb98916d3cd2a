package servitor.core.handbook.check;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;
import servitor.core.expression.Path;
import servitor.core.expression.Template;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Place;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.Followed;
import servitor.core.handbook.Verb.Offer;
import servitor.core.handbook.VerbForm.Trait;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.shape.Shape;

/**
 * Finds texts that a machine wrote and that could reach people without a person having approved them: follows the
 * unreviewed names along every way, into followed pages and back out of them, until nothing changes.
 */
final class ReviewFlow {
    /** What is known of a problem: anybody's words. */
    private static final String OF_PROBLEMS = "run.problem.detail";

    private final Handbook handbook;
    private final Scopes scopes;
    private final Findings findings;
    /** What pages are given unreviewed, as {@code takes.name}. */
    private final Map<String, Set<String>> taken = new HashMap<>();
    /** Pages that give something unreviewed back. */
    private final Set<String> giving = new HashSet<>();

    ReviewFlow(Handbook handbook, Scopes scopes, Findings findings) {
        this.handbook = handbook;
        this.scopes = scopes;
        this.findings = findings;
    }

    void check() {
        Map<String, Map<String, Set<String>>> marks = new HashMap<>();
        int before;
        do {
            before = size();
            handbook.runbooks().values().forEach(page -> marks.put(page.name(), follow(page)));
        } while (size() != before);
        handbook.runbooks()
                .values()
                .forEach(page -> page.steps()
                        .forEach(step -> spoken(
                                page,
                                step,
                                Objects.requireNonNull(marks.get(page.name()))
                                        .getOrDefault(step.address(), Set.of()))));
    }

    private int size() {
        return giving.size() + taken.values().stream().mapToInt(Set::size).sum();
    }

    private Map<String, Set<String>> follow(Runbook page) {
        Map<String, Set<String>> at = new HashMap<>();
        if (page.steps().isEmpty()) {
            return at;
        }
        Flow flow = new Flow(page);
        Deque<Step> open = new ArrayDeque<>();
        at.put(page.steps().get(0).address(), new HashSet<>(taken.getOrDefault(page.name(), Set.of())));
        open.add(page.steps().get(0));
        while (!open.isEmpty()) {
            Step step = open.poll();
            Set<String> marked = Objects.requireNonNull(at.get(step.address()));
            passOn(page, step, marked);
            for (Flow.Way way : flow.waysOut(step)) {
                Set<String> after = after(page, way, marked);
                page.step(way.to()).ifPresent(next -> {
                    Set<String> before = at.get(next.address());
                    if (before == null || !before.containsAll(after)) {
                        at.computeIfAbsent(next.address(), key -> new HashSet<>())
                                .addAll(after);
                        open.add(next);
                    }
                });
            }
        }
        return at;
    }

    /** Marks go into followed pages with what they take, and out of this one with what it gives. */
    private void passOn(Runbook page, Step step, Set<String> marked) {
        step.verb().followed().ifPresent(followed -> into(page, step, followed, marked));
        if (step.verb() instanceof Finish
                && page.gives().values().stream()
                        .anyMatch(template ->
                                !unread(page, step, template, marked).isEmpty())) {
            giving.add(page.name());
        }
    }

    private void into(Runbook page, Step step, Followed followed, Set<String> marked) {
        for (String name : followed.with().fieldNames()) {
            if (!unread(page, step, followed.with().field(name), marked).isEmpty()) {
                taken.computeIfAbsent(followed.page(), key -> new HashSet<>()).add("takes." + name);
            }
        }
    }

    private Set<String> after(Runbook page, Flow.Way way, Set<String> before) {
        Set<String> after = new HashSet<>(before);
        Verb verb = way.from().verb();
        if (!way.problem()) {
            after.removeAll(verb.reviewed(way.on()));
        }
        String save = verb.save();
        if (save != null && way.saves()) {
            if (machineWords(page, way.from(), before)) {
                after.add(save);
            } else {
                after.remove(save);
            }
        }
        return after;
    }

    /** Whether what the step saves may hold words that a model wrote and nobody has read. */
    private boolean machineWords(Runbook page, Step step, Set<String> marked) {
        return step.is(Trait.THINKS)
                || step.verb()
                        .followed()
                        .map(Followed::page)
                        .filter(giving::contains)
                        .isPresent()
                || step.verb().tools().stream().anyMatch(offer -> passesOn(page, step, offer, marked));
    }

    /** Whether what a tool answers may be made from unread words that it is given. */
    private boolean passesOn(Runbook page, Step step, Offer offer, Set<String> marked) {
        Tool tool = handbook.tools().get(offer.tool());
        return tool != null
                && !tool.ownWords()
                && offer.fixed().fieldNames().stream()
                        .anyMatch(input -> !unread(page, step, offer.fixed().field(input), marked)
                                .isEmpty());
    }

    /** The marked names whose text a template would carry. */
    private Set<String> unread(Runbook page, Step step, Template template, Set<String> marked) {
        Map<String, Shape> scope = scopes.at(page, step).orElse(Map.of());
        Set<String> found = new LinkedHashSet<>();
        for (Path path : carried(template)) {
            String full = path.toString();
            Stream.concat(marked.stream(), Stream.of(OF_PROBLEMS))
                    .filter(mark -> full.equals(mark) || full.startsWith(mark + ".") || mark.startsWith(full + "."))
                    .filter(mark -> carriesText(path, scope))
                    .forEach(found::add);
        }
        return found;
    }

    private static Set<Path> carried(Template template) {
        Set<Path> carried = new LinkedHashSet<>();
        template.expressions()
                .forEach(placed -> placed.expression().paths().stream()
                        .filter(path -> !placed.expression().onlyTests(path))
                        .forEach(carried::add));
        return carried;
    }

    /** Whether a value may hold free text: a choice among declared words, a number or a yes is no text of a model. */
    private static boolean carriesText(Path path, Map<String, Shape> scope) {
        Shape at = scope.getOrDefault(path.root(), Shape.ANYTHING);
        for (String field : path.fields()) {
            at = at.field(field).map(Shape.Field::shape).orElse(Shape.ANYTHING);
        }
        return !(at instanceof Shape.OneOf
                || at instanceof Shape.YesNo
                || at instanceof Shape.Number
                || at instanceof Shape.Whole
                || at instanceof Shape.Date);
    }

    /** What people outside come to read, be it said by the step itself or by a tool it calls. */
    private void spoken(Runbook page, Step step, Set<String> marked) {
        step.verb()
                .spoken()
                .forEach((key, text) -> unread(page, step, text, marked).forEach(name -> say(name, step.placeOf(key))));
        for (Offer offer : step.verb().tools()) {
            Tool tool = handbook.tools().get(offer.tool());
            if (tool == null) {
                continue;
            }
            for (String input : tool.speaks()) {
                unread(page, step, offer.fixed().field(input), marked)
                        .forEach(name -> say(name, step.placeOf("with." + input)));
            }
            if (step.is(Trait.THINKS) && !offer.fixed().fieldNames().containsAll(tool.speaks())) {
                findings.error(
                        step.placeOf("tools"),
                        Code.UNREVIEWED,
                        "With ‘" + offer.tool() + "’ a model would speak to people outside in words nobody has seen.",
                        "Draft the text, have it approved, and call the tool in a step of its own; or fix its text here.");
            }
        }
    }

    private void say(String name, Place place) {
        if (name.equals(OF_PROBLEMS)) {
            findings.error(
                    place,
                    Code.UNREVIEWED,
                    "‘" + name + "’ may hold words of a model and can reach people here.",
                    "Write what went wrong in words of the page; ‘run.problem.name’ says which problem it was.");
            return;
        }
        findings.error(
                place,
                Code.UNREVIEWED,
                "‘" + name + "’ was written by a model and can reach people here without anybody having approved it.",
                "Add an ‘approve’ step with ‘edit: " + name + "’ on every way here, or say why in ‘unreviewed: …’.");
    }
}
