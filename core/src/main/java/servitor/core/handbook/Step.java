package servitor.core.handbook;

import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * One heading of a runbook with its prose and its block.
 *
 * @param address the normalised heading by which other steps find it
 * @param prose the text under the heading: the instruction of an AI step
 * @param go where to go next; null for the next heading
 * @param on ways for named problems
 */
public record Step(
        String address,
        String title,
        String prose,
        Place place,
        @Nullable String go,
        Map<String, String> on,
        Verb verb) {

    /** Reserved way: give the case to people. */
    public static final String HAND_OVER = "hand over";
    /** Reserved way: end the run and change nothing. */
    public static final String STOP = "stop";

    public Step {
        on = Map.copyOf(on);
    }

    /** The normal form of a heading: lower case, without punctuation, blanks folded. */
    public static String address(String heading) {
        StringBuilder out = new StringBuilder();
        heading.strip().toLowerCase(java.util.Locale.ROOT).codePoints().forEach(c -> {
            if (Character.isLetterOrDigit(c) || Character.getType(c) == Character.OTHER_SYMBOL) {
                out.appendCodePoint(c);
            } else if (!out.isEmpty() && out.charAt(out.length() - 1) != ' ' && c != '\'' && c != '’') {
                out.append(' ');
            }
        });
        return out.toString().strip();
    }

    public static boolean isReserved(String address) {
        return address.equals(HAND_OVER) || address.equals(STOP);
    }
}
