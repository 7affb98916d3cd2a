package servitor.core.run;

import servitor.core.approval.ApprovalRequest;
import servitor.core.mandate.ProposedCall;
import servitor.core.prompt.Prompt;
import tools.jackson.databind.JsonNode;

/** Something the machine wants done. The shell does it and feeds what came of it back in. */
public sealed interface Command {

    /** Judge a call; answered inside the same transaction. */
    record JudgeCall(String id, ProposedCall call) implements Command {}

    /** Call a tool that the gate has let through; {@code id} is the idempotency key. */
    record CallTool(String id, ProposedCall call) implements Command {}

    record AskModel(String id, Prompt prompt) implements Command {}

    record OpenApproval(ApprovalRequest request) implements Command {}

    /** The run ended while people were still asked. */
    record WithdrawApproval(String id, String why) implements Command {}

    /** Change fields, labels or priority of the case. */
    record ChangeCase(JsonNode changes) implements Command {}

    /** A note for the people at the desk, not for the requester. */
    record NoteForStaff(String id, String text) implements Command {}
}
