package servitor.core.run;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.consent.Consent;
import servitor.core.document.FoundAt;
import servitor.core.expression.Path;
import servitor.core.expression.Template;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Quorum;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import servitor.core.mandate.CallWords;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.origin.Formats;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.ApprovalClosed;
import servitor.core.run.RunInput.DoneByHand;
import servitor.core.run.RunInput.Judged;
import servitor.core.run.RunInput.PageEnded;
import servitor.core.run.RunInput.Settled;
import servitor.core.run.RunInput.ToolAnswered;
import servitor.core.run.RunInput.ToolFailed;
import servitor.core.run.RunInput.ToolInDoubt;
import servitor.core.run.RunState.Pending;
import servitor.core.shape.Shape;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The way of every call, whoever proposes it: proposed, judged, asked about if the verdict says so, judged again after
 * the answer, sent, answered. There is no other way to a tool.
 */
final class GatedCall {
    private static final Duration ASK_WITHIN = Duration.ofDays(2);

    private GatedCall() {}

    /** Who proposed a call, and hears what came of it. */
    interface Caller {
        void answered(ProposedCall call, TracedValue answer);

        /** The call wasn't made, or failed: {@code refused}, {@code declined}, {@code not-found} and so on. */
        void trouble(String problem, String detail);

        /** The same for a problem that every call can meet. */
        default void trouble(Problem problem, String detail) {
            trouble(problem.word(), detail);
        }
    }

    /** The call that a step's tool and inputs make now; empty after the way of a problem was taken. */
    static Optional<ProposedCall> prepare(TransitionBuilder turn, String toolName, Template template) {
        TracedValue filled = turn.fill(template);
        if (filled == null) {
            return Optional.empty();
        }
        Tool tool = turn.edition().handbook().tool(toolName);
        for (String input : tool.speaks()) {
            Optional<String> fault = ReviewRule.fault(
                    turn, template.field(input), filled.value().path(input).asString(""));
            if (fault.isPresent()) {
                turn.problem(Problem.REFUSED, fault.get());
                return Optional.empty();
            }
        }
        Map<String, TracedValue> inputs = new LinkedHashMap<>();
        Map<String, JsonNode> sources = new LinkedHashMap<>();
        Map<String, String> places = new LinkedHashMap<>();
        Map<String, TracedValue> scope = turn.scope();
        for (String name : template.fieldNames()) {
            inputs.put(name, filled.at(List.of(name)));
            template.pathOf(name)
                    .flatMap(path -> record(
                            turn, scope, path, tool.inputs().path("properties").path(name)))
                    .ifPresent(record -> sources.put(name, record));
            template.pathOf(name).ifPresent(path -> places.put(name, path.toString()));
        }
        return Optional.of(proposed(turn, tool, inputs, sources, places));
    }

    /** A call with the inputs that are fixed: whoever proposes it, they are as the handbook says. */
    static ProposedCall proposed(
            TransitionBuilder turn,
            Tool tool,
            Map<String, TracedValue> given,
            Map<String, JsonNode> sources,
            Map<String, String> places) {
        Map<String, TracedValue> inputs = new LinkedHashMap<>(given);
        tool.house().forEach((name, value) -> inputs.put(name, TracedValue.of(value, Origin.HANDBOOK)));
        return new ProposedCall(turn.agent().name(), tool.name(), inputs, sources, places, turn.chain());
    }

    /**
     * The record that a path reads a field of: what a tool answered, or the object inside it that holds the field. Nothing else is
     * a record, and where the input declares what it takes, no other field of one vouches for it.
     */
    private static Optional<JsonNode> record(
            TransitionBuilder turn, Map<String, TracedValue> scope, Path path, JsonNode input) {
        Optional<Tool> from = Lookups.answerOf(turn, path.root());
        if (from.isEmpty() || path.fields().isEmpty()) {
            return Optional.empty();
        }
        Optional<String> wanted = Formats.of(input);
        if (wanted.isPresent() && !wanted.equals(Formats.at(from.get().outputs(), path.fields()))) {
            return Optional.empty();
        }
        TracedValue holder = Objects.requireNonNull(scope.get(path.root()))
                .at(path.fields().subList(0, path.fields().size() - 1));
        return holder == null ? Optional.empty() : Optional.of(holder.value());
    }

    /** Proposes a call; the verdict comes as the next input. */
    static void propose(TransitionBuilder turn, ProposedCall call, Caller caller) {
        if (turn.usage().callsLeft() <= 0) {
            caller.trouble(Problem.EXHAUSTED, "this run may make no more calls");
            return;
        }
        turn.log(TrailWord.CALL_PROPOSED, describe(call));
        judge(turn, call, Set.of());
    }

    static void judge(TransitionBuilder turn, ProposedCall call, Set<String> answered) {
        String id = turn.usage().nextId();
        turn.await(Pending.Kind.VERDICT, id, call, answered);
        turn.command(new Command.JudgeCall(id, call));
    }

