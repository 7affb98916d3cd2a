package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.List;
import java.util.stream.Stream;

/** How far a case is. */
public enum CaseState {
    /** Nobody works on it yet, or nobody any more. */
    OPEN,
    /** An agent works on it. */
    WORKING,
    /** It waits: for an answer, a reply, a document, a time. */
    WAITING,
    /** People have it in hand. */
    WITH_PEOPLE,
    RESOLVED,
    CLOSED;

    /** The states that {@code set} can give a case while it is worked on. */
    public static final List<String> WHILE_WORKED_ON = words(OPEN, WORKING, WAITING, WITH_PEOPLE);
    /** The states that {@code finish} can leave a case in. */
    public static final List<String> AT_THE_END = words(RESOLVED, CLOSED, WITH_PEOPLE, OPEN);

    /** The states of a case that is done with, until somebody opens it again. */
    public static final List<String> DONE = words(RESOLVED, CLOSED);

    /** The state as it is written everywhere, such as {@code with-people}. */
    @JsonValue
    public String word() {
        return Words.of(this);
    }

    /** Whether this is the state that is written {@code word}. */
    public boolean is(String word) {
        return word().equals(word);
    }

    private static List<String> words(CaseState... states) {
        return Stream.of(states).map(CaseState::word).toList();
    }

    @Override
    public String toString() {
        return word();
    }
}
