package servitor.core.handbook;

import java.math.BigDecimal;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * How a model wants to be asked. Servers of the chat-completions format differ in what they take.
 *
 * @param temperature how freely it words things; null to say nothing of it
 * @param longest the most tokens of one answer; 0 to say nothing of it
 * @param limitAs what that limit is called in a request
 */
public record ModelSettings(@Nullable BigDecimal temperature, AnswerAs answerAs, int longest, String limitAs) {
    /** What most servers take. */
    public static final ModelSettings USUAL =
            new ModelSettings(BigDecimal.ZERO, AnswerAs.SCHEMA, 0, ModelSettings.MAX_TOKENS);

    public static final String MAX_TOKENS = "max_tokens";
    public static final String MAX_COMPLETION_TOKENS = "max_completion_tokens";

    /** How a model is told the form of its answer. */
    public enum AnswerAs {
        /** By a JSON Schema that its server holds it to. */
        SCHEMA,
        /** By being asked for JSON, with the schema in the prompt. */
        JSON,
        /** By the prompt alone. */
        PROMPT;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }

        /** What asks less of the server; empty when nothing does. */
        public Optional<AnswerAs> simpler() {
            return this == PROMPT ? Optional.empty() : Optional.of(values()[ordinal() + 1]);
        }
    }

    public ModelSettings withoutTemperature() {
        return new ModelSettings(null, answerAs, longest, limitAs);
    }

    public ModelSettings answering(AnswerAs as) {
        return new ModelSettings(temperature, as, longest, limitAs);
    }

    public ModelSettings limitedAs(String name) {
        return new ModelSettings(temperature, answerAs, longest, name);
    }
}
