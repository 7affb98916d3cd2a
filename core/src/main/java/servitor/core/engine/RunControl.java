package servitor.core.engine;

import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.MoveRule;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.core.run.SkipRule;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** What people do to runs by hand. Whoever calls this has checked that they may; what can't be is {@link RunRefused}. */
public final class RunControl {
    private final Engine engine;

    public RunControl(Engine engine) {
        this.engine = engine;
    }

    /** Starts a page on a case that no run is working on; gives the run's id. */
    public String start(EngineStore store, String caseId, String pageName, String by) {
        Edition edition =
                engine.editions().current().orElseThrow(() -> new RunRefused("No handbook has been published yet."));
        Runbook page = edition.handbook().runbooks().get(pageName);
        if (page == null) {
            throw new RunRefused("There is no page ‘" + pageName + "’. There are: "
                    + String.join(
                            ", ", new TreeSet<>(edition.handbook().runbooks().keySet())) + ".");
        }
        String desk = store.situation(caseId).view().desk();
        if (!page.desk().equals(desk)) {
            throw new RunRefused("‘" + page.title() + "’ is a page of the desk ‘" + page.desk()
                    + "’, and the case is at ‘" + desk + "’.");
        }
        if (!page.takes().fields().isEmpty()) {
            throw new RunRefused("‘" + page.title() + "’ takes inputs, so only another page can follow it.");
        }
        if (!store.activeRuns(caseId).isEmpty()) {
            throw new RunRefused("A run is working on this case already.");
        }
        store.trail(
                caseId,
                "",
                new TrailEvent(
                        TrailEvent.person(by),
                        TrailWord.STARTED_BY_HAND,
                        "",
                        Json.object().put("page", pageName)));
        return engine.start(store, caseId, edition, page);
    }

    /** Closes a case that people have in hand, with what went wrong in it; {@code how} is the note of what {@code by} did. */
    public void resolve(EngineStore store, String caseId, String by, EngineStore.Note how) {
        if (!store.activeRuns(caseId).isEmpty()) {
            throw new RunRefused("A run is working on this case; stop it first, or let it finish.");
        }
        if (store.situation(caseId).view().state().equals(CaseState.RESOLVED.word())) {
            throw new RunRefused("This case is resolved already.");
        }
        store.troublesOf(caseId).forEach(trouble -> takeOver(store, trouble.id(), by, "the case was resolved"));
        store.note(caseId, how);
        store.trail(
                caseId,
                "",
                new TrailEvent(
                        how.author(),
                        TrailWord.CASE_RESOLVED,
                        "",
                        Json.object().put("note", how.id()).put("how", how.text())));
        store.show(caseId, CaseState.RESOLVED.word(), null);
        engine.changed(store, caseId, CaseChange.What.RESOLVED);
    }

    /** Whoever asked takes it back: nothing more is done for the case. Not while it isn't known whether something of it has happened. */
    public void withdraw(EngineStore store, String caseId, String by, String why) {
        if (CaseState.DONE.contains(store.situation(caseId).view().state())) {
            throw new RunRefused("This case is done with already.");
        }
        List<RunState> runs = store.activeRuns(caseId);
        if (runs.stream().anyMatch(run -> run.status() == RunStatus.IN_DOUBT)) {
            throw new RunRefused("Something was done for this case of which it isn't known yet whether it happened; "
                    + "the desk looks into it. Write to them what you want instead.");
        }
        runs.stream().filter(run -> run.parent() == null).forEach(run -> stop(store, run.id(), by, "taken back"));
        store.troublesOf(caseId).forEach(trouble -> takeOver(store, trouble.id(), by, "taken back"));
        store.trail(
                caseId,
                "",
                new TrailEvent(
                        TrailEvent.person(by),
                        TrailWord.CASE_WITHDRAWN,
                        "",
                        Json.object().put("why", why)));
        store.show(caseId, CaseState.CLOSED.word(), null);
        engine.settled(store, caseId);
    }

    /** Ends a run and leaves the case to people. */
    public void stop(EngineStore store, String run, String by, String reason) {
        engine.feed(store, run, new RunInput.Stopped(by, reason));
    }

