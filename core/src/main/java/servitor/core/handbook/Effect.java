package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** What calling a tool does outside. */
public enum Effect {
    /** Changes nothing. */
    READ,
    /** Changes something, and may be repeated safely with the same idempotency key. */
    WRITE,
    /** Changes something and must not be repeated blindly. */
    ONCE;

    /** Whether a call changes anything outside. */
    public boolean acts() {
        return this != READ;
    }

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
