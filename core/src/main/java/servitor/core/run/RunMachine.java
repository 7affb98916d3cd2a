package servitor.core.run;

import java.util.Map;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import servitor.core.run.RunInput.Started;
import servitor.core.run.RunInput.Stopped;
import servitor.core.trail.Happening;

/**
 * The heart: given the edition, a run's state, one thing that happened and the situation, it says what the run is next,
 * what goes on the trail and what is to be done. It does nothing itself, holds nothing, and never throws for anything
 * that comes from outside. Safe for use by several threads.
 */
public final class RunMachine {
    /** More steps than this without waiting for anything is a loop that leads nowhere. */
    private static final int MOST_VISITS = 300;

    private static final Map<Class<? extends Verb>, VerbHandler<?>> HANDLERS = Map.of(
            Verb.Call.class, new CallHandler(),
            Verb.Decide.class, new DecideHandler(),
            Verb.Draft.class, new DraftHandler(),
            Verb.Approve.class, new ApproveHandler(),
            Verb.Tell.class, new TellHandler(),
            Verb.Set.class, new SetHandler(),
            Verb.HandOver.class, new HandOverHandler(),
            Verb.Finish.class, new FinishHandler());

    private RunMachine() {}

    /** The verbs that have a handler. */
    static java.util.Set<Class<? extends Verb>> handled() {
        return HANDLERS.keySet();
    }

    /** Takes one input. An input that nothing waits for changes nothing but leaves a trace on the trail. */
    public static Transition advance(Edition edition, RunState state, RunInput input, Situation situation) {
        Runbook page = edition.handbook().runbooks().get(state.page());
        Turn turn = new Turn(edition, page, state, situation);
        if (state.status().ended()) {
            turn.log(
                    "late",
                    Json.object().put("what", input.getClass().getSimpleName()).put("note", "the run had ended"));
        } else if (input instanceof Stopped stopped) {
            turn.stop(stopped);
        } else if (input instanceof Started) {
            start(turn, page);
        } else if (!turn.isAwaited(input)) {
            turn.log(
                    "late",
                    Json.object()
                            .put("what", input.getClass().getSimpleName())
                            .put("note", "nothing waits for it any more"));
        } else {
            Step step = page.step(state.step()).orElseThrow();
            resume(handler(step.verb()), turn, step.verb(), input);
        }
        enterSteps(turn, page);
        return turn.end();
    }

    private static void start(Turn turn, Runbook page) {
        turn.log(
                "run-started",
                Json.object()
                        .put("page", page.name())
                        .put("title", page.title())
                        .put("edition", turn.edition().number()));
        turn.goTo(page.steps().get(0).address());
    }

    /** Enters steps until one of them waits or the run ends. */
    private static void enterSteps(Turn turn, Runbook page) {
        for (String address = turn.takeNext(); address != null; address = turn.takeNext()) {
            if (turn.state().visits() > MOST_VISITS) {
                turn.handOver(null, "The page went round and round: " + MOST_VISITS + " steps without an end.");
                return;
            }
            if (address.equals(Step.HAND_OVER)) {
                turn.handOver(null, turn.whyInTrouble());
            } else if (address.equals(Step.STOP)) {
                turn.finish("with-people", Happening.SYSTEM, "");
            } else {
                Step step = page.step(address).orElseThrow();
                turn.arrive(step);
                enter(handler(step.verb()), turn, step.verb());
            }
        }
    }

    private static VerbHandler<?> handler(Verb verb) {
        return HANDLERS.get(verb.getClass());
    }

    @SuppressWarnings("unchecked") // the registry pairs each handler with its own verb
    private static <V extends Verb> void enter(VerbHandler<V> handler, Turn turn, Verb verb) {
        handler.enter(turn, (V) verb);
    }

    @SuppressWarnings("unchecked") // as above
    private static <V extends Verb> void resume(VerbHandler<V> handler, Turn turn, Verb verb, RunInput input) {
        handler.resume(turn, (V) verb, input);
    }
}
