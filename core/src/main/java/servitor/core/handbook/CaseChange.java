package servitor.core.handbook;

import java.util.List;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Expression;

/**
 * A change of a case that starts a page.
 *
 * @param kind of the case
 * @param what happened to it
 * @param named the field or label that was set; empty for the others
 * @param when only in cases that this holds of, over what every page has; null for all
 */
public record CaseChange(
        String kind, What what, String named, @Nullable Expression when) {

    /** What can happen to a case. */
    public enum What {
        /** People said that it is done with. */
        RESOLVED,
        /** Whoever asked wrote again after it was done with. */
        REOPENED,
        /** A run gave it to people. */
        HANDED_OVER,
        /** It is open for longer than its kind allows. */
        LATE,
        /** A step set a field to another value. */
        FIELD,
        /** A step gave it a label it hadn't. */
        LABEL;

        public String word() {
            return Words.of(this);
        }

        /** Those that {@code to} names. */
        public static List<String> states() {
            return List.of(RESOLVED.word(), REOPENED.word(), HANDED_OVER.word(), LATE.word());
        }
    }

    /** The change in words that follow the kind of case. */
    public String words() {
        return switch (what) {
            case RESOLVED -> "is resolved by people";
            case REOPENED -> "is open again";
            case HANDED_OVER -> "is handed over";
            case LATE -> "is late";
            case FIELD -> "gets another ‘" + named + "’";
            case LABEL -> "gets the label ‘" + named + "’";
        };
    }
}
