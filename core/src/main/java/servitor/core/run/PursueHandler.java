package servitor.core.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb.Offer;
import servitor.core.handbook.Verb.Plan;
import servitor.core.handbook.Verb.Pursue;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Exchange;
import servitor.core.prompt.Prompt.Offered;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.RunInput.ApprovalClosed;
import servitor.core.run.RunInput.FeedbackGiven;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import servitor.core.run.StepProgress.Found;
import servitor.core.run.StepProgress.Pursuit;
import servitor.core.shape.Answers;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code pursue}: a model works toward the goal in the step's prose. Every call it asks for goes through the gate like
 * any other; what it is refused it is told, with the reason, and three refusals in a row end it.
 */
final class PursueHandler implements VerbHandler<Pursue> {
    private static final int MOST_REFUSALS = 3;
    /** The same call that comes to the same is made so often. */
    private static final int MOST_ALIKE = 3;

    private static final int LONGEST_RESULT = 4_000;
    /** How much of what was tried people are told, in calls, and in characters of what came of each. */
    private static final int MOST_TOLD = 12;

    private static final int LONGEST_TOLD = 200;

    @Override
    public void enter(TransitionBuilder turn, Pursue verb) {
        turn.remember(turn.memory().pursuing(Pursuit.BEGUN));
        if (verb.plan() == Plan.NONE) {
            askOn(turn, verb);
        } else {
            askForPlan(turn, verb);
        }
    }

    private static void askForPlan(TransitionBuilder turn, Pursue verb) {
        if (ModelWork.mayAsk(turn)) {
            ModelWork.ask(
                    turn,
                    layout(turn)
                            .plan(
                                    ModelWork.prose(turn),
                                    ModelWork.facts(turn),
                                    ModelWork.request(turn),
                                    offered(turn, verb)));
        }
    }

    @Override
    public void resume(TransitionBuilder turn, Pursue verb, RunInput input) {
        Pursuit pursuit = Objects.requireNonNull(turn.memory().pursuit());
        boolean planning = verb.plan() != Plan.NONE && pursuit.plan() == null;
        if (input instanceof ModelFailed failed) {
            turn.usage().countModel(failed.tokens(), failed.cost());
            giveUp(turn, failed.problem(), failed.detail());
        } else if (planning && input instanceof ModelCalled called) {
            ModelWork.notAsked(turn, called);
        } else if (input instanceof ModelAnswered answered) {
            turn.usage().countModel(answered.tokens(), answered.cost());
            if (planning) {
                if (PursuitPlan.begin(turn, verb, answered)) {
                    askOn(turn, verb);
                }
            } else {
                reached(turn, verb, answered);
            }
        } else if (input instanceof ModelCalled called) {
            turn.usage().countModel(called.tokens(), called.cost());
            turn.remember(turn.memory().pursuing(pursuit.wants(called.wanted(), called.tokens())));
            goOn(turn, verb);
        } else if (input instanceof ApprovalClosed closed && turn.awaited().call() == null) {
            peopleAnswered(turn, verb, pursuit.wanted(), closed);
        } else if (input instanceof FeedbackGiven said) {
            peopleSaid(turn, verb, pursuit.wanted(), said);
        } else {
            GatedCall.resume(turn, input, caller(turn, verb));
        }
    }

    private static PromptLayout layout(TransitionBuilder turn) {
        return PromptLayout.of(turn.edition().handbook().house(), turn.agent());
    }

    private static void askOn(TransitionBuilder turn, Pursue verb) {
        Pursuit pursuit = Objects.requireNonNull(turn.memory().pursuit());
        if (pursuit.tokens() >= verb.tokens()) {
            giveUp(turn, Problem.EXHAUSTED, "this step may use " + verb.tokens() + " model tokens, and has used them");
        } else if (turn.usage().tokensLeft() <= 0) {
            giveUp(turn, Problem.EXHAUSTED, ModelWork.NO_TOKENS);
        } else {
            ModelWork.ask(
                    turn,
                    layout(turn)
                            .pursue(
                                    ModelWork.prose(turn),
                                    Answers.schema(verb.ends()),
                                    ModelWork.facts(turn),
                                    ModelWork.request(turn),
                                    pursuit.plan(),
                                    andPeople(verb, offered(turn, verb)),
                                    pursuit.exchanges()));
        }
    }

