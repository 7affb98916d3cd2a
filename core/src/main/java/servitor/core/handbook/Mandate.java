package servitor.core.handbook;

import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What agents may do. Nothing granted, nothing allowed.
 *
 * @param agents the agents it binds
 * @param ask the group that answers when a grant names none
 * @param never what is refused before any grant is looked at
 */
public record Mandate(
        String name,
        String title,
        Set<String> agents,
        @Nullable String ask,
        List<Grant> grants,
        List<Grant> never,
        Places places) {
    public Mandate {
        agents = Set.copyOf(agents);
        grants = List.copyOf(grants);
        never = List.copyOf(never);
    }
}
