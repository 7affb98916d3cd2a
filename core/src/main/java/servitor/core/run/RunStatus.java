package servitor.core.run;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** Where a run stands. */
public enum RunStatus {
    READY,
    WORKING,
    WAITING,
    IN_DOUBT,
    FINISHED,
    FAILED,
    STOPPED;

    public boolean ended() {
        return this == FINISHED || this == FAILED || this == STOPPED;
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