    /** The tools as the model sees them, without the inputs that are fixed. */
    private static List<Offered> offered(TransitionBuilder turn, Pursue verb) {
        List<Offered> offered = new ArrayList<>();
        for (Offer offer : verb.tools()) {
            Tool tool = turn.edition().handbook().tool(offer.tool());
            ObjectNode inputs = (ObjectNode) tool.given().deepCopy();
            Set<String> fixed = offer.fixed().fieldNames();
            ObjectNode properties = (ObjectNode) inputs.path("properties");
            fixed.forEach(properties::remove);
            List<String> required = new ArrayList<>();
            inputs.path("required").forEach(name -> {
                if (!fixed.contains(name.asString())) {
                    required.add(name.asString());
                }
            });
            inputs.set("required", Json.of(required));
            offered.add(new Offered(tool.name(), tool.description(), inputs));
        }
        return offered;
    }

    /** The tools together with the model's ways to people. */
    private static List<Offered> andPeople(Pursue verb, List<Offered> tools) {
        List<Offered> all = new ArrayList<>(tools);
        if (verb.questions() > 0) {
            all.add(PursuitQuestion.offered());
        }
        if (verb.plan() != Plan.NONE) {
            all.add(PursuitPlan.offered(verb));
        }
        return all;
    }

    private static void peopleAnswered(
            TransitionBuilder turn, Pursue verb, List<Wanted> wanted, ApprovalClosed closed) {
        if (wanted.isEmpty()) {
            if (PursuitPlan.approved(turn, closed)) {
                askOn(turn, verb);
            }
        } else if (wanted.get(0).tool().equals(PursuitQuestion.TOOL)) {
            PursuitQuestion.answered(turn, verb, closed);
        } else {
            PursuitPlan.revised(turn, verb, wanted.get(0), closed);
        }
    }

    /** People answered in words of their own: what should be different of a plan, or what an agent asked. */
    private static void peopleSaid(TransitionBuilder turn, Pursue verb, List<Wanted> wanted, FeedbackGiven said) {
        if (wanted.isEmpty()) {
            if (PursuitPlan.wantedOtherwise(turn, said)) {
                askForPlan(turn, verb);
            }
        } else if (wanted.get(0).tool().equals(PursuitQuestion.TOOL)) {
            PursuitQuestion.answeredInWords(turn, verb, said);
        } else {
            PursuitPlan.otherwise(turn, verb, said);
        }
    }

    private static void reached(TransitionBuilder turn, Pursue verb, ModelAnswered answered) {
        TracedValue answer =
                TracedValue.answered(Answers.shape(verb.ends()).fit(answered.answer()), Answers.shape(verb.ends()));
        ModelWork.mark(turn, answer);
        turn.log(TrailWord.PURSUED, ModelWork.record(answered).set("answer", answer.value()));
        // models that were asked before there was such a field say nothing of it
        if (answer.value().path(Pursue.DONE).isBoolean()
                && !answer.value().path(Pursue.DONE).booleanValue()) {
            giveUp(
                    turn,
                    Problem.NOT_DONE,
                    answered.answer().path("reason").asString("the model says that it isn’t done"));
            return;
        }
        Optional<String> nothing = triedInVain(turn);
        if (nothing.isPresent()) {
            giveUp(turn, Problem.REFUSED, "the model says that it is done, and nothing it tried was: " + nothing.get());
            return;
        }
        turn.known().save(verb.save(), answer);
        turn.goOn();
    }

    /** What the model wanted to change, when nothing of that has happened; empty when something has, or it only looked. */
    private static Optional<String> triedInVain(TransitionBuilder turn) {
        Pursuit pursuit = Objects.requireNonNull(turn.memory().pursuit());
        List<String> tried = pursuit.exchanges().stream()
                .filter(one -> acts(turn, one.wanted().tool()))
                .map(one -> one.wanted().tool() + ", " + one.result())
                .distinct()
                .toList();
        boolean done = pursuit.found().stream().anyMatch(found -> acts(turn, found.tool()));
        return tried.isEmpty() || done ? Optional.empty() : Optional.of(String.join("; ", tried));
    }

