package servitor.core.approval;

import java.time.Duration;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * A question to people that a run waits for.
 *
 * @param of the groups that may answer
 * @param everyGroup whether one answer of each group is needed, rather than one answer at all
 * @param sheet everything the approvers are shown: {@code call} or {@code edit}, and {@code show}
 * @param within how long they have; null for no limit
 */
public record ApprovalRequest(
        String id,
        String step,
        String question,
        Set<String> of,
        boolean everyGroup,
        JsonNode sheet,
        @Nullable Duration within) {
    public ApprovalRequest {
        of = Set.copyOf(of);
        if (of.isEmpty()) {
            throw new IllegalArgumentException("an approval must ask somebody");
        }
    }

    /** What an answer binds to: the question and everything shown with it. */
    public String digest() {
        return Json.digest(Json.object().put("question", question).set("sheet", sheet));
    }
}
