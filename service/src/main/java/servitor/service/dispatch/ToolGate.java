package servitor.service.dispatch;

import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.connectors.Access;
import servitor.connectors.Connectors;
import servitor.core.engine.Outcome;
import servitor.core.handbook.Binding.BuiltIn;
import servitor.core.handbook.Tool;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.RunInput.ToolFailed;
import servitor.service.connections.Connections;
import servitor.service.connections.KeyRing;

/**
 * The only way to a tool. What arrives here has been judged and let through in the transaction that put the command
 * down; the gate carries it out and checks what comes back.
 */
@Component
class ToolGate {
    private final Connections connections;
    private final Connectors connectors;

    ToolGate(Connections connections, Connectors connectors) {
        this.connections = connections;
        this.connectors = connectors;
    }

    /** Calls {@code tool}; {@code id} is the idempotency key, the same for every try. */
    Outcome call(Tool tool, ProposedCall call, String id) throws InterruptedException {
        if (tool.binding() instanceof BuiltIn) {
            return new Outcome.WriteReply(id, call.args().path("text").asString(""));
        }
        String connection = tool.binding().connection();
        Optional<Access> access;
        try {
            access = connections.access(connection);
        } catch (KeyRing.CannotOpen e) {
            return failed(id, e.getMessage());
        }
        return access.isEmpty()
                ? failed(id, "the connection ‘" + connection + "’ isn't set up")
                : Outcome.of(tool, id, connectors.call(access.get(), tool, call.args(), id));
    }

    private static Outcome failed(String id, String detail) {
        return new Outcome.Done(new ToolFailed(id, "unavailable", detail));
    }
}
