package servitor.service.runs;

import java.time.Instant;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What a list of runs is narrowed to, rights first; null leaves a part open.
 *
 * @param desks whose cases somebody sees as staff
 * @param status a word of {@link servitor.core.run.RunStatus}
 * @param beforeTime with {@code beforeId}: where an earlier list ended
 */
public record RunFilter(
        Set<String> desks,
        @Nullable String status,
        @Nullable String page,
        @Nullable String desk,
        @Nullable String requester,
        @Nullable Instant beforeTime,
        @Nullable String beforeId) {}