    /** Nothing leaves for a run, and for the pages it follows, until it is resumed. */
    public void pause(EngineStore store, String run, String by, String reason) {
        RunState state = active(store, run);
        if (state.isPaused()) {
            throw new RunRefused(
                    "The run is paused already: " + state.standing().paused() + ".");
        }
        engine.feed(store, run, new RunInput.Paused(by, reason));
        store.followers(run).stream()
                .filter(follower -> !follower.isPaused())
                .forEach(follower -> pause(store, follower.id(), by, reason));
    }

    /** Lets a paused run, and the pages it follows, go on. */
    public void resume(EngineStore store, String run, String by) {
        RunState state = active(store, run);
        if (!state.isPaused()) {
            throw new RunRefused("The run isn't paused.");
        }
        if (state.parent() != null
                && store.run(state.parent().run())
                        .filter(parent -> parent.state().isPaused())
                        .isPresent()) {
            throw new RunRefused("The run that follows this page is paused; resume that one.");
        }
        engine.feed(store, run, new RunInput.Resumed(by));
        store.followers(run).stream().filter(RunState::isPaused).forEach(follower -> resume(store, follower.id(), by));
    }

    /** Tells the agent something that its next steps take into account. */
    public void advise(EngineStore store, String run, String by, String text) {
        active(store, run);
        engine.feed(store, run, new RunInput.Advised(by, text));
    }

    private static RunState active(EngineStore store, String run) {
        RunState state = kept(store, run).state();
        if (state.status().ended()) {
            throw new RunRefused("The run has ended; it is " + state.status().word() + ".");
        }
        return state;
    }

    /** Takes the step once more that a run failed at, or tries work again that was stuck. */
    public void retry(EngineStore store, String id, String by, String reason) {
        Trouble trouble = trouble(store, id);
        switch (trouble.what()) {
            case FAILED -> {
                mayGoOn(store, trouble);
                mended(store, trouble, by, "retried");
                engine.feed(store, trouble.run(), new RunInput.Retried(by, reason));
            }
            case STUCK -> {
                active(store, trouble.run());
                mended(store, trouble, by, "retried");
                log(store, trouble, by, TrailWord.WORK_RETRIED, reason);
                Optional<RunInput> aside = store.setAside(trouble.work());
                if (aside.isPresent()) {
                    engine.feed(store, trouble.run(), aside.get());
                } else {
                    store.free(trouble.work());
                    engine.stopping().hold(store, trouble.run());
                }
            }
            case LATE -> throw new RunRefused("A late answer is nothing to retry; take note of it.");
            case HANDED_OVER ->
                throw new RunRefused("What was handed over is nothing to retry: see to the case, and take note of it.");
            case NOBODY ->
                throw new RunRefused(
                        "Nobody could answer: have an admin put somebody there, and take note of it; the approval still waits.");
            case UNDELIVERED ->
                throw new RunRefused(
                        "The mail was sent and didn't arrive: tell them another way, and take note of it.");
        }
    }

    /**
     * Lets a failed run go on behind the step it failed at.
     *
     * @param result what the call would have given, where later steps read it; null otherwise
     */
    public void skip(EngineStore store, String id, String by, String reason, @Nullable JsonNode result) {
        Trouble trouble = trouble(store, id);
        if (trouble.what() != Trouble.What.FAILED) {
            throw new RunRefused("Only a step that failed can be skipped.");
        }
        mayGoOn(store, trouble);
        RunState state = kept(store, trouble.run()).state();
        SkipRule.fault(engine.editions().get(state.edition()).handbook(), state, result)
                .ifPresent(fault -> {
                    throw new RunRefused(fault);
                });
        mended(store, trouble, by, "skipped");
        engine.feed(store, trouble.run(), new RunInput.Skipped(by, reason, result));
    }

    /** A person takes over what went wrong: nobody is shown it any more. */
    public void takeOver(EngineStore store, String id, String by, String reason) {
        Trouble trouble = trouble(store, id);
        mended(store, trouble, by, "taken over");
        switch (trouble.what()) {
            case FAILED -> engine.feed(store, trouble.run(), new RunInput.GivenUp(by, reason));
            case STUCK -> {
                if (!kept(store, trouble.run()).state().status().ended()) {
                    stop(store, trouble.run(), by, reason);
                }
            }
            case LATE, UNDELIVERED, HANDED_OVER, NOBODY -> log(store, trouble, by, TrailWord.NOTED, reason);
        }
    }

    private static void mayGoOn(EngineStore store, Trouble trouble) {
        if (!store.activeRuns(trouble.caseId()).isEmpty()) {
            throw new RunRefused("Another run is working on this case by now; stop that one first.");
        }
    }

