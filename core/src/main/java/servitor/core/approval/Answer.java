package servitor.core.approval;

import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What one person answered.
 *
 * @param groups the groups and desks the person belongs to now
 * @param digest the digest of the sheet the person saw
 * @param edited the text as the person changed it; null when it was left alone
 */
public record Answer(
        String person,
        Set<String> groups,
        boolean approves,
        String digest,
        String reason,
        @Nullable String edited) {
    public Answer {
        groups = Set.copyOf(groups);
    }
}
