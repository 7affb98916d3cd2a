package servitor.core.engine;

import java.time.Duration;
import java.time.Instant;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;

/**
 * An approval as it is kept.
 *
 * @param due when it expires; null for never
 * @param authors who edited what it shows
 * @param reminders how many reminders have been given
 * @param version fences writes to it
 * @param held whether its time stands still, because its run is paused
 * @param heldFor for how long its time has stood still before
 */
public record KeptApproval(
        ApprovalRequest request,
        String run,
        String caseId,
        ApprovalState state,
        Instant opened,
        @Nullable Instant due,
        Set<String> authors,
        int reminders,
        int version,
        boolean held,
        Duration heldFor) {
    public KeptApproval {
        authors = Set.copyOf(authors);
    }

    /** The next version, in another state. */
    public KeptApproval in(ApprovalState now) {
        return new KeptApproval(request, run, caseId, now, opened, due, authors, reminders, version + 1, held, heldFor);
    }

    public String id() {
        return request.id();
    }
}
