package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonValue;

/** Who may read a note on a case. */
public enum Audience {
    /** Whoever the case is for, and the people of the house. */
    REQUESTER,
    /** The people of the house only. */
    STAFF;

    @JsonValue
    public String word() {
        return Words.of(this);
    }

    /** Whether this is the audience that is written {@code word}. */
    public boolean is(String word) {
        return word().equals(word);
    }
}
