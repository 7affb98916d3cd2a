package servitor.core.handbook;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.HandOver;

/** The ways between the steps of a page. */
public final class Flow {
    private final Runbook page;

    public Flow(Runbook page) {
        this.page = page;
    }

    /**
     * One way out of a step.
     *
     * @param on what it is taken on, such as {@code approved} or {@code not-found}; empty for the plain way
     * @param to the address it leads to; empty when the page ends there without saying so
     */
    public record Way(Step from, String on, String to) {}

    /** The ways out of {@code step}, those of named problems last. */
    public List<Way> waysOut(Step step) {
        List<Way> ways = new ArrayList<>();
        Verb verb = step.verb();
        if (verb instanceof Decide decide) {
            decide.branches()
                    .forEach(branch -> ways.add(new Way(step, branch.when().text(), branch.go())));
            ways.add(new Way(step, "otherwise", decide.otherwise()));
        } else if (verb instanceof Approve approve) {
            approve.ways().forEach((answer, to) -> ways.add(new Way(step, answer, to)));
            if (!approve.ways().containsKey("approved")) {
                ways.add(new Way(step, "approved", next(step)));
            }
        } else if (!(verb instanceof Finish) && !(verb instanceof HandOver)) {
            ways.add(new Way(step, "", step.go() != null ? step.go() : next(step)));
        }
        step.on().forEach((problem, to) -> ways.add(new Way(step, problem, to)));
        return ways;
    }

    /** Where {@code step} leads without a {@code go}: the next heading; empty at the end of the page. */
    String next(Step step) {
        Step after = page.after(step);
        return after == null ? "" : after.address();
    }

    /** The addresses that can be reached from the first step, and from the page's way out of trouble. */
    Set<String> reachable() {
        Set<String> seen = new LinkedHashSet<>();
        List<String> open = new ArrayList<>();
        if (!page.steps().isEmpty()) {
            open.add(page.steps().get(0).address());
        }
        open.add(page.onTrouble());
        while (!open.isEmpty()) {
            String address = open.remove(open.size() - 1);
            if (seen.add(address)) {
                page.step(address).ifPresent(step -> waysOut(step).forEach(way -> open.add(way.to())));
            }
        }
        return seen;
    }

    /** Whether a model works in the step. */
    static boolean usesModel(Step step) {
        return step.verb() instanceof Draft;
    }
}
