package servitor.core.handbook;

import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * One heading of a runbook with its prose and its block.
 *
 * @param address the normalised heading by which other steps find it
 * @param prose the text under the heading: the instruction of an AI step
 * @param go where to go next; null for the next heading
 * @param on ways for named problems
 * @param atMost how many times a run may enter the step; null for as often as it likes
 * @param model the model that works in it; null for its agent's
 * @param places where the values of the block stand
 */
public record Step(
        String address,
        String title,
        String prose,
        Place place,
        @Nullable String go,
        Map<String, String> on,
        @Nullable Integer atMost,
        @Nullable String model,
        Places places,
        Verb verb) {

    /** Reserved way: give the case to people. */
    public static final String HAND_OVER = "hand over";
    /** Reserved way: end the run and change nothing. */
    public static final String STOP = "stop";

    public Step {
        on = java.util.Collections.unmodifiableMap(new java.util.LinkedHashMap<>(on));
    }

    /** The same step doing something else. */
    public Step with(Verb other) {
        return new Step(address, title, prose, place, go, on, atMost, model, places, other);
    }

    /** Where the value of {@code key} stands, such as {@code with.amount}. */
    public Place placeOf(String key) {
        return places.of(key);
    }

    /** The verb's word in the page, such as {@code hand-over}. */
    public String word() {
        return verb.declared().word();
    }

    /** Whether {@code trait} is true of the step's verb. */
    public boolean is(VerbForm.Trait trait) {
        return verb.declared().is(trait);
    }

    /** The instruction the prose gives, when it says anything. */
    public Optional<String> instruction() {
        return prose.isBlank() ? Optional.empty() : Optional.of(prose);
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

    /** The name of a page as a page writes it: the file's name, with or without its ending. */
    public static String page(String text) {
        return text.strip().replaceFirst("^runbooks/", "").replaceFirst("\\.md$", "");
    }

    public static boolean isReserved(String address) {
        return address.equals(HAND_OVER) || address.equals(STOP);
    }
}
