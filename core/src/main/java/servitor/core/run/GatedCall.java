package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.Decision;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.origin.Traced;
import servitor.core.run.RunInput.ApprovalClosed;
import servitor.core.run.RunInput.Judged;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import servitor.core.run.RunInput.ToolInDoubt;
import servitor.core.run.RunState.Pending;
import tools.jackson.databind.JsonNode;

/**
 * The way of every call, whoever proposes it: proposed, judged, asked about if the verdict says so, judged again after
 * the answer, sent, answered. There is no other way to a tool.
 */
final class GatedCall {
    private static final java.time.Duration ASK_WITHIN = java.time.Duration.ofDays(2);

    private GatedCall() {}

    /** Proposes a call; the verdict comes as the next input. */
    static void propose(Turn turn, ProposedCall call) {
        if (turn.state().calls() >= turn.page().limits().calls()) {
            turn.problem(
                    "exhausted", "this page may make " + turn.page().limits().calls() + " calls, and has made them");
            return;
        }
        turn.log("call-proposed", describe(call));
        judge(turn, call, Set.of());
    }

    private static void judge(Turn turn, ProposedCall call, Set<String> answered) {
        String id = turn.nextId();
        turn.await(Pending.Kind.VERDICT, id, call, answered);
        turn.command(new Command.JudgeCall(id, call));
    }

    /** Takes the call one stage further; {@code answered} is told the tool's answer with the call. */
    static void resume(Turn turn, RunInput input, BiConsumer<ProposedCall, JsonNode> answered) {
        Pending pending = turn.state().pending();
        ProposedCall call = pending.call();
        if (input instanceof Judged judged) {
            judged(turn, call, pending.answered(), judged.verdict());
        } else if (input instanceof ApprovalClosed closed) {
            approved(turn, call, closed);
        } else if (input instanceof ToolAnswered answer) {
            answered.accept(call, answer.answer());
        } else if (input instanceof ToolFailed failed) {
            turn.problem(failed.problem(), failed.detail());
        } else if (input instanceof ToolInDoubt doubt) {
            turn.inDoubt(doubt.detail());
        }
    }

    private static void judged(Turn turn, ProposedCall call, Set<String> answered, Verdict verdict) {
        boolean asks = verdict.decision() == Decision.ASK;
        boolean settled = asks && answered.containsAll(verdict.of());
        var data = Json.object()
                .put("tool", call.tool())
                .put("verdict", verdict.decision().word())
                .put("reason", verdict.reason())
                .put("grant", verdict.grant());
        if (asks) {
            data.set("of", Json.of(new TreeSet<>(verdict.of())));
        }
        if (settled) {
            data.put("settled", "people have approved exactly this call");
        }
        turn.log("verdict", data);
        if (verdict.decision() == Decision.DENY) {
            turn.problem("refused", verdict.reason());
        } else if (asks && !settled) {
            ask(turn, call, verdict);
        } else {
            send(turn, call);
        }
    }

    private static void ask(Turn turn, ProposedCall call, Verdict verdict) {
        Tool tool = turn.edition().handbook().tools().get(call.tool());
        var sheet = Json.object();
        sheet.set(
                "call",
                describe(call)
                        .put("description", tool.description())
                        .put("effect", tool.effect().word()));
        sheet.put("why", verdict.reason());
        ApprovalRequest request = new ApprovalRequest(
                turn.nextId(),
                turn.state().step(),
                turn.step().title() + ": let " + turn.agent().title() + " do this?",
                verdict.of(),
                true,
                sheet,
                ASK_WITHIN);
        turn.command(new Command.OpenApproval(request));
        turn.awaitPeople(request.id(), call, "an answer of " + String.join(" and ", new TreeSet<>(verdict.of())));
    }

    private static void approved(Turn turn, ProposedCall call, ApprovalClosed closed) {
        if (closed.state() == ApprovalState.APPROVED) {
            judge(turn, call, closed.forGroups());
        } else if (closed.state() == ApprovalState.EXPIRED) {
            turn.problem("expired", "nobody answered in time");
        } else {
            turn.problem("declined", closed.reason());
        }
    }

    private static void send(Turn turn, ProposedCall call) {
        String id = turn.nextId();
        turn.countCall();
        turn.await(Pending.Kind.TOOL, id, call, Set.of());
        turn.command(new Command.CallTool(id, call));
    }

    /** The call as people and the trail see it: tool, inputs, and where each input came from. */
    static tools.jackson.databind.node.ObjectNode describe(ProposedCall call) {
        Map<String, List<String>> origins = new LinkedHashMap<>();
        call.inputs().forEach((name, input) -> origins.put(name, Traced.words(input.originsAt(""))));
        var node = Json.object().put("tool", call.tool()).put("agent", call.agent());
        node.set("inputs", call.args());
        node.set("origins", Json.of(origins));
        return node;
    }
}
