package servitor.core.run;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import servitor.core.expression.EvaluationFailed;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Tool.SettleWith;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.Judged;
import servitor.core.run.RunInput.Settled;
import servitor.core.run.RunInput.TimeUp;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import servitor.core.run.RunInput.ToolInDoubt;
import servitor.core.run.RunState.Pending;
import servitor.core.run.StepProgress.Doubt;
import servitor.core.shape.Shape;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * A call that may have happened: where its tool says how, that is looked up first, through the gate like any other call.
 * What the lookup can't settle, a person does.
 */
final class DoubtLookup {
    private DoubtLookup() {}

    /** The call under way may have happened. */
    static void begin(TransitionBuilder turn, String detail) {
        Pending pending = turn.awaited();
        SettleWith settle = tool(turn, pending.callOf()).settleWith();
        if (settle == null || turn.usage().callsLeft() <= 0) {
            turn.inDoubt(detail);
            return;
        }
        turn.remember(turn.memory().doubting(new Doubt(pending.id(), pending.callOf(), pending.answered(), detail)));
        turn.log(
                TrailWord.LOOKING_UP,
                Json.object()
                        .put("key", turn.key(pending.id()))
                        .put("detail", detail)
                        .put("with", settle.tool()));
        Instant at = turn.situation().now().plus(settle.after());
        String timer = turn.usage().nextId();
        turn.command(new Command.SetTimer(timer, at));
        turn.awaitLong(
                new Pending(Pending.Kind.TOOL, timer, pending.call(), Set.of(), timer, null, null),
                "a moment, to look up whether this happened: " + detail);
    }

    /** Takes the lookup one stage further. */
    static void resume(TransitionBuilder turn, RunInput input, GatedCall.Caller caller) {
        Doubt doubt = Objects.requireNonNull(turn.memory().doubt());
        if (input instanceof TimeUp) {
            propose(turn, doubt);
        } else if (input instanceof Judged judged) {
            turn.log(
                    TrailWord.VERDICT,
                    Json.object()
                            .put("tool", turn.awaitedCall().tool())
                            .put("verdict", judged.verdict().decision().word())
                            .put("reason", judged.verdict().reason())
                            .put("grant", judged.verdict().grant()));
            if (judged.verdict().decision() == Decision.ALLOW) {
                String id = turn.usage().nextId();
                ProposedCall lookup = turn.awaitedCall();
                turn.usage().countCall();
                turn.await(Pending.Kind.TOOL, id, lookup, Set.of());
                turn.command(new Command.CallTool(id, lookup, turn.key(id)));
            } else {
                askPeople(turn, "it can't be looked up: " + judged.verdict().reason());
            }
        } else if (input instanceof ToolAnswered answered) {
            found(turn, doubt, answered.answer(), caller);
        } else if (input instanceof ToolFailed failed) {
            askPeople(turn, "looking it up failed: " + failed.detail());
        } else if (input instanceof ToolInDoubt unclear) {
            askPeople(turn, "looking it up failed: " + unclear.detail());
        }
    }

    private static Tool tool(TransitionBuilder turn, ProposedCall call) {
        return turn.edition().handbook().tool(call.tool());
    }

    private static Map<String, TracedValue> scope(TransitionBuilder turn, Doubt doubt) {
        Map<String, TracedValue> scope = new LinkedHashMap<>();
        scope.put("args", TracedValue.fields(doubt.call().inputs()));
        scope.put("key", TracedValue.of(Json.of(turn.key(doubt.id())), Origin.HANDBOOK));
        return scope;
    }

    private static void propose(TransitionBuilder turn, Doubt doubt) {
        SettleWith settle = Objects.requireNonNull(tool(turn, doubt.call()).settleWith());
        try {
            TracedValue filled = settle.inputs().fill(scope(turn, doubt));
            Map<String, TracedValue> inputs = new LinkedHashMap<>();
            settle.inputs().fieldNames().forEach(name -> inputs.put(name, filled.at(List.of(name))));
            ProposedCall lookup = new ProposedCall(
                    doubt.call().agent(),
                    settle.tool(),
                    inputs,
                    Map.of(),
                    Map.of(),
                    doubt.call().chain());
            turn.log(TrailWord.CALL_PROPOSED, GatedCall.describe(lookup));
            GatedCall.judge(turn, lookup, Set.of());
        } catch (EvaluationFailed e) {
            askPeople(turn, "it can't be looked up: " + e.getMessage());
        }
    }

    private static void found(TransitionBuilder turn, Doubt doubt, JsonNode answer, GatedCall.Caller caller) {
        Tool tool = tool(turn, doubt.call());
        SettleWith settle = Objects.requireNonNull(tool.settleWith());
        Map<String, TracedValue> scope = scope(turn, doubt);
        Shape shape = Shape.ofSchema(tool(turn, turn.awaitedCall()).outputs());
        scope.put("found", TracedValue.of(shape.fit(answer), Origin.LOOKUP));
        Map<String, JsonNode> plain = new LinkedHashMap<>();
        scope.forEach((name, value) -> plain.put(name, value.value()));
        try {
            boolean happened = settle.happened().holds(plain);
            JsonNode result = happened ? settle.result().fill(scope).value() : Json.object();
            List<String> violations = happened ? Schemas.violations(tool.answers(), result) : List.of();
            if (!violations.isEmpty()) {
                askPeople(
                        turn,
                        "it happened by the lookup, but its result isn't what the tool declares: "
                                + String.join("; ", violations));
            } else if (happened || settle.repeat()) {
                turn.remember(turn.memory().doubting(null));
                turn.command(new Command.SettleCall(doubt.id(), happened));
                GatedCall.settled(
                        turn,
                        doubt.call(),
                        doubt.answered(),
                        new Settled(doubt.id(), "system", happened, result, "looked up with " + settle.tool()),
                        caller);
            } else {
                askPeople(turn, settle.tool() + " doesn't find it");
            }
        } catch (EvaluationFailed e) {
            askPeople(turn, "looking it up failed: " + e.getMessage());
        }
    }

    private static void askPeople(TransitionBuilder turn, String why) {
        Doubt doubt = Objects.requireNonNull(turn.memory().doubt());
        turn.remember(turn.memory().doubting(null));
        turn.doubtAgain(doubt, doubt.detail() + "; " + why);
    }
}
