package servitor.core.approval;

import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import servitor.core.approval.Answer.Says;
import servitor.core.handbook.Quorum;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;

/** Decides what an answer to an approval does. Pure: who belongs to which group is told with the answer. */
public final class ApprovalRules {
    /** Longest reason or edited text that is taken, in characters. */
    public static final int LONGEST = 20_000;

    private static final String PERSON = "person:";

    private ApprovalRules() {}

    /**
     * An approval as it stands when somebody answers.
     *
     * @param askers who the case is for, and who opened it for them
     * @param authors who wrote or edited what is shown
     * @param eligible how many people could answer at all, by today's membership
     */
    public record Standing(
            ApprovalRequest request,
            ApprovalState state,
            Set<String> askers,
            Set<String> authors,
            List<Given> given,
            int eligible) {}

    /** An answer that already counts. */
    public record Given(String person, boolean approves, Set<String> forGroups, Via via) {}

    /** What comes of an answer. */
    public sealed interface Ruling {}

    /** It counts; {@code state} is what the approval is now, and {@code forGroups} what the answer stands for. */
    public record Counts(ApprovalState state, Set<String> forGroups) implements Ruling {}

    /** The content was changed while others have to answer as well: they are shown it anew, and asked again. */
    public record ShownAnew(ApprovalRequest request) implements Ruling {}

