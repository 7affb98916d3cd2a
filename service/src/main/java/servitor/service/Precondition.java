package servitor.service;

import java.io.Serial;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;

/**
 * What must be so for a change to be made (RFC 9110, section 13.1): that a thing still is as whoever changes it has seen it, or that
 * there is none yet. It is held in the transaction of the change, so that nobody is faster.
 *
 * @param ifMatch tags of which the thing must have one; {@code *} for any; null when it may be as it will
 * @param ifNoneMatch tags of which it must have none; {@code *} when there may be none yet
 */
public record Precondition(
        @Nullable String ifMatch, @Nullable String ifNoneMatch) {
    /** Nothing must be so. */
    public static final Precondition NONE = new Precondition(null, null);

    private static final String ANY = "*";

    /** A thing isn't as it must be; its tag is told, if there is such a thing. */
    public static final class Failed extends RuntimeException {
        @Serial
        private static final long serialVersionUID = 1L;

        private final @Nullable String tag;

        Failed(@Nullable String tag) {
            super(
                    tag == null
                            ? "There is no such thing yet, or any more."
                            : "It was changed meanwhile: look again, then change what is there now.");
            this.tag = tag;
        }

        public Optional<String> tag() {
            return Optional.ofNullable(tag);
        }
    }

    /** The tag of a thing as it is shown (RFC 9110, section 8.8.3): two that are shown alike have the same. */
    public static String tag(Object shown) {
        return "\"" + Json.digest(Json.of(shown)).substring(0, 24) + "\"";
    }

    /** Throws {@link Failed} when the thing, as it is shown, isn't as it must be; empty when there is none. */
    public void require(Optional<?> shown) {
        String tag = shown.map(Precondition::tag).orElse(null);
        boolean wanted = ifMatch == null || matches(ifMatch, tag);
        boolean unwanted = ifNoneMatch != null && matches(ifNoneMatch, tag);
        if (!wanted || unwanted) {
            throw new Failed(tag);
        }
    }

    private static boolean matches(String given, @Nullable String tag) {
        List<String> tags = Arrays.stream(given.split(",")).map(String::strip).toList();
        return tag != null && (tags.contains(ANY) || tags.contains(tag));
    }
}
