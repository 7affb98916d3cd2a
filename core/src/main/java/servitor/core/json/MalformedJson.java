package servitor.core.json;

import org.jspecify.annotations.Nullable;

/** A text that was meant to be JSON and isn't; the message says why and where. */
public final class MalformedJson extends Exception {
    public MalformedJson(String message, @Nullable Throwable cause) {
        super(message, cause);
    }
}
