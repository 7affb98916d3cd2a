package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.List;

/** How pressing a case is. */
public enum Priority {
    LOW,
    NORMAL,
    HIGH,
    URGENT;

    @JsonValue
    public String word() {
        return Words.of(this);
    }

    /** All of them, the least pressing first. */
    public static List<String> words() {
        return Words.all(Priority.class);
    }
}
