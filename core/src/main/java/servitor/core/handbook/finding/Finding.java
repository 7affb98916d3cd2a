package servitor.core.handbook.finding;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;
import servitor.core.handbook.Place;

/**
 * What checking a handbook reports.
 *
 * @param code the kind of finding
 * @param what what is wrong, in a plain sentence
 * @param remedy what to do about it
 */
public record Finding(Severity severity, Place place, Code code, String what, String remedy) {

    /** An error blocks publishing; a warning and a hint don't. */
    public enum Severity {
        ERROR,
        WARNING,
        HINT;

        @JsonValue
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    @Override
    public String toString() {
        return place + ": " + severity.word() + ": " + what + " " + remedy + " [" + code + "]";
    }
}
