package servitor.core.approval;

import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/**
 * What one person answered.
 *
 * @param groups the groups and desks the person belongs to now
 * @param standsInFor people for whom the person answers now, because these are away
 * @param digest the digest of the sheet the person saw
 * @param reason why not, or what should be different
 * @param texts texts as the person changed them, by their key; empty when they were left alone
 * @param form what the person filled in; null when nothing was
 * @param via which way it came
 */
public record Answer(
        String person,
        Set<String> groups,
        Set<String> standsInFor,
        Says says,
        String digest,
        String reason,
        Map<String, String> texts,
        @Nullable JsonNode form,
        Via via) {

    /** What an answer can say. */
    public enum Says {
        APPROVE,
        DECLINE,
        FEEDBACK;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    public Answer {
        groups = Set.copyOf(groups);
        standsInFor = Set.copyOf(standsInFor);
        texts = Map.copyOf(texts);
    }

    boolean approves() {
        return says == Says.APPROVE;
    }
}
