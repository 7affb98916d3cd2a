package servitor.service.dispatch;

import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.connectors.Connectors;
import servitor.connectors.access.Access;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Outcome;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding.BuiltIn;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.RunInput.ToolFailed;
import servitor.service.connections.Callbacks;
import servitor.service.connections.Connections;
import servitor.service.connections.KeyRing;
import tools.jackson.databind.node.ObjectNode;

/**
 * The only way to a tool. What arrives here has been judged and let through in the transaction that put the command
 * down; the gate carries it out and checks what comes back.
 */
@Component
class ToolGate {
    private final Connections connections;
    private final Connectors connectors;
    private final Callbacks callbacks;
    private final Teller teller;
    private final Opener opener;

    ToolGate(Connections connections, Connectors connectors, Callbacks callbacks, Teller teller, Opener opener) {
        this.opener = opener;
        this.teller = teller;
        this.callbacks = callbacks;
        this.connections = connections;
        this.connectors = connectors;
    }

    /**
     * Calls a tool of {@code handbook} for a case.
     *
     * @param id the work this is
     * @param key the idempotency key, the same for every try
     * @param deadline when it has to be over, before the lease of the work is
     */
    Outcome call(Handbook handbook, String caseId, ProposedCall call, String id, String key, Deadline deadline)
            throws InterruptedException {
        Tool tool = handbook.tool(call.tool());
        return tool.binding() instanceof BuiltIn
                ? Outcome.of(
                        tool, id, call.args(), builtIn(handbook, caseId, call, key, deadline.orIn(tool.timeLimit())))
                : call(tool, call, id, key, deadline);
    }

    private Reply builtIn(Handbook handbook, String caseId, ProposedCall call, String key, Deadline deadline)
            throws InterruptedException {
        return call.tool().equals(Opening.OPEN)
                ? opener.open(caseId, call, key)
                : teller.tell(handbook, caseId, call, key, deadline);
    }

    /** The same for no case, as somebody tries a tool. */
    Outcome call(Tool tool, ProposedCall call, String id, String key, Deadline deadline) throws InterruptedException {
        if (tool.binding() instanceof BuiltIn) {
            return failed(id, "‘" + tool.name() + "’ is about a case, and there is none here");
        }
        String connection = tool.binding().connection();
        Optional<Access> access;
        try {
            access = connections.access(connection);
        } catch (KeyRing.CannotOpen e) {
            return failed(id, String.valueOf(e.getMessage()));
        }
        return access.isEmpty()
                ? failed(id, "the connection ‘" + connection + "’ isn't set up")
                : Outcome.of(
                        tool,
                        id,
                        call.args(),
                        connectors.call(access.get(), tool, inputs(tool, call, id), key, deadline));
    }

    /** The inputs as they leave: the address to be called back at is told to the outside system and nobody else. */
    private ObjectNode inputs(Tool tool, ProposedCall call, String id) {
        ObjectNode inputs = call.args();
        if (tool.job() != null && tool.job().callsBack() != null) {
            inputs.put(tool.job().callsBack(), callbacks.address(id));
        }
        return inputs;
    }

    private static Outcome failed(String id, String detail) {
        return new Outcome.Done(new ToolFailed(id, Problem.UNAVAILABLE, detail));
    }
}
