package servitor.core.engine;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.random.RandomGenerator;
import servitor.core.engine.Work.Stage;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.CallWords;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.node.ObjectNode;

/**
 * How one process takes work, tells what came of it, and takes up what another left behind. Work is taken with a lease in
 * a transaction of its own, which must be durable before anything leaves the process.
 */
public final class WorkLeases {
    /** A lease that is longer than {@link #LONGEST_CALL}. */
    public static final Duration LEASE = Duration.ofMinutes(3);

    /** How long a call may take at most, whatever its tool allows. */
    public static final Duration LONGEST_CALL = Duration.ofMinutes(2);

    private static final int MOST_TRIES = 12;
    private static final int MOST_BREAKS = 5;
    private static final Duration LONGEST_PAUSE = Duration.ofSeconds(30);
    /** How long an outside system may ask to be left alone. */
    private static final Duration LONGEST_WANTED = Duration.ofMinutes(10);

    private final Engine engine;
    private final String owner;
    private final Duration lease;
    private final Duration longestCall;
    private final RandomGenerator random;

    /**
     * Claims of one process.
     *
     * @param owner names the process; another one never has the same name
     * @param lease how long taken work is believed to be in its hands
     * @param longestCall how long a call may take; shorter than the lease, or work would be taken up again while it is in flight
     * @param random gives the jitter of pauses
     * @throws IllegalArgumentException when a call could outlast the lease
     */
    public WorkLeases(Engine engine, String owner, Duration lease, Duration longestCall, RandomGenerator random) {
        if (lease.compareTo(longestCall) <= 0) {
            throw new IllegalArgumentException("Work is leased for " + lease + ", and a call may take " + longestCall
                    + ": make the lease longer than the longest call, or it is taken up again while it is in flight.");
        }
        this.engine = engine;
        this.owner = owner;
        this.lease = lease;
        this.longestCall = longestCall;
        this.random = random;
    }

    /** Takes what nobody else has taken of {@code due}; what is given back says until when it is ours. */
    public List<Work> take(EngineStore store, List<Work> due) {
        List<Work> taken = new ArrayList<>();
        Instant until = store.now().plus(lease);
        for (Work work : due) {
            if (store.take(work.id(), owner, until)) {
                taken.add(work.taken(owner, until));
                if (work.command() instanceof Command.CallTool call) {
                    RunState run = run(store, work);
                    ObjectNode data = Json.object()
                            .put("tool", call.call().tool())
                            .put("key", work.key())
                            .put("try", work.attempts() + 1);
                    does(run, call.call()).ifPresent(says -> data.put("says", says));
                    store.trail(
                            run.caseId(),
                            run.id(),
                            new TrailEvent(
                                    TrailEvent.agent(call.call().agent()), TrailWord.CALL_SENT, run.step(), data));
                }
            }
        }
        return taken;
    }

    /** What a call changes, in a line; empty for one that only looks. */
    private Optional<String> does(RunState run, ProposedCall call) {
        Handbook handbook = engine.editions().get(run.edition()).handbook();
        Tool tool = handbook.tool(call.tool());
        return tool.effect().acts()
                ? Optional.of(CallWords.of(tool, call, handbook.house().currency()))
                : Optional.empty();
    }

    /**
     * Whether work that has been held for so long may still be sent: a call that begins now must be over before its lease is, as
     * somebody else may take it up or settle it then. How long is measured by a clock that only goes forward, whatever the wall clock does.
     */
    public boolean mayBeSent(Duration held) {
        return held.plus(longestCall).compareTo(lease) <= 0;
    }

    private static RunState run(EngineStore store, Work work) {
        return store.run(work.run()).orElseThrow().state();
    }

    /** Tells what came of work that was taken. What comes after the lease was lost changes nothing. */
    public void settle(EngineStore store, Work work, Outcome outcome) {
        if (outcome instanceof Outcome.WithTranscript with) {
            keep(store, work, with.transcript());
            settle(store, work, with.outcome());
        } else if (outcome instanceof Outcome.TryAgain again) {
            int tries = work.attempts() + 1;
            if (tries < MOST_TRIES) {
                tryAgain(store, work, again, tries);
                return;
            }
            if (finish(store, work, failure(work, again)) && !work.sent() && !again.sent()) {
                store.refund(work.id()); // it provably never left
            }
        } else {
            finish(store, work, ((Outcome.Done) outcome).input());
        }
    }

