package servitor.core.handbook;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Assess;
import servitor.core.handbook.Verb.Await;
import servitor.core.handbook.Verb.Awaited;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.HandOver;
import servitor.core.handbook.Verb.Pursue;

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
     */
    public record Way(Step from, String on, String to, boolean problem) {
        /** Whether what the step saves is there on this way. */
        public boolean saves() {
            return !problem && !on.equals("expired") || from.verb() instanceof Approve && !problem;
        }
    }

    /** The ways out of {@code step}, those of named problems last. */
    public List<Way> waysOut(Step step) {
        return out.getOrDefault(step.address(), List.of());
    }

    private static List<Way> ways(Step step, String next) {
        List<Way> ways = new ArrayList<>();
        String plain = step.go() != null ? step.go() : next;
        Verb verb = step.verb();
        if (verb instanceof Decide decide) {
            decide.branches()
                    .forEach(branch -> ways.add(new Way(step, branch.when().text(), branch.go(), false)));
            ways.add(new Way(step, "otherwise", decide.otherwise(), false));
        } else if (verb instanceof Approve approve) {
            answered(step, approve.ways(), "approved", plain, ways);
        } else if (verb instanceof Assess assess && !assess.ways().isEmpty()) {
            answered(step, assess.ways(), "sure", plain, ways);
        } else if (verb instanceof Await await && !await.ways().isEmpty()) {
            answered(step, await.ways(), "arrived", plain, ways);
        } else if (!(verb instanceof Finish) && !(verb instanceof HandOver)) {
            ways.add(new Way(step, "", plain, false));
        }
        step.on().forEach((problem, to) -> ways.add(new Way(step, problem, to, true)));
        return List.copyOf(ways);
    }

    private static void answered(Step step, Map<String, String> given, String main, String plain, List<Way> ways) {
        if (!given.containsKey(main)) {
            ways.add(new Way(step, main, plain, false));
        }
        given.forEach((answer, to) -> ways.add(new Way(step, answer, to, false)));
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
            shrunk = open.removeIf(address -> out.get(address).stream().noneMatch(way -> open.contains(way.to())));
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
            for (Way way : out.get(open.pop())) {
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

    /** Whether a model works in the step. */
    public static boolean usesModel(Step step) {
        return step.verb() instanceof Draft || step.verb() instanceof Assess || step.verb() instanceof Pursue;
    }

    /** Whether people are asked or waited for in the step. */
    public static boolean waitsForPeople(Step step) {
        return step.verb() instanceof Approve
                || step.verb() instanceof HandOver
                || step.verb() instanceof Pursue pursue && pursue.plan() == Verb.Plan.APPROVE
                || step.verb() instanceof Await await
                        && (await.what() == Awaited.REPLY || await.what() == Awaited.DOCUMENT);
    }

    /** Whether the step may change something outside. */
    public static boolean acts(Step step, Map<String, Tool> tools) {
        if (step.verb() instanceof Verb.Call call) {
            Tool tool = tools.get(call.tool());
            return tool == null || tool.effect().acts();
        }
        if (step.verb() instanceof Pursue pursue) {
            return pursue.tools().stream()
                    .map(offer -> tools.get(offer.tool()))
                    .anyMatch(tool -> tool == null || tool.effect().acts());
        }
        return step.verb() instanceof Verb.Tell
                || step.verb() instanceof Verb.Follow
                || step.verb() instanceof Verb.Each;
    }
}
