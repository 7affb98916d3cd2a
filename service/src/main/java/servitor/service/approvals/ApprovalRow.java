package servitor.service.approvals;

import java.time.Duration;
import java.time.Instant;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.KeptApproval;
import servitor.core.json.Json;

/** An approval as the table holds it; {@code request} is JSON. */
public record ApprovalRow(
        String id,
        String runId,
        String caseId,
        String request,
        String digest,
        String state,
        Instant opened,
        @Nullable Instant due,
        @Nullable Instant closed,
        int version,
        String authors,
        @Nullable Instant remindAt,
        int reminders,
        boolean held,
        long heldMillis,
        @Nullable String handedTo) {
    /** The same as the engine knows it. */
    public KeptApproval kept() {
        return new KeptApproval(
                Json.read(request, ApprovalRequest.class),
                runId,
                caseId,
                ApprovalState.of(state),
                opened,
                due,
                authors.isBlank() ? Set.of() : Set.of(authors.split(" ")),
                reminders,
                version,
                held,
                Duration.ofMillis(heldMillis));
    }
}