    private static boolean acts(TransitionBuilder turn, String tool) {
        return Optional.ofNullable(turn.edition().handbook().tools().get(tool))
                .filter(one -> one.effect().acts())
                .isPresent();
    }

    /** Whether the call has come to the same before, again and again. */
    private static boolean goesRound(Pursuit pursuit, Wanted wanted) {
        List<String> results = pursuit.exchanges().stream()
                .filter(one -> one.wanted().tool().equals(wanted.tool())
                        && one.wanted().args().equals(wanted.args()))
                .map(Exchange::result)
                .toList();
        return results.size() >= MOST_ALIKE && results.stream().distinct().count() == 1;
    }

    /** The next call the model wants, or the model again. */
    private static void goOn(TransitionBuilder turn, Pursue verb) {
        Pursuit pursuit = Objects.requireNonNull(turn.memory().pursuit());
        if (pursuit.refusals() >= MOST_REFUSALS) {
            giveUp(
                    turn,
                    Problem.REFUSED,
                    MOST_REFUSALS + " calls in a row were refused; the last: "
                            + pursuit.exchanges()
                                    .get(pursuit.exchanges().size() - 1)
                                    .result());
        } else if (pursuit.calls() >= verb.calls()) {
            giveUp(turn, Problem.EXHAUSTED, "this step may make " + verb.calls() + " calls, and has made them");
        } else if (pursuit.wanted().isEmpty()) {
            askOn(turn, verb);
        } else if (goesRound(pursuit, pursuit.wanted().get(0))) {
            giveUp(
                    turn,
                    Problem.EXHAUSTED,
                    "the model goes round in circles: it wants ‘"
                            + pursuit.wanted().get(0).tool() + "’ once more, which came to the same " + MOST_ALIKE
                            + " times");
        } else {
            take(turn, verb, pursuit.wanted().get(0));
        }
    }

    /** Does what a model wants next, if it may. */
    static void take(TransitionBuilder turn, Pursue verb, Wanted wanted) {
        if (wanted.tool().equals(PursuitQuestion.TOOL) && verb.questions() > 0) {
            PursuitQuestion.ask(turn, verb, wanted);
        } else if (wanted.tool().equals(PursuitPlan.TOOL) && verb.plan() != Plan.NONE) {
            PursuitPlan.revise(turn, verb, wanted);
        } else {
            propose(turn, verb, wanted);
        }
    }

    /** Takes the way of a problem; whoever sees to it reads what was tried. */
    private static void giveUp(TransitionBuilder turn, Problem problem, String detail) {
        Pursuit pursuit = Objects.requireNonNull(turn.memory().pursuit());
        if (!pursuit.exchanges().isEmpty()) {
            String tried = pursuit.exchanges().stream()
                    .limit(MOST_TOLD)
                    .map(PursueHandler::words)
                    .collect(Collectors.joining("\n• ", "\n• ", ""));
            turn.command(
                    new Command.NoteForStaff(turn.usage().nextId(), turn.agent().title() + " tried: " + tried));
        }
        turn.problem(problem, detail);
    }

    private static String words(Exchange one) {
        String args = one.wanted().args().isEmpty()
                ? ""
                : " (" + Plain.words(one.wanted().args()) + ")";
        String result = one.result();
        return one.wanted().tool() + args + ": "
                + (result.length() <= LONGEST_TOLD ? result : result.substring(0, LONGEST_TOLD) + "…");
    }

