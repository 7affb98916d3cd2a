package servitor.service.runs;

import java.time.Instant;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.service.cases.CaseFilter;

/**
 * What a list of runs is narrowed to, rights first; null leaves a part open.
 *
 * @param desks whose cases somebody sees as staff
 * @param status a word of {@link servitor.core.run.RunStatus}
 * @param about what their cases are narrowed to; its times are those of the runs
 * @param beforeTime with {@code beforeId}: where an earlier list ended
 */
public record RunFilter(
        Set<String> desks,
        @Nullable String status,
        CaseFilter about,
        @Nullable Instant beforeTime,
        @Nullable String beforeId) {}
