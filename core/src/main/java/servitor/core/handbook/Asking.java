package servitor.core.handbook;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How people are told that an approval about a case of a desk waits for them, beside the console.
 *
 * @param mail whether a mail goes to each of them, by the desk's own letterhead
 * @param wording whether wording may be approved by mail alone; whatever acts is approved by those who have signed in
 * @param footers lines that programs put below the mails of those who answer; they say nothing
 * @param room where it is told by chat; null for nowhere
 */
public record Asking(
        boolean mail,
        boolean wording,
        List<String> footers,
        @Nullable String room) {
    /** Nobody is told. */
    public static final Asking QUIETLY = new Asking(false, false, List.of(), null);

    public Asking {
        footers = List.copyOf(footers);
    }

    /** Whether anybody is told at all. */
    public boolean tells() {
        return mail || room != null;
    }
}
