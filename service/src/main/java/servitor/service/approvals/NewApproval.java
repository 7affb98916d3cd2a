package servitor.service.approvals;

import java.time.Instant;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.engine.Evidence;
import servitor.core.engine.KeptApproval;
import servitor.core.json.Json;

/**
 * A new approval as the tables take it, with who is asked and, as JSON, what is shown beside it.
 *
 * @param watched whether something has to hold for it to be asked
 */
public record NewApproval(ApprovalRow row, Set<String> asked, String evidence, boolean watched) {
    public static NewApproval of(KeptApproval approval, @Nullable Instant remindAt, Evidence evidence) {
        ApprovalRow row = new ApprovalRow(
                approval.id(),
                approval.run(),
                approval.caseId(),
                Json.write(approval.request()),
                approval.request().digest(),
                approval.state().word(),
                approval.opened(),
                approval.due(),
                null,
                approval.version(),
                "",
                remindAt,
                0,
                approval.held(),
                0,
                null);
        return new NewApproval(
                row,
                approval.request().of(),
                Json.write(evidence),
                approval.request().validWhile() != null);
    }
}
