package servitor.service.runs;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** Trouble that nobody has seen to. */
public record TroubleRow(
        String id,
        String what,
        String caseId,
        String runId,
        String work,
        String step,
        String problem,
        String detail,
        Instant at,
        String seenBy,
        String how,
        @Nullable Instant seen) {}
