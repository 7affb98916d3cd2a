package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.List;

/** How a requester is told something. */
public enum Channel {
    /** By a note on the case, which they read in the console. */
    NOTE,
    /** The way their case came in. */
    SAME_WAY;

    @JsonValue
    public String word() {
        return Words.of(this);
    }

    public static List<String> words() {
        return Words.all(Channel.class);
    }
}
