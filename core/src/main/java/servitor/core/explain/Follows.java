package servitor.core.explain;

import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Approve;

/**
 * What comes after each answer to an approval, in words: read from the page, so that people know what their yes, their no and their
 * silence do.
 */
public record Follows(String yes, String no, String silence) {

    /**
     * What follows at {@code step} of {@code page}.
     *
     * @param call whether it asks about a call that is about to be made there
     */
    public static Follows of(Handbook handbook, Runbook page, Step step, boolean call) {
        if (step.verb() instanceof Approve approve) {
            return new Follows(
                    way(page, approve.ways().getOrDefault(Approve.APPROVED, onwards(page, step))),
                    way(page, approve.ways().getOrDefault(Approve.DECLINED, Step.HAND_OVER)),
                    approve.within() == null
                            ? "It stays open until somebody answers."
                            : way(page, approve.ways().getOrDefault(Approve.EXPIRED, Step.HAND_OVER)));
        }
        String yes = call
                ? "The call is made at once; then it goes on" + after(page, step) + "."
                : "The agent goes about it like this.";
        return new Follows(yes, problem(page, step, Problem.DECLINED), problem(page, step, Problem.EXPIRED));
    }

    private static String problem(Runbook page, Step step, Problem problem) {
        String way = step.verb() instanceof Verb.Pursue && !step.on().containsKey(problem.word())
                ? "The agent is told so, and goes on without it."
                : way(page, step.on().getOrDefault(problem.word(), page.onTrouble()));
        return step.verb() instanceof Verb.Call ? "The call isn't made. " + way : way;
    }

    private static String after(Runbook page, Step step) {
        String next = onwards(page, step);
        return step.verb() instanceof Verb.Pursue
                ? " with what the agent is at"
                : page.step(next).map(one -> " with ‘" + one.title() + "’").orElse("");
    }

    private static String onwards(Runbook page, Step step) {
        Step after = page.after(step);
        return step.go() != null ? step.go() : after != null ? after.address() : Step.HAND_OVER;
    }

    private static String way(Runbook page, String address) {
        if (address.equals(Step.HAND_OVER)) {
            return "People take the case over; nothing is sent.";
        } else if (address.equals(Step.STOP)) {
            return "The page stops, and the case is with people.";
        }
        return page.step(address)
                .map(step -> "It goes on with ‘" + step.title() + "’.")
                .orElse("It goes on.");
    }
}
