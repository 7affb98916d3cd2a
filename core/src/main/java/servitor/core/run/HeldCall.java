package servitor.core.run;

import java.util.HashMap;
import java.util.Map;
import java.util.TreeSet;
import java.util.stream.Stream;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.handbook.WayOfWorking;
import servitor.core.json.Json;
import servitor.core.mandate.CallWords;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.origin.NormalForm;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.DoneByHand;
import servitor.core.shape.Shape;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** A call that was allowed, or that people would be asked about, in shadow: it doesn't leave. People do it by hand and say what they did. */
final class HeldCall {
    private HeldCall() {}

    /** Whether nothing that acts may leave for this call: its tool, its agent, or somebody who had it started works in shadow. */
    static boolean holds(TransitionBuilder turn, ProposedCall call) {
        Handbook handbook = turn.edition().handbook();
        Tool tool = handbook.tool(call.tool());
        boolean shadowed = Stream.concat(Stream.of(call.agent()), call.chain().stream())
                .flatMap(name -> Stream.ofNullable(handbook.agents().get(name)))
                .anyMatch(agent -> WayOfWorking.of(agent, tool) == WayOfWorking.SHADOW);
        return shadowed || turn.inShadow() && tool.effect().acts();
    }

    static void hold(TransitionBuilder turn, ProposedCall call, Verdict verdict) {
        Tool tool = turn.edition().handbook().tool(call.tool());
        String says = CallWords.of(tool, call, turn.edition().handbook().house().currency());
        ObjectNode data = Json.object().put("tool", call.tool()).put("says", says);
        if (verdict.decision() == Decision.ASK) {
            data.set("of", Json.of(new TreeSet<>(verdict.of())));
        }
        turn.log(TrailWord.CALL_HELD, data);
        turn.hold(turn.usage().nextId(), call, "somebody to do it by hand: " + says);
    }

    /** People have done it, or something else instead; the run goes on with what came of it. */
    static void resume(TransitionBuilder turn, DoneByHand done, GatedCall.Caller caller) {
        ProposedCall call = turn.awaitedCall();
        ObjectNode data = Json.object().put("tool", call.tool()).put("did", did(call, done));
        if (!done.nothing()) {
            data.set("inputs", done.inputs());
            data.set("result", done.result());
        }
        turn.log(TrailEvent.person(done.by()), TrailWord.DONE_BY_HAND, data.put("reason", done.reason()));
        if (done.nothing()) {
            caller.trouble(Problem.DECLINED, done.reason());
            return;
        }
        Tool tool = turn.edition().handbook().tool(call.tool());
        GatedCall.gave(
                turn, tool, with(call, done), Shape.ofSchema(tool.answers()).fit(done.result()), caller);
    }

    /** What they did, beside what was proposed: {@code same}, {@code other} or {@code nothing}. */
    private static String did(ProposedCall call, DoneByHand done) {
        if (done.nothing()) {
            return "nothing";
        }
        boolean same = done.inputs().size() == call.args().size()
                && call.args().properties().stream()
                        .allMatch(e -> isSame(e.getValue(), done.inputs().path(e.getKey())));
        return same ? "same" : "other";
    }

    private static boolean isSame(JsonNode one, JsonNode other) {
        return one.equals(other) || one.isValueNode() && NormalForm.of(one).equals(NormalForm.of(other));
    }

    /** The call as people made it: inputs that they changed are theirs. */
    private static ProposedCall with(ProposedCall call, DoneByHand done) {
        Map<String, TracedValue> inputs = new HashMap<>();
        done.inputs().properties().forEach(e -> {
            TracedValue proposed = call.input(e.getKey());
            inputs.put(
                    e.getKey(),
                    proposed != null && proposed.value().equals(e.getValue())
                            ? proposed
                            : TracedValue.of(e.getValue(), Origin.PERSON));
        });
        return new ProposedCall(call.agent(), call.tool(), inputs, Map.of(), Map.of(), call.chain());
    }
}
