package servitor.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import servitor.core.run.RunInput.Advised;
import servitor.core.run.RunInput.Moved;
import servitor.core.run.RunInput.Paused;
import servitor.core.run.RunInput.Resumed;
import servitor.core.run.RunInput.Started;
import servitor.core.run.RunInput.Stopped;
import servitor.core.run.RunInput.TimeUp;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.node.ObjectNode;

/**
 * The heart: given the edition, a run's state, one thing that happened and the situation, it says what the run is next,
 * what goes on the trail and what is to be done. It does nothing itself, holds nothing, and never throws for anything
 * that comes from outside. Safe for use by several threads.
 */
public final class RunMachine {
    /** How it begins that the time of a page is up. */
    public static final String OUT_OF_TIME = "the page's time";

    /** More steps than this in one run is a loop that leads nowhere. */
    private static final int MOST_VISITS = 300;

    private static final Map<Class<? extends Verb>, VerbHandler<?>> HANDLERS = Map.ofEntries(
            Map.entry(Verb.Call.class, new CallHandler()),
            Map.entry(Verb.Open.class, new OpenHandler()),
            Map.entry(Verb.Assess.class, new AssessHandler()),
            Map.entry(Verb.Read.class, new ReadHandler()),
            Map.entry(Verb.Decide.class, new DecideHandler()),
            Map.entry(Verb.Draft.class, new DraftHandler()),
            Map.entry(Verb.Pursue.class, new PursueHandler()),
            Map.entry(Verb.Approve.class, new ApproveHandler()),
            Map.entry(Verb.Tell.class, new TellHandler()),
            Map.entry(Verb.Set.class, new SetHandler()),
            Map.entry(Verb.Await.class, new AwaitHandler()),
            Map.entry(Verb.Each.class, new EachHandler()),
            Map.entry(Verb.Follow.class, new FollowHandler()),
            Map.entry(Verb.HandOver.class, new HandOverHandler()),
            Map.entry(Verb.Finish.class, new FinishHandler()));

    private RunMachine() {}

    /** The verbs that have a handler. */
    static java.util.Set<Class<? extends Verb>> handled() {
        return HANDLERS.keySet();
    }

    /** Takes one input. An input that nothing waits for changes nothing but leaves a trace on the trail. */
    public static Transition advance(Edition edition, RunState state, RunInput input, Situation situation) {
        Runbook page = edition.handbook().page(state.page());
        TransitionBuilder turn = new TransitionBuilder(edition, page, state, situation);
        if (state.status() == RunStatus.FAILED && Mending.mends(input)) {
            Mending.mend(turn, input);
        } else if (state.status().ended()) {
            late(turn, input, "the run had ended");
        } else if (input instanceof Stopped stopped) {
            turn.stop(stopped);
        } else if (input instanceof Started) {
            start(turn, page);
        } else if (input instanceof Moved moved) {
            turn.log(
                    TrailEvent.person(moved.by()),
                    TrailWord.RUN_MOVED,
                    Json.object().put("from", state.edition()).put("to", moved.edition()));
            return new Transition(
                    turn.end().state().on(moved.edition()),
                    turn.end().happenings(),
                    turn.end().commands());
        } else if (input instanceof Paused pause) {
            turn.pause(pause.reason());
            turn.log(
                    TrailEvent.person(pause.by()),
                    TrailWord.RUN_PAUSED,
                    Json.object().put("reason", pause.reason()));
        } else if (input instanceof Resumed resumed) {
            turn.resume();
            turn.log(TrailEvent.person(resumed.by()), TrailWord.RUN_RESUMED, Json.object());
        } else if (input instanceof Advised advised) {
            turn.remember(turn.memory().advised(new StepProgress.Advice(advised.by(), advised.text())));
            turn.log(
                    TrailEvent.person(advised.by()),
                    TrailWord.AGENT_ADVISED,
                    Json.object().put("text", advised.text()));
        } else if (input instanceof TimeUp time && time.id().startsWith(deadline(state.id()))) {
            outOfTime(turn);
        } else if (!turn.isAwaited(input)) {
            late(turn, input, "nothing waits for it any more");
        } else {
            Step step = page.step(state.step()).orElseThrow();
            resume(handler(step.verb()), turn, step.verb(), input);
            if (turn.isOverdue() && turn.goesOn()) {
                turn.overdue(false);
                turn.problem(Problem.EXHAUSTED, outOfTimeWords(page));
            }
        }
        enterSteps(turn, page);
        return turn.end();
    }

