package servitor.core.explain;

import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Approve;
import tools.jackson.databind.JsonNode;

/**
 * What comes after each answer to an approval, in words: read from the page, so that people know what their yes, their no and their
 * silence do.
 */
public record Follows(String yes, String no, String silence) {

    /**
     * What follows at {@code step} of {@code page} on the answer to this sheet: about a call that is about to be made there, a plan, or a
     * question of a model.
     */
    public static Follows of(Handbook handbook, Runbook page, Step step, JsonNode sheet) {
        if (step.verb() instanceof Approve approve) {
            return new Follows(
                    way(page, approve.ways().getOrDefault(Approve.APPROVED, onwards(page, step))),
                    way(page, approve.ways().getOrDefault(Approve.DECLINED, Step.HAND_OVER)),
                    !approve.time().ends()
                            ? "It stays open until somebody answers."
                            : way(page, approve.ways().getOrDefault(Approve.EXPIRED, Step.HAND_OVER)));
        }
        boolean call = sheet.has("call");
        if (step.verb() instanceof Verb.Pursue) {
            String told = "The agent is told so, and goes on without it.";
            String expired = way(page, step, Problem.EXPIRED);
            return call
                    ? new Follows("The call is made at once; then it goes on with what the agent is at.", told, told)
                    : sheet.has("form")
                            ? new Follows("The agent is told your answer, and goes on with it.", told, expired)
                            : new Follows(
                                    "The agent goes about it like this.", way(page, step, Problem.DECLINED), expired);
        }
        String not = step.verb() instanceof Verb.Call ? "The call isn't made. " : "";
        return new Follows(
                call
                        ? "The call is made at once; then it goes on" + after(page, step) + "."
                        : "The agent goes about it like this.",
                not + way(page, step, Problem.DECLINED),
                not + way(page, step, Problem.EXPIRED));
    }

    private static String way(Runbook page, Step step, Problem problem) {
        return way(page, step.on().getOrDefault(problem.word(), page.onTrouble()));
    }

    private static String after(Runbook page, Step step) {
        String next = onwards(page, step);
        return page.step(next).map(one -> " with ‘" + one.title() + "’").orElse("");
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
