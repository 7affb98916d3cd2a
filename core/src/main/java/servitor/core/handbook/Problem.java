package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.List;

/** What a step can meet that it has a way for under {@code on}. A tool may declare further ones of its own. */
public enum Problem {
    /** There is no such record. */
    NOT_FOUND,
    /** The gate, or the other side, doesn't let it. */
    REFUSED,
    /** People said no. */
    DECLINED,
    /** Nobody answered, or nothing came, in time. */
    EXPIRED,
    /** The other side can't be reached; nothing has happened there. */
    UNAVAILABLE,
    /** The other side didn't answer in time. */
    TIMEOUT,
    /** What was given, or what came back, isn't of the form it has to have. */
    INVALID,
    /** An allowance is used up: visits, calls, tokens, time, rounds. */
    EXHAUSTED,
    /** Whoever was to do it says that it wasn't done. */
    NOT_DONE,
    /** Another page, or the work of a tool, ended in trouble. */
    TROUBLE;

    /** The problem as pages write it, such as {@code not-found}. */
    @JsonValue
    public String word() {
        return Words.of(this);
    }

    /** All of them, as pages write them. */
    public static List<String> words() {
        return Words.all(Problem.class);
    }

    @Override
    public String toString() {
        return word();
    }
}
