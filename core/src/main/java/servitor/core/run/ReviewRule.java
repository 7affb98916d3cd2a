package servitor.core.run;

import java.util.Map;
import java.util.Optional;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Template;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunState.WrittenText;

/**
 * Text a machine wrote reaches people only if a person approved exactly that text. Judged twice: every machine-written
 * span of the text must be one that was approved, and no unapproved text of this run may turn up in it, however it got
 * there.
 */
final class ReviewRule {
    private ReviewRule() {}

    /** Why {@code text}, composed by {@code template}, may not be sent; empty when it may. */
    static Optional<String> fault(TransitionBuilder turn, Template template, String text) {
        Map<String, TracedValue> scope = turn.scope();
        try {
            for (TracedValue span : template.spans(scope)) {
                if (isUnread(turn, span)) {
                    return Optional.of("this text was written by a model and nobody has approved exactly these words");
                }
            }
        } catch (EvaluationFailed e) {
            return Optional.of(String.valueOf(e.getMessage()));
        }
        String rest = withoutApproved(turn, text);
        for (WrittenText written : turn.known().written()) {
            if (!written.reviewed() && rest.contains(written.text())) {
                return Optional.of("this text holds words of a model that nobody has approved");
            }
        }
        return Optional.empty();
    }

    /** Whether a value holds words of a machine that no person has approved exactly as they are. */
    static boolean isUnread(TransitionBuilder turn, TracedValue value) {
        return value.machineTexts().stream().anyMatch(text -> !isApproved(turn, text));
    }

    /** What is left of a text without what was approved: an approved text may well hold an earlier draft of itself. */
    private static String withoutApproved(TransitionBuilder turn, String text) {
        String rest = text;
        for (WrittenText written : turn.known().written()) {
            if (written.reviewed()) {
                rest = rest.replace(written.text(), "\u0000");
            }
        }
        return rest;
    }

    private static boolean isApproved(TransitionBuilder turn, String span) {
        return turn.known().written().stream()
                .anyMatch(written -> written.reviewed() && written.text().equals(span));
    }
}