    /** A talk took place, whoever its result counts for. */
    private static void keep(EngineStore store, Work work, String transcript) {
        RunState run = run(store, work);
        store.trail(
                run.caseId(),
                run.id(),
                new TrailEvent(
                        TrailEvent.SYSTEM,
                        TrailWord.TRANSCRIPT,
                        run.step(),
                        Json.object().put("key", work.key()).put("material", store.keep(transcript))));
    }

    private void tryAgain(EngineStore store, Work work, Outcome.TryAgain again, int tries) {
        Duration pause = pauseAfter(tries);
        Duration wanted = again.after().compareTo(LONGEST_WANTED) > 0 ? LONGEST_WANTED : again.after();
        Instant next = store.now().plus(wanted.compareTo(pause) > 0 ? wanted : pause);
        RunState run = run(store, work);
        if (store.release(work.id(), owner, waiting(store, work, run), next)) {
            if (again.sent()) {
                store.sent(work.id());
            }
            store.trail(
                    run.caseId(),
                    run.id(),
                    new TrailEvent(
                            TrailEvent.SYSTEM,
                            TrailWord.TRY_AGAIN,
                            run.step(),
                            Json.object()
                                    .put("problem", again.problem().word())
                                    .put("detail", again.detail())
                                    .put("try", tries)
                                    .put("next", next.toString())));
        }
    }

    private boolean finish(EngineStore store, Work work, RunInput input) {
        Stage stage = input instanceof RunInput.ToolInDoubt ? Stage.IN_DOUBT : Stage.DONE;
        if (!store.release(work.id(), owner, stage, store.now())) {
            late(store, work, input); // somebody else took it over after our lease; their result counts
            return false;
        }
        logAnswer(store, work, input);
        if (input instanceof RunInput.ToolAnswered) {
            ToldNote.write(store, work);
        }
        if (input instanceof RunInput.ToolInDoubt doubt
                && run(store, work).status().ended()) {
            reportLate(store, work, "-doubt", "it may have happened: " + doubt.detail());
        }
        engine.feed(store, work.run(), input);
        return true;
    }

    /** Where work waits that is to be tried again: a run that has ended doesn't want it any more. */
    private Stage waiting(EngineStore store, Work work, RunState run) {
        if (run.status().ended()) {
            return Stage.DROPPED;
        } else if (run.isPaused()) {
            return Stage.HELD;
        }
        return engine.stopping().heldBy(store, work, run).isPresent() ? Stage.STOPPED : Stage.PENDING;
    }

    /** Work that was taken, and that an emergency stop has come for before it left. */
    public void holdBack(EngineStore store, Work work) {
        RunState run = run(store, work);
        if (store.release(work.id(), owner, waiting(store, work, run), store.now())) {
            store.trail(
                    run.caseId(),
                    run.id(),
                    new TrailEvent(
                            TrailEvent.SYSTEM,
                            TrailWord.HELD_BACK,
                            run.step(),
                            Json.object().put("key", work.key())));
            engine.showCase(store, run);
        }
    }

    /**
     * The run couldn't take in what came of its work. What came of it stands, whatever becomes of the run: it is set aside, and
     * people let the run try once more.
     */
    public void setAside(EngineStore store, Work work, Outcome outcome, String detail) {
        if (outcome instanceof Outcome.WithTranscript with) {
            setAside(store, work, with.outcome(), detail);
            return;
        } else if (outcome instanceof Outcome.TryAgain) {
            broke(store, work, detail);
            return;
        }
        RunInput input = ((Outcome.Done) outcome).input();
        Stage stage = input instanceof RunInput.ToolInDoubt ? Stage.IN_DOUBT : Stage.DONE;
        if (store.release(work.id(), owner, stage, store.now())) {
            logAnswer(store, work, input);
            if (input instanceof RunInput.ToolAnswered) {
                ToldNote.write(store, work);
            }
            store.setAside(work.id(), input);
            RunState run = run(store, work);
            store.report(new Trouble(
                    work.id() + "-aside",
                    Trouble.What.STUCK,
                    run.caseId(),
                    run.id(),
                    work.id(),
                    run.step(),
                    "broken",
                    "what was done is done and kept, but the run couldn't go on from it: " + detail,
                    store.now()));
        }
    }

    /** An answer about a call that was in doubt by then: whoever settles it, or has settled it, should know. */
    private void late(EngineStore store, Work work, RunInput input) {
        boolean settled = store.work(work.id())
                .filter(now -> now.stage() == Stage.IN_DOUBT || now.stage() == Stage.DONE)
                .isPresent();
        RunState run = run(store, work);
        if (!settled || mayRepeat(work, run) || input instanceof RunInput.ToolInDoubt) {
            return;
        }
        logAnswer(store, work, input);
        reportLate(
                store,
                work,
                "-late",
                input instanceof RunInput.ToolAnswered answered
                        ? "it did happen, and gave " + Json.write(answered.answer())
                        : "it failed: " + ((RunInput.ToolFailed) input).detail());
    }

