package servitor.core.handbook;

import java.math.BigDecimal;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What holds for the whole house.
 *
 * @param secondEngineer whether nothing is published without a second engineer's consent
 * @param rules standing rules that every agent is told
 * @param models the models agents may use, by the name they are used under
 */
public record House(
        String title,
        ZoneId timeZone,
        String currency,
        boolean secondEngineer,
        List<String> rules,
        Map<String, Model> models) {

    public House {
        rules = List.copyOf(rules);
        models = Map.copyOf(models);
    }

    /**
     * A model behind a connection that speaks the chat-completions format.
     *
     * @param connection the connection it is reached over
     * @param name the name the model server knows it by
     * @param window how many tokens a question and its answer may have together
     * @param price what tokens cost; null where nobody says
     * @param can what it can do beside writing
     * @param otherwise the model that is asked where this one can't be had; null for none
     */
    public record Model(
            String connection,
            String name,
            ModelSettings settings,
            int window,
            @Nullable Price price,
            Set<Ability> can,
            @Nullable String otherwise) {
        /** What is believed where nobody says. */
        public static final int USUAL_WINDOW = 32_000;

        public Model {
            can = Set.copyOf(can);
        }

        /** Whether it looks at pictures. */
        public boolean sees() {
            return can.contains(Ability.IMAGES);
        }
    }

    /** What a million tokens cost, in the currency of the house: of what is asked, and of what is answered. */
    public record Price(BigDecimal asked, BigDecimal answered) {}

    /** What a model can do beside writing. */
    public enum Ability {
        /** It asks for tools to be called. */
        TOOLS,
        /** Its server holds its answers to a JSON Schema. */
        SCHEMA,
        /** It looks at pictures. */
        IMAGES;

        /** The word of handbooks. */
        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }
}
