package servitor.core.run;

import java.time.Instant;
import java.util.List;
import servitor.core.approval.ApprovalRequest;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt;
import servitor.core.run.RunState.Allowance;
import servitor.core.run.RunState.WrittenText;
import tools.jackson.databind.JsonNode;

/** Something the machine wants done. The shell does it and feeds what came of it back in. */
public sealed interface Command {

    /** Judge a call; answered inside the same transaction. */
    record JudgeCall(String id, ProposedCall call) implements Command {}

    /**
     * Call a tool that the gate has let through.
     *
     * @param key the idempotency key that every try is sent with; no other call of any installation has the same
     */
    record CallTool(String id, ProposedCall call, String key) implements Command {}

    /** Read a document of the case. */
    record ReadDocument(String id, String document) implements Command {}

    record AskModel(String id, Prompt prompt) implements Command {}

    record OpenApproval(ApprovalRequest request) implements Command {}

    /** The run ended while people were still asked. */
    record WithdrawApproval(String id, String why) implements Command {}

    /** Say when {@code at} has come. Timers of a run that has ended are dropped by themselves. */
    record SetTimer(String id, Instant at) implements Command {}

    /**
     * Start another page on the same case.
     *
     * @param written the texts a machine wrote so far
     * @param chain the agents whose models had it started
     * @param inShadow whether nothing may leave for it
     */
    record StartPage(
            String id,
            String page,
            TracedValue takes,
            Allowance allowance,
            List<WrittenText> written,
            List<String> chain,
            boolean inShadow)
            implements Command {}

    /** The pages this run follows are no longer waited for. */
    record StopPages(String why) implements Command {}

    /** Tell the run that followed this one's page what came of it. */
    record GiveBack(String toRun, RunInput.PageEnded ended) implements Command {}

    /** Say when a case that was opened for this one is done with; at once when it is already. */
    record AwaitCase(String caseId) implements Command {}

    /** What the page gave, for whoever had this case opened. */
    record Give(RunInput.Gave gave) implements Command {}

    /** Change fields, labels, relations or priority of the case. */
    record ChangeCase(JsonNode changes) implements Command {}

    /** The call {@code id} was in doubt and isn't any more. */
    record SettleCall(String id, boolean happened) implements Command {}

    /** A note for the people at the desk, not for the requester. */
    record NoteForStaff(String id, String text) implements Command {}
}