    private static void reportLate(EngineStore store, Work work, String id, String detail) {
        RunState run = run(store, work);
        store.report(new Trouble(
                work.id() + id,
                Trouble.What.LATE,
                run.caseId(),
                run.id(),
                work.id(),
                run.step(),
                "late",
                "The run no longer waited for its call of "
                        + ((Command.CallTool) work.command()).call().tool() + "; " + detail,
                store.now()));
    }

    /** Work broke in a way nobody foresaw: it is tried a few times more, unless it may have happened; then people see to it. */
    public void broke(EngineStore store, Work work, String detail) {
        RunState run = run(store, work);
        if (!mayRepeat(work, run)) {
            finish(store, work, new RunInput.ToolInDoubt(work.id(), detail));
        } else if (work.attempts() + 1 < MOST_BREAKS) {
            tryAgain(store, work, new Outcome.TryAgain(Problem.TROUBLE, detail, true), work.attempts() + 1);
        } else if (store.release(work.id(), owner, Stage.STUCK, store.now())) {
            store.report(new Trouble(
                    work.id() + "-stuck",
                    Trouble.What.STUCK,
                    run.caseId(),
                    run.id(),
                    work.id(),
                    run.step(),
                    "broken",
                    detail,
                    store.now()));
        }
    }

    private static void logAnswer(EngineStore store, Work work, RunInput input) {
        RunState run = run(store, work);
        if (input instanceof RunInput.ToolAnswered answered) {
            store.trail(
                    run.caseId(),
                    run.id(),
                    new TrailEvent(
                            TrailEvent.SYSTEM,
                            TrailWord.CALL_ANSWERED,
                            run.step(),
                            Json.object().put("key", work.key()).set("answer", answered.answer())));
        } else if (input instanceof RunInput.ToolFailed failed) {
            store.trail(
                    run.caseId(),
                    run.id(),
                    new TrailEvent(
                            TrailEvent.SYSTEM,
                            TrailWord.CALL_FAILED,
                            run.step(),
                            Json.object()
                                    .put("key", work.key())
                                    .put("problem", failed.problem())
                                    .put("detail", failed.detail())));
        }
    }

    private static RunInput failure(Work work, Outcome.TryAgain again) {
        String detail = again.detail() + " (tried " + MOST_TRIES + " times)";
        return work.command() instanceof Command.AskModel
                ? new RunInput.ModelFailed(work.id(), again.problem(), detail, 0)
                : new RunInput.ToolFailed(work.id(), again.problem(), detail);
    }

    /** Doubles from one second to half a minute, with a fifth of jitter so that many don't come back together. */
    private Duration pauseAfter(int tries) {
        long base = Math.min(LONGEST_PAUSE.toMillis(), 1_000L << Math.min(10, tries - 1));
        return Duration.ofMillis(base + random.nextLong(base / 5));
    }

    /** Takes up work whose taker is gone: repeats what may be repeated, leaves the rest in doubt. */
    public void takeUp(EngineStore store, Work abandoned) {
        String was = String.valueOf(abandoned.owner());
        RunState run = run(store, abandoned);
        if (mayRepeat(abandoned, run)) {
            if (store.release(abandoned.id(), was, waiting(store, abandoned, run), store.now())) {
                store.sent(abandoned.id());
                store.trail(
                        run.caseId(),
                        run.id(),
                        new TrailEvent(
                                TrailEvent.SYSTEM,
                                TrailWord.TAKEN_UP_AGAIN,
                                run.step(),
                                Json.object()
                                        .put("key", abandoned.key())
                                        .put("why", "the service stopped while this was being done")));
            }
        } else if (store.release(abandoned.id(), was, Stage.IN_DOUBT, store.now())) {
            String detail = "the service stopped after this may have been sent";
            if (run.status().ended()) {
                reportLate(store, abandoned, "-doubt", "it may have happened: " + detail);
            }
            engine.feed(store, run.id(), new RunInput.ToolInDoubt(abandoned.id(), detail));
        }
    }

    private boolean mayRepeat(Work work, RunState run) {
        return !(work.command() instanceof Command.CallTool call)
                || engine.editions()
                                .get(run.edition())
                                .handbook()
                                .tool(call.call().tool())
                                .effect()
                        != Effect.ONCE;
    }
}
