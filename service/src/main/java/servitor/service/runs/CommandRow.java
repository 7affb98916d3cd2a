package servitor.service.runs;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** Work as the table holds it; {@code payload} is JSON. */
public record CommandRow(
        String id,
        String runId,
        String kind,
        String payload,
        String state,
        @Nullable String owner,
        @Nullable Instant leaseUntil,
        int attempts,
        Instant due,
        boolean sent,
        String connection,
        String outsideKey) {}