    private static void propose(TransitionBuilder turn, Pursue verb, Wanted wanted) {
        Optional<Offer> offer = verb.tools().stream()
                .filter(one -> one.tool().equals(wanted.tool()))
                .findFirst();
        GatedCall.Caller caller = caller(turn, verb);
        if (offer.isEmpty()) {
            caller.trouble(Problem.REFUSED, "there is no tool ‘" + wanted.tool() + "’ here");
            return;
        }
        TracedValue fixed = turn.fill(offer.get().fixed());
        if (fixed == null) {
            return;
        }
        Map<String, TracedValue> inputs = new LinkedHashMap<>();
        OriginIndex seen = OriginIndex.by(turn);
        Tool tool = turn.edition().handbook().tool(wanted.tool());
        List<Concealed> concealed = turn.memory().concealed();
        for (var given : wanted.args().properties()) {
            String type = Concealed.typeOf(given.getKey(), schemaOf(tool, given.getKey()));
            JsonNode value = Concealed.of(concealed, given.getValue(), type)
                    .map(Concealed::value)
                    .orElse(given.getValue());
            if (Concealed.holdsHandle(concealed, value)) {
                caller.trouble(
                        Problem.REFUSED, "‘" + given.getKey() + "’ isn't an input that a concealed value may stand in");
                return;
            }
            inputs.put(given.getKey(), seen.trace(value, schemaOf(tool, given.getKey())));
        }
        offer.get().fixed().fieldNames().forEach(name -> inputs.put(name, fixed.at(List.of(name))));
        for (String input : tool.speaks()) {
            TracedValue text = inputs.get(input);
            if (text != null && ReviewRule.isUnread(turn, text)) {
                caller.trouble(Problem.REFUSED, "‘" + input + "’ reaches people, and nobody has approved these words");
                return;
            }
        }
        Map<String, JsonNode> sources = new LinkedHashMap<>();
        Map<String, String> places = new LinkedHashMap<>();
        inputs.forEach((name, input) -> {
            seen.record(input.value(), schemaOf(tool, name)).ifPresent(found -> sources.put(name, found));
            seen.place(input.value(), schemaOf(tool, name)).ifPresent(place -> places.put(name, place));
        });
        ProposedCall call = GatedCall.proposed(turn, tool, inputs, sources, places);
        if (PursuitPlan.covers(turn, verb, tool, call)) {
            GatedCall.propose(
                    turn,
                    verb.confirm().contains(tool.name()) ? call.confirmed("the step has people confirm it") : call,
                    caller);
        }
    }

    static JsonNode schemaOf(Tool tool, String input) {
        return tool.inputs().path("properties").path(input);
    }

    /** What was never sent, or only looked and found nothing, can be done once more under the same line of the plan. */
    private static void giveLineBack(TransitionBuilder turn) {
        Pursuit pursuit = Objects.requireNonNull(turn.memory().pursuit());
        if (pursuit.line() != null) {
            turn.remember(turn.memory().pursuing(pursuit.givesBack()));
        }
    }

    private static GatedCall.Caller caller(TransitionBuilder turn, Pursue verb) {
        return new GatedCall.Caller() {
            @Override
            public void answered(ProposedCall call, TracedValue answer) {
                tell(
                        turn,
                        verb,
                        Json.write(Concealed.hide(turn.memory().concealed(), answer.value())),
                        new Found(call.tool(), answer),
                        false);
            }

            @Override
            public void trouble(String problem, String detail) {
                giveLineBack(turn);
                if (problem.equals(Problem.EXHAUSTED.word())) {
                    giveUp(turn, Problem.EXHAUSTED, detail);
                } else {
                    turn.log(
                            TrailWord.PROBLEM,
                            Json.object().put("problem", problem).put("detail", detail));
                    tell(turn, verb, problem + ": " + detail, null, problem.equals(Problem.REFUSED.word()));
                }
            }
        };
    }

    /** Tells the model what came of the first call it wants, and goes on. */
    static void tell(TransitionBuilder turn, Pursue verb, String result, @Nullable Found answer, boolean refused) {
        String told = result.length() <= LONGEST_RESULT ? result : result.substring(0, LONGEST_RESULT) + "…";
        Found kept = answer != null && turn.known().hasRoomFor(answer.answer().value(), turn.memory()) ? answer : null;
        turn.remember(turn.memory()
                .pursuing(Objects.requireNonNull(turn.memory().pursuit()).told(told, kept, refused)));
        goOn(turn, verb);
    }
}