    private static void late(TransitionBuilder turn, RunInput input, String why) {
        if (input instanceof RunInput.PageEnded ended) { // nobody waits for it, but it has used the allowance
            turn.usage().countCalls(ended.calls());
            turn.usage().countTokens(ended.tokens());
        }
        turn.log(
                TrailWord.LATE,
                Json.object().put("what", input.getClass().getSimpleName()).put("note", why));
    }

    private static String deadline(String run) {
        return run + "-deadline";
    }

    private static void start(TransitionBuilder turn, Runbook page) {
        ObjectNode data = Json.object()
                .put("page", page.name())
                .put("title", page.title())
                .put("edition", turn.edition().number());
        Instant end = end(turn);
        turn.log(TrailWord.RUN_STARTED, end == null ? data : data.put("until", end.toString()));
        setDeadline(turn, "");
        turn.goTo(page.steps().get(0).address());
    }

    /** The page's time runs from now; {@code which} tells the deadline from earlier ones of the run. */
    static void setDeadline(TransitionBuilder turn, String which) {
        Instant end = end(turn);
        if (end != null) {
            turn.command(new Command.SetTimer(deadline(turn.state().id()) + which, end));
        }
    }

    /** When the page's time is up if it runs from now; null when it has no end. */
    private static @Nullable Instant end(TransitionBuilder turn) {
        Duration time = turn.page().limits().time();
        return time == null ? null : turn.situation().now().plus(time);
    }

    /** The page's time is up: what is merely waited for is given up, a call under way is awaited first. */
    private static void outOfTime(TransitionBuilder turn) {
        if (turn.state().merelyWaits()) {
            turn.withdraw(OUT_OF_TIME + " ran out");
            turn.problem(Problem.EXHAUSTED, outOfTimeWords(turn.page()));
        } else {
            turn.overdue(true);
        }
    }

    private static String outOfTimeWords(Runbook page) {
        return OUT_OF_TIME + " (" + page.limits().time() + ") has run out";
    }

    /** Enters steps until one of them waits or the run ends. */
    static void enterSteps(TransitionBuilder turn, Runbook page) {
        for (String address = turn.takeNext(); address != null; address = turn.takeNext()) {
            String overgrown = turn.known().takeOvergrown();
            if (overgrown != null) {
                turn.problem(
                        Problem.INVALID,
                        "‘" + overgrown + "’ is too much beside what is known already; it wasn't kept");
                continue;
            }
            turn.remember(turn.memory().atWork(null)); // what was at work for the last step isn't waited for any more
            if (turn.usage().visitsByItself() > MOST_VISITS) {
                turn.fail();
                turn.handOver(null, "The page went round and round: " + MOST_VISITS + " steps without an end.");
                return;
            }
            if (address.equals(Step.HAND_OVER)) {
                turn.handOver(null, turn.whyInTrouble());
            } else if (address.equals(Step.STOP)) {
                turn.finish(CaseState.WITH_PEOPLE.word(), TrailEvent.SYSTEM, "");
            } else {
                Step step = page.step(address).orElseThrow();
                if (turn.arrive(step)) {
                    enter(handler(step.verb()), turn, step.verb());
                }
            }
        }
    }

    private static VerbHandler<?> handler(Verb verb) {
        return Objects.requireNonNull(HANDLERS.get(verb.getClass()));
    }

    @SuppressWarnings("unchecked") // the registry pairs each handler with its own verb
    private static <V extends Verb> void enter(VerbHandler<V> handler, TransitionBuilder turn, Verb verb) {
        handler.enter(turn, (V) verb);
    }

    @SuppressWarnings("unchecked") // as above
    private static <V extends Verb> void resume(
            VerbHandler<V> handler, TransitionBuilder turn, Verb verb, RunInput input) {
        handler.resume(turn, (V) verb, input);
    }
}
