package servitor.core.handbook;

import java.time.Duration;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;

/**
 * How long people have to answer: for ever, for so long, for so many hours of their desk's work, or until a time.
 *
 * @param within how long; null when {@code until} says when, or for ever
 * @param working whether only hours count in which the desk works
 * @param until when it ends; null when {@code within} says how long, or for ever
 */
public record AnswerTime(
        @Nullable Duration within,
        boolean working,
        @Nullable Template until) {
    /** For ever. */
    public static final AnswerTime FOR_EVER = new AnswerTime(null, false, null);

    /** Whether it ends at all. */
    public boolean ends() {
        return within != null || until != null;
    }
}
