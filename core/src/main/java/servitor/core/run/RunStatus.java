package servitor.core.run;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** Where a run stands. */
public enum RunStatus {
    READY,
    WORKING,
    WAITING,
    /** A call may have happened; somebody has to say. */
    IN_DOUBT,
    /** A call was held in shadow; somebody does it by hand. */
    HELD,
    FINISHED,
    FAILED,
    STOPPED;

    public boolean ended() {
        return this == FINISHED || this == FAILED || this == STOPPED;
    }

    /** Whether it can't go on until a person has said something about a call. */
    boolean needsWord() {
        return this == IN_DOUBT || this == HELD;
    }

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    @JsonCreator
    public static RunStatus of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }
}
