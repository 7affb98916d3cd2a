package servitor.service.approvals;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** An answer to an approval; texts, form and groups are JSON. */
public record AnswerRow(
        String approvalId,
        String person,
        String says,
        String reason,
        String texts,
        @Nullable String form,
        String forGroups,
        Instant at,
        String via,
        String standsInFor) {}