    private static void mended(EngineStore store, Trouble trouble, String by, String how) {
        store.mended(trouble.id(), by, how);
    }

    private static void log(EngineStore store, Trouble trouble, String by, TrailWord what, String reason) {
        store.trail(
                trouble.caseId(),
                trouble.run(),
                new TrailEvent(
                        TrailEvent.person(by),
                        what,
                        trouble.step(),
                        Json.object()
                                .put("trouble", trouble.id())
                                .put("key", trouble.work())
                                .put("reason", reason)));
    }

    private static Trouble trouble(EngineStore store, String id) {
        return store.trouble(id)
                .orElseThrow(() -> new RunRefused("There is no trouble ‘" + id + "’; somebody may have seen to it."));
    }

    /** Moves a waiting run to another edition, if nothing it stands on differs there. */
    public void move(EngineStore store, String run, int edition, String by) {
        RunState state = kept(store, run).state();
        if (state.edition() == edition) {
            throw new RunRefused("The run is on edition " + edition + " already.");
        }
        if (state.parent() != null) {
            throw new RunRefused("This run's page is followed by another run; move that one once this has ended.");
        }
        if (!store.followers(run).isEmpty()) {
            throw new RunRefused(
                    "Pages that this run follows are still being worked on; move it once they have ended.");
        }
        MoveRule.fault(
                        engine.editions().get(state.edition()).handbook(),
                        engine.editions().get(edition).handbook(),
                        state)
                .ifPresent(fault -> {
                    throw new RunRefused("The run can't be moved to edition " + edition + ": " + fault + ".");
                });
        engine.feed(store, run, new RunInput.Moved(by, edition));
    }

    /**
     * A person says whether a call in doubt happened; the run goes on from there.
     *
     * @param result what the call gave, when it happened
     */
    public void settle(EngineStore store, String run, String by, boolean happened, JsonNode result, String reason) {
        RunState state = kept(store, run).state();
        RunState.Pending pending = state.pending();
        if (state.status() != RunStatus.IN_DOUBT || pending == null || pending.call() == null) {
            throw new RunRefused("Nothing about this run is in doubt; it is "
                    + state.status().word() + ".");
        }
        if (happened) {
            Tool tool = Objects.requireNonNull(engine.editions()
                    .get(state.edition())
                    .handbook()
                    .tools()
                    .get(pending.call().tool()));
            fits("result", "answers", tool, tool.answers(), result);
        }
        engine.settle(store, pending.id(), happened);
        engine.feed(store, run, new RunInput.Settled(pending.id(), by, happened, result, reason));
    }

    /** A person says what they did by hand where a call was held in shadow; the run goes on from there. */
    public void doneByHand(EngineStore store, String run, String by, Made made) {
        RunState state = kept(store, run).state();
        RunState.Pending pending = state.pending();
        if (state.status() != RunStatus.HELD || pending == null) {
            throw new RunRefused(
                    "Nothing of this run is held; it is " + state.status().word() + ".");
        }
        ProposedCall call = pending.callOf();
        JsonNode inputs = made.inputs() == null ? call.args() : made.inputs();
        if (!made.nothing()) {
            Tool tool = engine.editions().get(state.edition()).handbook().tool(call.tool());
            fits("inputs", "takes", tool, tool.inputs(), inputs);
            fits("result", "answers", tool, tool.answers(), made.result());
        }
        engine.feed(
                store,
                run,
                new RunInput.DoneByHand(pending.id(), by, made.nothing(), inputs, made.result(), made.reason()));
    }

    /**
     * What somebody did by hand.
     *
     * @param nothing whether they did nothing of the kind
     * @param inputs what they did it with; null for what was proposed
     * @param result what it gave
     */
    public record Made(boolean nothing, @Nullable JsonNode inputs, JsonNode result, String reason) {}

    private static void fits(String part, String does, Tool tool, JsonNode schema, JsonNode value) {
        List<String> violations = Schemas.violations(schema, value);
        if (!violations.isEmpty()) {
            throw new IllegalArgumentException("‘" + part + "’ isn't what ‘" + tool.name() + "’ " + does + ": "
                    + String.join("; ", violations) + ".");
        }
    }

    private static KeptRun kept(EngineStore store, String run) {
        return store.run(run).orElseThrow(() -> new RunRefused("There is no run ‘" + run + "’."));
    }
}
