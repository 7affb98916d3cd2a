package servitor.service.ledger;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** An entry of the trail with its data, where that is still there. */
record TrailRow(
        long seq,
        Instant at,
        String actor,
        String caseId,
        String runId,
        String step,
        String what,
        String digest,
        String previous,
        String hash,
        @Nullable String salt,
        @Nullable String data) {}
