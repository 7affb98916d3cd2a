package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** The three answers of a mandate, from the mildest to the strictest. */
public enum Decision {
    ALLOW,
    ASK,
    DENY;

    /** The stricter of the two. */
    public Decision or(Decision other) {
        return compareTo(other) >= 0 ? this : other;
    }

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    @JsonCreator
    public static Decision of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT));
    }
}
