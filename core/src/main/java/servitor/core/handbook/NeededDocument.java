package servitor.core.handbook;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.document.FileType;
import servitor.core.document.ReadOutcome;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Expression;
import tools.jackson.databind.JsonNode;

/**
 * A document that cases of a kind come with.
 *
 * @param named words of which one must stand in its name; empty for any name
 * @param types what it must be, in words of {@link FileType} or as media types; empty for anything
 * @param required whether a case isn't complete without it
 * @param when over {@code case}: when it is required; null for always
 */
public record NeededDocument(
        String name,
        String title,
        List<String> named,
        List<String> types,
        boolean required,
        @Nullable Expression when) {
    private static final List<String> UNUSABLE =
            List.of(ReadOutcome.EMPTY.word(), ReadOutcome.CORRUPT.word(), ReadOutcome.ENCRYPTED.word());

    public NeededDocument {
        named = List.copyOf(named);
        types = List.copyOf(types);
    }

    /** Whether a file called so may be meant. */
    public boolean isNamed(String file) {
        String name = file.toLowerCase(Locale.ROOT);
        return named.isEmpty() || named.stream().anyMatch(word -> name.contains(word.toLowerCase(Locale.ROOT)));
    }

    /** Whether a file of this media type may be meant. */
    public boolean isOf(String mediaType) {
        return types.isEmpty() || types.stream().anyMatch(word -> FileType.fits(word, mediaType));
    }

    /**
     * Whether the case lacks it; where it can't be told whether it is required, it is.
     *
     * @param view the case as pages see it
     */
    public boolean isMissingIn(JsonNode view) {
        if (!isRequiredIn(view)) {
            return false;
        }
        for (JsonNode document : view.path("documents")) {
            if (isNamed(document.path("name").asString(""))
                    && isOf(document.path("type").asString(""))
                    && !UNUSABLE.contains(document.path("outcome").asString(""))) {
                return false;
            }
        }
        return true;
    }

    private boolean isRequiredIn(JsonNode view) {
        if (!required || when == null) {
            return required;
        }
        try {
            return when.holds(Map.of("case", view));
        } catch (EvaluationFailed e) {
            return true;
        }
    }

    /** What it is, in words for whoever brings it. */
    public String words() {
        return title
                + (types.isEmpty() ? "" : " (" + String.join(" or ", types) + ")")
                + (!required ? "" : when == null ? ", required" : ", required when " + when.text());
    }
}