    /** Takes the call one stage further. */
    static void resume(TransitionBuilder turn, RunInput input, Caller caller) {
        Pending pending = turn.awaited();
        if (turn.memory().doubt() != null) {
            DoubtLookup.resume(turn, input, caller);
            return;
        }
        if (turn.memory().job() != null) {
            JobWatch.resume(turn, input, caller);
            return;
        }
        ProposedCall call = pending.callOf();
        if (input instanceof Judged judged) {
            judged(turn, call, pending.answered(), judged.verdict(), caller);
        } else if (input instanceof ApprovalClosed closed) {
            approved(turn, call, closed, caller);
        } else if (input instanceof ToolAnswered answer) {
            Tool tool = turn.edition().handbook().tool(call.tool());
            answered(turn, tool, call, answer.answer(), caller);
        } else if (input instanceof PageEnded ended) {
            pageEnded(turn, call, ended, caller);
        } else if (input instanceof ToolFailed failed) {
            caller.trouble(failed.problem(), failed.detail());
        } else if (input instanceof ToolInDoubt doubt) {
            DoubtLookup.begin(turn, doubt.detail());
        } else if (input instanceof DoneByHand done) {
            HeldCall.resume(turn, done, caller);
        } else if (input instanceof Settled settled) {
            settled(turn, call, pending.answered(), settled, caller);
        }
    }

    private static void answered(TransitionBuilder turn, Tool tool, ProposedCall call, JsonNode answer, Caller caller) {
        JsonNode fit = Shape.ofSchema(tool.answers()).fit(answer);
        if (tool.job() != null) {
            JobWatch.begin(
                    turn, call, turn.awaited().id(), TracedValue.answer(fit, call.inputs(), Set.of(), tool.ownWords()));
        } else {
            gave(turn, tool, call, fit, caller);
        }
    }

    /** What a call gave in the end. */
    static void gave(TransitionBuilder turn, Tool tool, ProposedCall call, JsonNode fit, Caller caller) {
        Concealed.remember(turn, tool, fit);
        caller.answered(call, TracedValue.answer(fit, call.inputs(), tool.freeText(), tool.ownWords()));
    }

    private static void judged(
            TransitionBuilder turn, ProposedCall call, Set<String> answered, Verdict verdict, Caller caller) {
        boolean asks = verdict.decision() == Decision.ASK;
        Consent beforehand = turn.memory().approved().get(call.digest());
        boolean settled = asks
                && (answered.containsAll(verdict.of())
                        || beforehand != null
                                && beforehand.covers(
                                        verdict.of(), turn.situation().now()));
        ObjectNode data = Json.object()
                .put("tool", call.tool())
                .put("verdict", verdict.decision().word())
                .put("reason", verdict.reason())
                .put("grant", verdict.grant());
        if (asks) {
            data.set("of", Json.of(new TreeSet<>(verdict.of())));
        }
        if (settled) {
            data.put("settled", "people have approved exactly this call");
            turn.remember(turn.memory().used(call.digest()));
        }
        turn.log(TrailWord.VERDICT, data);
        if (verdict.decision() == Decision.DENY) {
            caller.trouble(Problem.REFUSED, verdict.reason());
        } else if (HeldCall.holds(turn, call)) {
            HeldCall.hold(turn, call, verdict);
        } else if (asks && !settled) {
            ask(turn, call, verdict);
        } else {
            send(turn, call, settled ? verdict.of() : answered);
        }
    }

    /** What happened counts as answered; what didn't is judged and sent once more, as a call of its own. */
    static void settled(
            TransitionBuilder turn, ProposedCall call, Set<String> answered, Settled settled, Caller caller) {
        turn.log(
                settled.by().equals(TrailEvent.SYSTEM) ? TrailEvent.SYSTEM : TrailEvent.person(settled.by()),
                TrailWord.SETTLED,
                Json.object()
                        .put("tool", call.tool())
                        .put("key", turn.key(settled.id()))
                        .put("happened", settled.happened())
                        .put("reason", settled.reason())
                        .set("result", settled.result()));
        if (settled.happened()) {
            Tool tool = turn.edition().handbook().tool(call.tool());
            answered(turn, tool, call, settled.result(), caller);
        } else {
            turn.usage().uncountCall();
            judge(turn, call, answered);
        }
    }

    private static void ask(TransitionBuilder turn, ProposedCall call, Verdict verdict) {
        ObjectNode sheet = sheet(turn, call, verdict.reason());
        ApprovalRequest request = new ApprovalRequest(
                turn.usage().nextId(),
                turn.state().step(),
                "May " + turn.agent().title() + " do this, at ‘" + turn.step().title() + "’?",
                verdict.of(),
                Quorum.ALL,
                Set.of(),
                0,
                sheet,
                ASK_WITHIN,
                List.of());
        turn.command(new Command.OpenApproval(request));
        turn.awaitPeople(request.id(), call, "an answer of " + String.join(" and ", new TreeSet<>(verdict.of())));
    }

