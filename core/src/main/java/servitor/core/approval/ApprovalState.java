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
    /** The run doesn't wait for it any more. */
    WITHDRAWN,
    /** It went back to be written again. */
    SENT_BACK,
    /** It had expired, and somebody who could have approved it has sent it since. */
    SENT_LATE;

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    @JsonCreator
    public static ApprovalState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }
}
