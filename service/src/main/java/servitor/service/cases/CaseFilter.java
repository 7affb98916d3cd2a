package servitor.service.cases;

import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** What a list of cases is narrowed to; null leaves a part open. */
public record CaseFilter(
        @Nullable String state,
        @Nullable String kind,
        @Nullable String desk,
        @Nullable String requester,
        @Nullable String words) {
    /** Cases in a state, and nothing else about them. */
    public static CaseFilter in(String state) {
        return new CaseFilter(state, null, null, null, null);
    }

    /** The words as a pattern of SQL's {@code like} with {@code !} to escape; null when there are none. */
    @Nullable
    String pattern() {
        return words == null
                ? null
                : "%"
                        + words.toLowerCase(Locale.ROOT)
                                .replace("!", "!!")
                                .replace("%", "!%")
                                .replace("_", "!_")
                        + "%";
    }
}
