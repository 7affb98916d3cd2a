package servitor.core.approval;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** Where an approval stands. */
public enum ApprovalState {
    OPEN,
    APPROVED,
    DECLINED,
    EXPIRED,
    WITHDRAWN;

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    @JsonCreator
    public static ApprovalState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT));
    }
}
