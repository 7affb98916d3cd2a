package servitor.service.runs;

import java.time.Instant;

/** A run as the table holds it; {@code state} is JSON. */
public record RunRow(
        String id,
        String caseId,
        int edition,
        String page,
        String status,
        String step,
        String state,
        Instant created,
        Instant updated,
        int version,
        String parent) {}
