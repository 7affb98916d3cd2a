package servitor.core.trail;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** Where on a case's time line something is shown: whose doing it was. Their order is the order of the lanes. */
public enum Lane {
    REQUESTER,
    AGENT,
    TOOLS,
    PEOPLE;

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
