package servitor.core.origin;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Collection;
import java.util.Comparator;

/** A place a value came from, weakest first: what a limit judges is the weakest of all places. */
public enum Origin {
    /** Seen nowhere else: a model made it up. */
    MODEL,
    /** The requester's own text, document or field, or anything that only echoes it. */
    REQUESTER,
    /** Written in the handbook. */
    HANDBOOK,
    /** A typed field of a tool's answer. */
    LOOKUP,
    /** Entered or edited by staff. */
    PERSON;

    /** The weakest of {@code origins}; a value that came from nowhere counts as made up. */
    public static Origin weakest(Collection<Origin> origins) {
        return origins.stream().min(Comparator.naturalOrder()).orElse(MODEL);
    }

    @JsonValue
    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }

    @JsonCreator
    static Origin of(String word) {
        return valueOf(word.toUpperCase(java.util.Locale.ROOT));
    }
}
