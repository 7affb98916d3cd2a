package servitor.core.handbook;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The body of an HTTP request.
 *
 * @param type the media type it is sent as
 * @param required whether there is one even when no input of it is given
 * @param whole the one input that is the body; null when {@code fields} make it up
 */
public record HttpBody(
        String type, Form form, boolean required, @Nullable String whole, List<Field> fields) {
    public HttpBody {
        fields = List.copyOf(fields);
    }

    /** How it is written. */
    public enum Form {
        JSON,
        /** {@code application/x-www-form-urlencoded} */
        URLENCODED,
        /** {@code multipart/form-data} (RFC 7578) */
        MULTIPART,
        /** The text of one input, as it is. */
        TEXT,
        /** The content of one file. */
        FILE
    }

    /**
     * One field of it. How it is written counts in forms only.
     *
     * @param input the tool's input
     * @param name what it is called in the body
     * @param type the media type of a part; empty for what its value suggests
     * @param file whether it is a file: an object with {@code name}, {@code type}, and {@code text} or {@code base64}
     */
    public record Field(
            String input, String name, HttpParameter.Style style, boolean explode, String type, boolean file) {}
}