    /** It goes back to be written again. */
    public record SentBack() implements Ruling {}

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
        Set<String> forGroups = standsFor(standing, answer);
        Optional<String> barred = barred(standing, answer, forGroups);
        if (barred.isPresent()) {
            return new Refused(Why.NOT_ASKED, barred.get());
        }
        if (!request.digest().equals(answer.digest())) {
            return new Refused(
                    Why.STALE, "What you saw isn't what this approval shows now. Look at it again, then answer.");
        }
        if (answer.via().isByMail() && answer.approves() && !isWordingForOne(request)) {
            return new Refused(
                    Why.NOT_ASKED,
                    "By mail only wording is approved, and only where one answer is enough. Sign in to approve this.");
        }
        if (answer.via().isByMail() && !answer.texts().isEmpty()) {
            return new Refused(
                    Why.NOT_ASKED,
                    "Without signing in a text is approved as it is shown, or not at all. Sign in to change its words.");
        }
        if (answer.via().isByMail()
                && answer.says() == Says.FEEDBACK
                && request.sheet().has("form")
                && request.texts().isEmpty()) {
            return new Refused(Why.NOT_ASKED, "What an agent asks isn't answered by mail. Sign in to answer it.");
        }
        Optional<String> incomplete = incomplete(request, answer);
        return incomplete.isPresent()
                ? new Refused(Why.INCOMPLETE, incomplete.get())
                : counted(standing, answer, forGroups);
    }

    /** Why a person can't answer now, whatever they said; empty when they can. */
    public static Optional<String> barred(Standing standing, Answer answer) {
        return standing.state() != ApprovalState.OPEN
                ? Optional.of("This approval is already " + standing.state().word() + ".")
                : barred(standing, answer, standsFor(standing, answer));
    }

    /** Whether nothing but texts is asked about, and one yes is enough. */
    public static boolean isWordingForOne(ApprovalRequest request) {
        JsonNode sheet = request.sheet();
        boolean one = switch (request.quorum().rule()) {
            case ANY -> true;
            case NUMBER -> request.quorum().number() == 1;
            case ALL -> request.of().size() == 1;
        };
        return one && !sheet.path("edits").isEmpty() && !sheet.has("call") && !sheet.has("form") && !sheet.has("plan");
    }

    private static Set<String> themselves(Answer answer) {
        Set<String> all = new HashSet<>(answer.groups());
        all.add(PERSON + answer.person());
        return all;
    }

    /**
     * What an answer stands for: whoever is asked and the person belongs to; else one of those they stand in for, so that one person
     * is never two. Whoever may not answer, or has, is stood in for by nobody.
     */
    private static Set<String> standsFor(Standing standing, Answer answer) {
        Set<String> asked = new HashSet<>(standing.request().of());
        asked.retainAll(themselves(answer));
        return asked.isEmpty()
                ? answer.standsInFor().stream()
                        .sorted()
                        .filter(away -> isStoodInFor(standing, away))
                        .map(away -> PERSON + away)
                        .filter(standing.request().of()::contains)
                        .limit(1)
                        .collect(Collectors.toSet())
                : asked;
    }

    private static boolean isStoodInFor(Standing standing, String away) {
        return !standing.askers().contains(away)
                && !standing.authors().contains(away)
                && !standing.request().not().contains(PERSON + away)
                && standing.given().stream()
                        .noneMatch(given ->
                                given.person().equals(away) || given.forGroups().contains(PERSON + away));
    }

    private static Optional<String> barred(Standing standing, Answer answer, Set<String> forGroups) {
        ApprovalRequest request = standing.request();
        String asked = String.join(", ", new TreeSet<>(request.of()));
        if (forGroups.isEmpty()) {
            return Optional.of("Only " + asked + " can answer this.");
        }
        if (standing.askers().contains(answer.person())) {
            return Optional.of(
                    "Nobody decides on their own request, or on one they opened for somebody else. Ask a colleague of "
                            + asked + ".");
        }
        if (request.not().stream().anyMatch(themselves(answer)::contains)) {
            return Optional.of(
                    "The page says that you of all people don't answer this. Ask a colleague of " + asked + ".");
        }
        if (standing.authors().contains(answer.person())) {
            return Optional.of("You wrote or edited what this asks about, so somebody else has to decide.");
        }
        if (standing.given().stream().anyMatch(given -> given.person().equals(answer.person()))) {
            return Optional.of("You have answered this already; somebody else has to answer as well.");
        }
        return Optional.empty();
    }

    private static Optional<String> incomplete(ApprovalRequest request, Answer answer) {
        boolean tooLong = answer.reason().length() > LONGEST
                || answer.texts().values().stream().anyMatch(text -> text.length() > LONGEST);
        if (tooLong) {
            return Optional.of("Reason and text may have at most " + LONGEST + " characters.");
        }
        if (answer.says() == Says.DECLINE && answer.reason().isBlank()) {
            return Optional.of("Declining needs a reason: it is what the requester's answer is written from.");
        }
        if (answer.says() == Says.FEEDBACK && !request.takesWords()) {
            return Optional.of("Nothing here was drafted, so there is nothing to send back.");
        }
        if (answer.says() == Says.FEEDBACK && answer.reason().isBlank()) {
            return Optional.of("Say what should be different.");
        }
        if (answer.says() != Says.APPROVE) {
            return Optional.empty();
        }
        if (!request.texts().keySet().containsAll(answer.texts().keySet())) {
            return Optional.of("There is no such text to edit in this approval.");
        }
        if (answer.texts().values().stream().anyMatch(String::isBlank)) {
            return Optional.of("The edited text is empty. Decline instead if nothing should be sent.");
        }
        return form(request, answer);
    }

    private static Optional<String> form(ApprovalRequest request, Answer answer) {
        JsonNode schema = request.sheet().path("form").path("schema");
        if (!schema.isObject()) {
            return answer.form() == null
                    ? Optional.empty()
                    : Optional.of("There is no form to fill in in this approval.");
        }
        if (answer.form() == null) {
            return Optional.of("Fill in the form first.");
        }
        List<String> violations = Schemas.violations(schema, answer.form());
        return violations.isEmpty()
                ? Optional.empty()
                : Optional.of("The form isn't right yet: " + String.join("; ", plain(violations)) + ".");
    }

    /** Names the field as the form does, not as a pointer. */
    private static List<String> plain(List<String> violations) {
        return violations.stream()
                .map(violation ->
                        violation.startsWith("/") ? "‘" + violation.substring(1).replaceFirst(": ", "’ ") : violation)
                .toList();
    }

    private static Ruling counted(Standing standing, Answer answer, Set<String> forGroups) {
        ApprovalRequest request = standing.request();
        if (answer.says() == Says.FEEDBACK) {
            return new SentBack();
        }
        if (answer.says() == Says.DECLINE) {
            return new Counts(declined(standing) ? ApprovalState.DECLINED : ApprovalState.OPEN, forGroups);
        }
        boolean enough = enough(standing, forGroups);
        if (!answer.texts().isEmpty()
                        && request.quorum().rule() != Quorum.Rule.ANY
                        && request.of().size() > 1
                || !answer.texts().isEmpty() && request.quorum().number() > 1) {
            return new ShownAnew(request.showing(answer.texts()));
        }
        return new Counts(enough ? ApprovalState.APPROVED : ApprovalState.OPEN, forGroups);
    }

    private static boolean declined(Standing standing) {
        Quorum quorum = standing.request().quorum();
        if (!quorum.tolerateDeclines() || quorum.rule() == Quorum.Rule.ALL) {
            return true;
        }
        long declines =
                1 + standing.given().stream().filter(given -> !given.approves()).count();
        return standing.eligible() - declines < quorum.number();
    }

    private static boolean enough(Standing standing, Set<String> forGroups) {
        ApprovalRequest request = standing.request();
        List<Given> approvals =
                standing.given().stream().filter(Given::approves).toList();
        return switch (request.quorum().rule()) {
            case ANY -> true;
            case NUMBER -> approvals.size() + 1 >= request.quorum().number();
            case ALL -> {
                Set<String> missing = new HashSet<>(request.of());
                approvals.forEach(given -> missing.removeAll(given.forGroups()));
                missing.removeAll(forGroups);
                yield missing.isEmpty();
            }
        };
    }
}
