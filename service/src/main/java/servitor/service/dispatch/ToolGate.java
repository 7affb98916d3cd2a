package servitor.service.dispatch;

import java.net.URI;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.connectors.http.HttpTool;
import servitor.core.engine.Outcome;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Tool.BuiltIn;
import servitor.core.handbook.Tool.HttpOperation;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.RunInput.ToolFailed;
import servitor.service.connections.Connections;

/**
 * The only way to a tool. What arrives here has been judged and let through in the transaction that put the command
 * down; the gate carries it out and checks what comes back.
 */
@Component
class ToolGate {
    private final Connections connections;
    private final HttpTool http = new HttpTool();

    ToolGate(Connections connections) {
        this.connections = connections;
    }

    /** Calls {@code tool}; {@code id} is the idempotency key, the same for every try. */
    Outcome call(Tool tool, ProposedCall call, String id) throws InterruptedException {
        if (tool.binding() instanceof BuiltIn) {
            return new Outcome.WriteReply(id, call.args().path("text").asString(""));
        }
        HttpOperation operation = (HttpOperation) tool.binding();
        Optional<URI> base = connections.url(operation.connection());
        if (base.isEmpty()) {
            return failed(id, "unavailable", "the connection ‘" + operation.connection() + "’ isn't set up");
        }
        return Outcome.of(tool, id, http.call(base.get(), operation, call.args(), id, tool.timeLimit()));
    }

    private static Outcome failed(String id, String problem, String detail) {
        return new Outcome.Done(new ToolFailed(id, problem, detail));
    }
}
