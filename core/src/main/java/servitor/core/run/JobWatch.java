package servitor.core.run;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import servitor.core.expression.EvaluationFailed;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.CalledBack;
import servitor.core.run.RunInput.Judged;
import servitor.core.run.RunInput.TimeUp;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import servitor.core.run.RunInput.ToolInDoubt;
import servitor.core.run.RunState.Pending;
import servitor.core.run.StepProgress.Job;
import servitor.core.shape.Shape;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * Waits for what a call has only started: every now and then, and when the outside system calls back, it is looked how far that
 * is, through the gate like any other call; what calls back says nothing else. In between there is a timer and nothing else. Looks
 * don't count against what a run may call; its time does.
 */
final class JobWatch {
    private JobWatch() {}

    /** The call has been answered, and the work goes on outside. */
    static void begin(TransitionBuilder turn, ProposedCall call, String id, TracedValue answer) {
        Tool.Job job = Objects.requireNonNull(tool(turn, call).job());
        Instant until = turn.situation().now().plus(job.within());
        turn.remember(turn.memory().atWork(new Job(call, id, answer, until)));
        turn.log(
                TrailWord.JOB_STARTED,
                Json.object()
                        .put("tool", call.tool())
                        .put("until", until.toString())
                        .set("answer", answer.value()));
        waitOn(turn);
    }

    private static void waitOn(TransitionBuilder turn) {
        Job work = Objects.requireNonNull(turn.memory().job());
        Tool.Job job = Objects.requireNonNull(tool(turn, work.call()).job());
        Instant next = turn.situation().now().plus(job.every());
        String timer = turn.usage().nextId();
        turn.command(new Command.SetTimer(timer, next.isBefore(work.until()) ? next : work.until()));
        turn.awaitLong(
                new Pending(Pending.Kind.TOOL, timer, work.call(), Set.of(), timer, null, null),
                work.call().tool() + " to be done with its work");
    }

    /** Takes the watch one stage further. */
    static void resume(TransitionBuilder turn, RunInput input, GatedCall.Caller caller) {
        if (input instanceof TimeUp) {
            propose(turn, caller);
        } else if (input instanceof CalledBack) {
            turn.log(
                    TrailWord.CALLED_BACK,
                    Json.object()
                            .put(
                                    "tool",
                                    Objects.requireNonNull(turn.memory().job())
                                            .call()
                                            .tool()));
            propose(turn, caller);
        } else if (input instanceof Judged judged) {
            judged(turn, judged, caller);
        } else if (input instanceof ToolAnswered answered) {
            found(turn, answered.answer(), caller);
        } else if (input instanceof ToolFailed || input instanceof ToolInDoubt) {
            lookAgain(turn, caller);
        }
    }

    private static void propose(TransitionBuilder turn, GatedCall.Caller caller) {
        Job work = Objects.requireNonNull(turn.memory().job());
        Tool.Job job = Objects.requireNonNull(tool(turn, work.call()).job());
        try {
            TracedValue filled = job.inputs().fill(scope(work));
            Map<String, TracedValue> inputs = new LinkedHashMap<>();
            job.inputs().fieldNames().forEach(name -> inputs.put(name, filled.at(List.of(name))));
            ProposedCall look = new ProposedCall(
                    work.call().agent(),
                    job.tool(),
                    inputs,
                    Map.of(),
                    Map.of(),
                    work.call().chain());
            GatedCall.judge(turn, look, Set.of());
        } catch (EvaluationFailed e) {
            end(turn);
            caller.trouble(Problem.INVALID, "it can't be looked how far the work is: " + e.getMessage());
        }
    }

    private static void judged(TransitionBuilder turn, Judged judged, GatedCall.Caller caller) {
        if (judged.verdict().decision() != Decision.ALLOW) {
            end(turn);
            caller.trouble(
                    Problem.REFUSED,
                    "it may not be looked how far the work is: "
                            + judged.verdict().reason());
            return;
        }
        String id = turn.usage().nextId();
        ProposedCall look = turn.awaitedCall();
        turn.await(Pending.Kind.TOOL, id, look, Set.of());
        turn.command(new Command.CallTool(id, look, turn.key(id)));
    }

    private static void found(TransitionBuilder turn, JsonNode answer, GatedCall.Caller caller) {
        Job work = Objects.requireNonNull(turn.memory().job());
        Tool tool = tool(turn, work.call());
        Tool.Job job = Objects.requireNonNull(tool.job());
        Map<String, TracedValue> scope = scope(work);
        JsonNode fit = Shape.ofSchema(tool(turn, turn.awaitedCall()).outputs()).fit(answer);
        scope.put("found", TracedValue.of(fit, Origin.LOOKUP));
        Map<String, JsonNode> plain = new LinkedHashMap<>();
        scope.forEach((name, value) -> plain.put(name, value.value()));
        try {
            if (job.failed() != null && job.failed().holds(plain)) {
                end(turn);
                caller.trouble(Problem.TROUBLE, "the work that " + tool.name() + " started has failed");
            } else if (!job.done().holds(plain)) {
                lookAgain(turn, caller);
            } else {
                JsonNode result = job.result().fill(scope).value();
                List<String> faults = Schemas.violations(tool.outputs(), result);
                end(turn);
                if (faults.isEmpty()) {
                    GatedCall.gave(
                            turn,
                            tool,
                            work.call(),
                            Shape.ofSchema(tool.outputs()).fit(result),
                            caller);
                } else {
                    caller.trouble(
                            Problem.INVALID, "the result isn't what the tool declares: " + String.join("; ", faults));
                }
            }
        } catch (EvaluationFailed e) {
            end(turn);
            caller.trouble(Problem.INVALID, "it can't be told how far the work is: " + e.getMessage());
        }
    }

    private static void lookAgain(TransitionBuilder turn, GatedCall.Caller caller) {
        if (turn.isOverdue()) {
            end(turn);
            caller.trouble(Problem.EXHAUSTED, RunMachine.OUT_OF_TIME + " ran out before the work was done");
        } else if (turn.situation()
                .now()
                .isBefore(Objects.requireNonNull(turn.memory().job()).until())) {
            waitOn(turn);
        } else {
            end(turn);
            caller.trouble(Problem.TIMEOUT, "the work wasn't done in time; what becomes of it isn't known");
        }
    }

    private static void end(TransitionBuilder turn) {
        turn.remember(turn.memory().atWork(null));
    }

    private static Tool tool(TransitionBuilder turn, ProposedCall call) {
        return turn.edition().handbook().tool(call.tool());
    }

    private static Map<String, TracedValue> scope(Job work) {
        Map<String, TracedValue> scope = new LinkedHashMap<>();
        scope.put("args", TracedValue.fields(work.call().inputs()));
        scope.put("answer", work.answer());
        return scope;
    }
}
