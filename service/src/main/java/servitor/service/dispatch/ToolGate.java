package servitor.service.dispatch;

import java.net.URI;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.connectors.Reply;
import servitor.connectors.http.HttpTool;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Tool.BuiltIn;
import servitor.core.handbook.Tool.HttpOperation;
import servitor.core.json.Schemas;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import servitor.core.run.RunInput.ToolInDoubt;
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
        return outcome(tool, id, http.call(base.get(), operation, call.args(), id));
    }

    private static Outcome outcome(Tool tool, String id, Reply reply) {
        if (reply instanceof Reply.Answered answered) {
            List<String> violations = Schemas.violations(tool.outputs(), answered.body());
            return violations.isEmpty()
                    ? new Outcome.Done(new ToolAnswered(id, answered.body()))
                    : unclear(
                            tool,
                            id,
                            "invalid",
                            "the answer isn't what the tool declares: " + String.join("; ", violations));
        } else if (reply instanceof Reply.NotSent notSent) {
            return new Outcome.TryAgain("unavailable", notSent.detail());
        } else if (reply instanceof Reply.Failed failed) {
            return refused(tool, id, failed);
        } else if (reply instanceof Reply.Unreadable unreadable) {
            return unclear(tool, id, "invalid", unreadable.detail());
        }
        Reply.Unknown unknown = (Reply.Unknown) reply;
        return tool.effect() == Effect.ONCE
                ? new Outcome.Done(new ToolInDoubt(id, unknown.detail()))
                : new Outcome.TryAgain(unknown.timedOut() ? "timeout" : "unavailable", unknown.detail());
    }

    /** An answer that can't be used: a call that mustn't be repeated may have happened all the same. */
    private static Outcome unclear(Tool tool, String id, String problem, String detail) {
        return tool.effect() == Effect.ONCE
                ? new Outcome.Done(new ToolInDoubt(id, detail))
                : failed(id, problem, detail);
    }

    private static Outcome refused(Tool tool, String id, Reply.Failed failed) {
        String named = tool.problems().get(failed.status());
        if (named != null) {
            return failed(id, named, failed.detail());
        }
        boolean passing =
                failed.status() == 429 || failed.status() == 502 || failed.status() == 503 || failed.status() == 504;
        if (passing && tool.effect() != Effect.ONCE) {
            return new Outcome.TryAgain("unavailable", failed.detail());
        }
        if (failed.status() >= 500) {
            return unclear(tool, id, "unavailable", failed.detail());
        }
        return failed(id, "invalid", failed.detail());
    }

    private static Outcome failed(String id, String problem, String detail) {
        return new Outcome.Done(new ToolFailed(id, problem, detail));
    }
}
