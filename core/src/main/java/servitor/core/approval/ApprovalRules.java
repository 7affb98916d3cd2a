package servitor.core.approval;

import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** Decides what an answer to an approval does. Pure: who belongs to which group is told with the answer. */
public final class ApprovalRules {
    /** Longest reason or edited text that is taken, in characters. */
    public static final int LONGEST = 20_000;

    private ApprovalRules() {}

    /** An approval as it stands when somebody answers. */
    public record Standing(
            ApprovalRequest request, ApprovalState state, String requester, Set<String> authors, List<Given> given) {}

    /** An answer that already counts. */
    public record Given(String person, Set<String> forGroups) {}

    /** What comes of an answer. */
    public sealed interface Ruling {}

    /** It counts; {@code state} is what the approval is now, and {@code forGroups} what the answer stands for. */
    public record Counts(ApprovalState state, Set<String> forGroups) implements Ruling {}

    /** It doesn't count, and nothing changes. */
    public record Refused(Why why, String message) implements Ruling {}

    /** Kinds of refusal, which a caller may map to statuses. */
    public enum Why {
        NOT_OPEN,
        NOT_ASKED,
        STALE,
        INCOMPLETE
    }

    public static Ruling rule(Standing standing, Answer answer) {
        ApprovalRequest request = standing.request();
        if (standing.state() != ApprovalState.OPEN) {
            return new Refused(
                    Why.NOT_OPEN,
                    "This approval is already " + standing.state().word() + "; your answer changes nothing.");
        }
        Set<String> forGroups = new HashSet<>(request.of());
        forGroups.retainAll(answer.groups());
        if (forGroups.isEmpty()) {
            return new Refused(
                    Why.NOT_ASKED, "Only members of " + String.join(", ", request.of()) + " can answer this.");
        }
        if (answer.person().equals(standing.requester())) {
            return new Refused(
                    Why.NOT_ASKED,
                    "Nobody decides on their own request. Ask a colleague of " + String.join(", ", request.of()) + ".");
        }
        if (standing.authors().contains(answer.person())) {
            return new Refused(
                    Why.NOT_ASKED, "You wrote or edited what this asks about, so somebody else has to decide.");
        }
        if (standing.given().stream().anyMatch(given -> given.person().equals(answer.person()))) {
            return new Refused(
                    Why.NOT_ASKED, "You have answered this already; somebody else has to answer for the other groups.");
        }
        if (!request.digest().equals(answer.digest())) {
            return new Refused(
                    Why.STALE, "What you saw isn't what this approval shows now. Look at it again, then answer.");
        }
        return complete(standing, answer, forGroups);
    }

    private static Ruling complete(Standing standing, Answer answer, Set<String> forGroups) {
        ApprovalRequest request = standing.request();
        if (!answer.approves() && answer.reason().isBlank()) {
            return new Refused(
                    Why.INCOMPLETE, "Declining needs a reason: it is what the requester's answer is written from.");
        }
        if (answer.reason().length() > LONGEST
                || (answer.edited() != null && answer.edited().length() > LONGEST)) {
            return new Refused(Why.INCOMPLETE, "Reason and text may have at most " + LONGEST + " characters.");
        }
        if (answer.edited() != null && !request.sheet().path("edit").isObject()) {
            return new Refused(Why.INCOMPLETE, "There is no text to edit in this approval.");
        }
        if (answer.edited() != null && answer.edited().isBlank()) {
            return new Refused(Why.INCOMPLETE, "The edited text is empty. Decline instead if nothing should be sent.");
        }
        if (!answer.approves()) {
            return new Counts(ApprovalState.DECLINED, forGroups);
        }
        if (!request.everyGroup()) {
            return new Counts(ApprovalState.APPROVED, forGroups);
        }
        Set<String> missing = new HashSet<>(request.of());
        standing.given().forEach(given -> missing.removeAll(given.forGroups()));
        missing.removeAll(forGroups);
        return new Counts(missing.isEmpty() ? ApprovalState.APPROVED : ApprovalState.OPEN, forGroups);
    }
}
