package servitor.core.run;

import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalState;
import servitor.core.mandate.Verdict;
import tools.jackson.databind.JsonNode;

/** One thing that happened to a run. {@code id} names the command or approval it answers. */
public sealed interface RunInput {

    /** The run begins. */
    record Started() implements RunInput {}

    /** The gate judged a proposed call. */
    record Judged(String id, Verdict verdict) implements RunInput {}

    /** A tool answered. */
    record ToolAnswered(String id, JsonNode answer) implements RunInput {}

    /** A tool couldn't do it; provably nothing is left open. */
    record ToolFailed(String id, String problem, String detail) implements RunInput {}

    /** A call that must not be repeated may or may not have happened. */
    record ToolInDoubt(String id, String detail) implements RunInput {}

    /** A model answered within the contract. */
    record ModelAnswered(String id, String model, JsonNode answer, int tokens) implements RunInput {}

    /** A model couldn't be reached or couldn't keep the contract. */
    record ModelFailed(String id, String problem, String detail, int tokens) implements RunInput {}

    /** People decided, or their time ran out; {@code forGroups} are the groups that approved. */
    record ApprovalClosed(
            String id,
            ApprovalState state,
            String reason,
            @Nullable String edited,
            Set<String> forGroups) implements RunInput {}

    /** A person ended the run. */
    record Stopped(String by, String reason) implements RunInput {}
}
