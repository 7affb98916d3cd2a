package servitor.core.handbook;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/** The ways between the steps of a page. */
public final class Flow {
    private final Runbook page;
    private final Map<String, Step> steps = new HashMap<>();
    private final Map<String, List<Way>> out = new HashMap<>();

    public Flow(Runbook page) {
        this.page = page;
        page.steps().forEach(step -> steps.put(step.address(), step));
        for (int i = 0; i < page.steps().size(); i++) {
            Step step = page.steps().get(i);
            out.put(
                    step.address(),
                    ways(
                            step,
                            i + 1 < page.steps().size()
                                    ? page.steps().get(i + 1).address()
                                    : ""));
        }
    }

    /**
     * One way out of a step.
     *
     * @param on what it is taken on, such as {@code approved} or {@code not-found}; empty for the plain way
     * @param to the address it leads to; empty when the page ends there without saying so
     * @param problem whether it is the way of a named problem
     * @param saves whether what the step saves is there on this way
     */
    public record Way(Step from, String on, String to, boolean problem, boolean saves) {}

    /** The ways out of {@code step}, those of named problems last. */
    public List<Way> waysOut(Step step) {
        return out.getOrDefault(step.address(), List.of());
    }

    private static List<Way> ways(Step step, String next) {
        List<Way> ways = new ArrayList<>();
        step.verb()
                .exits(step.go() != null ? step.go() : next)
                .forEach(exit -> ways.add(new Way(step, exit.on(), exit.to(), false, exit.saves())));
        step.on().forEach((problem, to) -> ways.add(new Way(step, problem, to, true, false)));
        return List.copyOf(ways);
    }

    /** The addresses that can be reached from the first step, and from the page's way out of trouble. */
    public Set<String> reachable() {
        Set<String> seen = new LinkedHashSet<>();
        if (!page.steps().isEmpty()) {
            reach(page.steps().get(0).address(), seen);
        }
        reach(page.onTrouble(), seen);
        return seen;
    }

    /** The addresses that can be reached from {@code address}, itself included. */
    void reach(String address, Set<String> seen) {
        Deque<String> open = new ArrayDeque<>(List.of(address));
        while (!open.isEmpty()) {
            String at = open.pop();
            if (seen.add(at)) {
                out.getOrDefault(at, List.of()).forEach(way -> open.push(way.to()));
            }
        }
    }

    /** The steps from which a run can come back to themselves without passing a step that counts its visits. */
    public Set<Step> unboundedLoops() {
        Set<Step> looping = new LinkedHashSet<>();
        Set<String> open = new HashSet<>();
        page.steps().stream().filter(step -> step.atMost() == null).forEach(step -> open.add(step.address()));
        boolean shrunk = true;
        while (shrunk) { // takes away steps without a way on inside, until only loops are left
            shrunk = open.removeIf(address ->
                    Objects.requireNonNull(out.get(address)).stream().noneMatch(way -> open.contains(way.to())));
        }
        page.steps().stream()
                .filter(step -> open.contains(step.address()) && comesBack(step, open))
                .forEach(looping::add);
        return looping;
    }

    private boolean comesBack(Step step, Set<String> within) {
        Set<String> seen = new HashSet<>();
        Deque<String> open = new ArrayDeque<>(List.of(step.address()));
        while (!open.isEmpty()) {
            for (Way way : Objects.requireNonNull(out.get(open.pop()))) {
                if (way.to().equals(step.address())) {
                    return true;
                }
                if (within.contains(way.to()) && seen.add(way.to())) {
                    open.push(way.to());
                }
            }
        }
        return false;
    }

    /** Whether a run can come back to {@code step}, bounded or not. */
    public boolean inLoop(Step step) {
        return comesBack(step, steps.keySet());
    }

    /** Whether the step may change something outside: by its verb, or with a tool it may call. */
    public static boolean acts(Step step, Map<String, Tool> tools) {
        return step.is(VerbForm.Trait.ACTS)
                || step.verb().tools().stream()
                        .map(offer -> tools.get(offer.tool()))
                        .anyMatch(tool -> tool == null || tool.effect().acts());
    }
}