    /** What people are shown of a call: everything that will happen, and why they are asked. */
    static ObjectNode sheet(TransitionBuilder turn, ProposedCall call, String why) {
        Tool tool = turn.edition().handbook().tool(call.tool());
        ObjectNode sheet = Json.object();
        sheet.set(
                "call",
                describe(call)
                        .put(
                                "says",
                                CallWords.of(
                                        tool,
                                        call,
                                        turn.edition().handbook().house().currency()))
                        .put("description", tool.description())
                        .put("effect", tool.effect().word())
                        .set("amounts", Json.of(tool.amounts())));
        return sheet.put("currency", turn.edition().handbook().house().currency())
                .put("why", why);
    }

    private static void approved(TransitionBuilder turn, ProposedCall call, ApprovalClosed closed, Caller caller) {
        if (closed.state() == ApprovalState.APPROVED) {
            judge(turn, call, closed.forGroups());
        } else if (closed.state() == ApprovalState.EXPIRED) {
            caller.trouble(Problem.EXPIRED, "nobody answered in time");
        } else {
            caller.trouble(Problem.DECLINED, closed.reason());
        }
    }

    private static void send(TransitionBuilder turn, ProposedCall call, Set<String> answered) {
        String id = turn.usage().nextId();
        turn.usage().countCall();
        if (turn.memory().pursuit() != null
                && turn.edition().handbook().tool(call.tool()).effect().acts()) {
            turn.remember(turn.memory().pursuing(turn.memory().pursuit().sent()));
        }
        if (turn.edition().handbook().tool(call.tool()).binding() instanceof Binding.PageTool tool) {
            startPage(turn, id, tool.page(), call);
            return;
        }
        turn.await(Pending.Kind.TOOL, id, call, answered);
        turn.command(new Command.CallTool(id, call, turn.keyFor(id, call)));
    }

    /** A page as a tool. What a model has started is judged under this page's agent's mandates, too, however deep it goes. */
    private static void startPage(TransitionBuilder turn, String id, String page, ProposedCall call) {
        List<String> chain = new ArrayList<>(turn.chain());
        if (turn.step().verb() instanceof Verb.Pursue) {
            chain.add(turn.agent().name());
        }
        FollowHandler.start(
                turn,
                id,
                page,
                TracedValue.fields(call.inputs()),
                new RunState.Allowance(turn.usage().callsLeft(), turn.usage().tokensLeft()),
                chain);
        turn.awaitLong(
                new Pending(Pending.Kind.PAGES, id, call, Set.of()),
                "the page ‘" + FollowHandler.title(turn, page) + "’");
    }

    private static void pageEnded(TransitionBuilder turn, ProposedCall call, PageEnded ended, Caller caller) {
        if (turn.edition().handbook().tool(call.tool()).binding() instanceof Binding.PageTool tool) {
            FollowHandler.hear(turn, tool.page(), ended);
        }
        if (FollowHandler.endedWell(ended)) {
            caller.answered(call, ended.gives());
        } else {
            caller.trouble(Problem.TROUBLE, "the page ended " + ended.outcome() + ": " + ended.why());
        }
    }

    /** The call as people and the trail see it: tool, inputs, and where each input came from. */
    static ObjectNode describe(ProposedCall call) {
        Map<String, List<String>> origins = new LinkedHashMap<>();
        call.inputs().forEach((name, input) -> origins.put(name, TracedValue.words(input.originsAt(""))));
        ObjectNode node = Json.object().put("tool", call.tool()).put("agent", call.agent());
        node.set("inputs", call.args());
        node.set("origins", Json.of(origins));
        if (!call.places().isEmpty()) {
            node.set("places", Json.of(new TreeMap<>(call.places())));
        }
        Map<String, FoundAt> found = new TreeMap<>();
        call.inputs().forEach((name, input) -> input.foundAt().ifPresent(at -> found.put(name, at)));
        if (!found.isEmpty()) {
            node.set("found", Json.of(found));
        }
        return node;
    }

    /** A step that makes one call, saves what it gave, and goes on. */
    static Caller saving(TransitionBuilder turn, @Nullable String save) {
        return new StepCaller(turn) {
            @Override
            public void answered(ProposedCall call, TracedValue answer) {
                turn.known().save(save, answer);
                turn.goOn();
            }
        };
    }

    /** A step that makes one call and takes its problems' ways. */
    abstract static class StepCaller implements Caller {
        private final TransitionBuilder turn;

        StepCaller(TransitionBuilder turn) {
            this.turn = turn;
        }

        @Override
        public void trouble(String problem, String detail) {
            turn.problem(problem, detail);
        }
    }
}
