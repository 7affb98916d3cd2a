package servitor.core.handbook;

import java.time.ZoneId;
import java.util.List;
import java.util.Map;

/**
 * What holds for the whole house.
 *
 * @param rules standing rules that every agent is told
 * @param models the models agents may use, by the name they are used under
 */
public record House(String title, ZoneId timeZone, String currency, List<String> rules, Map<String, Model> models) {

    public House {
        rules = List.copyOf(rules);
        models = Map.copyOf(models);
    }

    /**
     * A model behind a connection that speaks the chat-completions format.
     *
     * @param connection the connection it is reached over
     * @param name the name the model server knows it by
     */
    public record Model(String connection, String name, ModelSettings settings) {}
}
