package servitor.core.engine;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.engine.EngineStore.Note;
import servitor.core.handbook.Audience;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Edition;
import servitor.core.handbook.House;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.Judge;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunMachine;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.core.run.Situation;
import servitor.core.run.Transition;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.node.ObjectNode;

/** Feeds the run machine within a transaction and keeps everything it says. Safe for use by several threads. */
public final class Engine {
    /** What several runs of a case make of it: the last of these that one of them is in. */
    private static final List<String> PRESSING =
            List.of(CaseState.WAITING.word(), CaseState.WORKING.word(), CaseState.WITH_PEOPLE.word());

    private final PublishedEditions editions;
    private final Stopping stopping;
    private final ChangeStarts starts;
    private final SettledCases settled;

    public Engine(PublishedEditions editions) {
        this.editions = editions;
        this.stopping = new Stopping(this);
        this.starts = new ChangeStarts(this);
        this.settled = new SettledCases(this);
    }

    /** The emergency stops of this engine. */
    public Stopping stopping() {
        return stopping;
    }

    /** A case was changed by people: whoever had it opened hears of its end, and pages start that start on this. */
    public void changed(EngineStore store, String caseId, CaseChange.What what) {
        settled.tell(store, caseId);
        starts.start(store, caseId, what, "");
    }

    /** A case may be done with: whoever had it opened hears of that. */
    void settled(EngineStore store, String caseId) {
        settled.tell(store, caseId);
    }

    PublishedEditions editions() {
        return editions;
    }

    /** Starts the page that a newly opened case of this kind starts, if the current edition has one. */
    public Optional<String> open(EngineStore store, String caseId, String kind) {
        return editions.current()
                .flatMap(
                        edition -> edition.handbook().startedBy(kind).map(page -> start(store, caseId, edition, page)));
    }

    /** Starts a page on a case; gives the run's id. */
    public String start(EngineStore store, String caseId, Edition edition, Runbook page) {
        return start(store, RunState.ready(store.newRunId(), caseId, edition.number(), page));
    }

    String start(EngineStore store, RunState ready) {
        String id = ready.id();
        store.insert(ready.in(store.epoch()));
        feed(store, id, new RunInput.Started());
        return id;
    }

    /** Gives a run one input, and every verdict that follows from it. */
    public void feed(EngineStore store, String run, RunInput input) {
        KeptRun kept = store.run(run).orElseThrow(() -> new IllegalArgumentException("there is no run " + run));
        RunState state = kept.state();
        Edition edition = editions.get(state.edition());
        Situation situation = store.situation(state.caseId());
        Deque<RunInput> inputs = new ArrayDeque<>();
        List<Runnable> started = new ArrayList<>(); // what starts on changes of the case
        List<Runnable> afterwards = new ArrayList<>(); // what concerns other runs, once this one is written
        inputs.add(input);
        while (!inputs.isEmpty()) {
            RunInput next = inputs.poll();
            ModelAllowances.settle(store, edition.handbook(), state, next);
            Transition transition = RunMachine.advance(edition, state, next, situation);
            state = transition.state();
            for (TrailEvent event : transition.happenings()) {
                store.trail(state.caseId(), run, event);
            }
            for (Command command : transition.commands()) {
                if (command instanceof Command.JudgeCall judge) {
                    inputs.add(new RunInput.Judged(judge.id(), judge(store, edition, judge.call(), situation, state)));
                } else if (command instanceof Command.AskModel ask) {
                    Optional<String> spent = ModelAllowances.reserve(store, edition.handbook(), ask, state);
                    if (spent.isPresent()) {
                        inputs.add(new RunInput.ModelFailed(ask.id(), Problem.EXHAUSTED, spent.get(), 0));
                    } else {
                        askModel(store, edition, ask, state);
                    }
                } else if (command instanceof Command.ChangeCase change) {
                    Situation before = situation;
                    store.change(state.caseId(), change.changes());
                    situation = store.situation(state.caseId());
                    RunState by = state;
                    starts.changed(
                            before,
                            situation,
                            (what, named) -> started.add(() -> starts.start(store, by, what, named)));
                } else {
                    if (command instanceof Command.CallTool call && next instanceof RunInput.Judged judged) {
                        Verdict verdict = judged.verdict();
                        store.charge(call.id(), verdict.charges(), verdict.decision() == Decision.ALLOW);
                    }
                    keep(store, edition, command, state, afterwards);
                }
            }
        }
        store.update(kept, state);
        pausing(store, kept.state(), state);
        if (state.status() == RunStatus.FAILED && kept.state().status() != RunStatus.FAILED && state.parent() == null) {
            report(store, state);
        }
        if (state.status().ended()) {
            store.drop(run);
            stopFollowers(store, run, "the run that followed this page has ended");
        }
        boolean handedOver = state.parent() == null
                && !kept.state().status().ended()
                && state.status() != RunStatus.STOPPED
                && CaseState.WITH_PEOPLE.word().equals(state.standing().outcome());
        if (handedOver) {
            RunState by = state;
            if (!store.activeRuns(state.caseId()).isEmpty()) {
                store.report(handedOver(store, state));
            }
            started.add(() -> starts.start(store, by, CaseChange.What.HANDED_OVER, ""));
        }
        afterwards.forEach(Runnable::run);
        showCase(store, state);
        settled.tell(store, state.caseId());
        started.forEach(Runnable::run); // what they make of the case stands
    }

    /** What the state of the case can't say, as others work on it. */
    private static Trouble handedOver(EngineStore store, RunState state) {
        return new Trouble(
                state.id() + "-handed-over",
                Trouble.What.HANDED_OVER,
                state.caseId(),
                state.id(),
                "",
                state.step(),
                "handed-over",
                "It gave the case to people while another page still works on it; the note for staff says why",
                store.now());
    }

    private void pausing(EngineStore store, RunState before, RunState after) {
        Instant since = before.standing().pausedAt();
        if (!before.isPaused() && after.isPaused()) {
            store.hold(after.id());
        } else if (before.isPaused() && !after.isPaused() && !after.status().ended()) {
            store.letGo(after.id(), since == null ? Duration.ZERO : Duration.between(since, store.now()));
            stopping.hold(store, after.id());
        }
    }

    private static void report(EngineStore store, RunState state) {
        RunState.ProblemMet problem = state.problem();
        store.report(new Trouble(
                Trouble.ofFailed(state),
                Trouble.What.FAILED,
                state.caseId(),
                state.id(),
                "",
                state.step(),
                problem == null ? Problem.EXHAUSTED.word() : problem.name(),
                problem == null ? "the page went round and round" : problem.detail(),
                store.now()));
    }

    /** The stricter verdict of the run's edition and the current one: tightening takes effect at once. */
    private Verdict judge(EngineStore store, Edition edition, ProposedCall call, Situation situation, RunState state) {
        Verdict own = Judge.judge(edition.handbook(), call, situation.plainScope(state), store::alone);
        Edition current = editions.current().orElse(edition);
        return current.number() == edition.number()
                ? own
                : Judge.stricter(own, Judge.judge(current.handbook(), call, situation.plainScope(state), store::alone));
    }

    private void keep(EngineStore store, Edition edition, Command command, RunState state, List<Runnable> afterwards) {
        Instant now = store.now();
        if (command instanceof Command.CallTool call) {
            Tool tool = edition.handbook().tool(call.call().tool());
            String desk = store.situation(state.caseId()).view().desk();
            String to = call.call().args().path("to").asString("");
            put(store, Work.of(state, call.id(), call, edition.handbook().connectionOf(tool, desk, to), now), state);
        } else if (command instanceof Command.ReadDocument read) {
            put(store, Work.of(state, read.id(), read, "", now), state);
        } else if (command instanceof Command.SetTimer timer) {
            put(store, Work.of(state, timer.id(), timer, "", timer.at()), state);
        } else if (command instanceof Command.OpenApproval open) {
            openApproval(store, open.request(), state);
        } else if (command instanceof Command.WithdrawApproval withdraw) {
            store.approval(withdraw.id())
                    .filter(approval -> approval.state() == ApprovalState.OPEN)
                    .ifPresent(approval -> store.close(approval, ApprovalState.WITHDRAWN));
        } else if (command instanceof Command.StartPage start) {
            afterwards.add(() -> follow(store, start, state));
        } else if (command instanceof Command.StopPages stop) {
            afterwards.add(() -> stopFollowers(store, state.id(), stop.why()));
        } else if (command instanceof Command.GiveBack back) {
            afterwards.add(() -> feed(store, back.toRun(), back.ended()));
        } else if (command instanceof Command.SettleCall settle) {
            settle(store, settle.id(), settle.happened());
        } else if (command instanceof Command.AwaitCase await) {
            afterwards.add(() -> settled.tell(store, await.caseId()));
        } else if (command instanceof Command.Give give) {
            settled.gave(store, state.caseId(), give.gave());
        } else if (command instanceof Command.NoteForStaff note) {
            store.note(state.caseId(), new Note(note.id(), agentOf(state), Audience.STAFF.word(), false, note.text()));
        } else {
            throw new IllegalStateException(
                    "nobody carries out " + command.getClass().getSimpleName());
        }
    }

    /** A call that was in doubt isn't any more. */
    void settle(EngineStore store, String id, boolean happened) {
        store.settle(id);
        if (happened) {
            store.work(id).ifPresent(work -> ToldNote.write(store, work));
        } else {
            store.refund(id);
        }
    }

    private void put(EngineStore store, Work work, RunState run) {
        boolean stopped = stopping.heldBy(store, work, run).isPresent();
        store.put(stopped && !run.isPaused() ? work.stopped() : work);
    }

    private void follow(EngineStore store, Command.StartPage start, RunState parent) {
        String id = store.newRunId();
        store.insert(RunState.followed(id, parent, start).in(store.epoch()));
        feed(store, id, new RunInput.Started());
    }

    private void stopFollowers(EngineStore store, String parent, String why) {
        for (RunState follower : store.followers(parent)) {
            feed(store, follower.id(), new RunInput.Stopped("servitor", why));
        }
    }

    /** A case stands where its runs stand: in doubt before working before waiting; with none left, as the last left it. */
    void showCase(EngineStore store, RunState fed) {
        List<RunState> active = store.activeRuns(fed.caseId());
        RunState shown = active.stream()
                .filter(run -> run.parent() == null && run.standing().shown() != null)
                .findFirst()
                .or(() -> active.stream()
                        .filter(run -> run.pending() == null || run.pending().kind() != RunState.Pending.Kind.PAGES)
                        .max(Comparator.comparingInt(run -> urgency(run.caseState()))))
                .or(() -> active.stream().findFirst())
                .orElseGet(() -> outermost(store, fed));
        Optional<Stop> stop = stopped(store, active);
        store.show(
                fed.caseId(),
                stop.isPresent() && CaseState.WORKING.is(shown.caseState())
                        ? CaseState.WAITING.word()
                        : shown.caseState(),
                stop.map(Stop::words).orElse(shown.waitingFor()));
    }

    /** The run that a page was followed from first, as it is by now: it may have ended while that page did. */
    static RunState outermost(EngineStore store, RunState fed) {
        String id = fed.parent() == null ? fed.id() : fed.parent().run();
        RunState now = store.run(id).map(KeptRun::state).orElse(fed);
        return now.parent() == null ? now : outermost(store, now);
    }

    /** The stop that holds back what is to be done next for one of these runs. */
    private Optional<Stop> stopped(EngineStore store, List<RunState> active) {
        List<Stop> stops = store.stops();
        return stops.isEmpty()
                ? Optional.empty()
                : active.stream()
                        .filter(run -> run.pending() != null)
                        .flatMap(run -> store.workIn(Work.Stage.STOPPED, run.id()).stream()
                                .filter(work -> work.id().equals(run.pending().id()))
                                .flatMap(work -> stopping.heldBy(stops, work, run).stream()))
                        .findFirst();
    }

    private static int urgency(String caseState) {
        return PRESSING.indexOf(caseState);
    }

    /** Gives something that has come to the runs of a case that wait for it; true when one did. */
    public boolean arrived(EngineStore store, String caseId, String what, String name, TracedValue value) {
        boolean waited = false;
        for (RunState run : store.activeRuns(caseId)) {
            if (run.waitsFor(what, name)) {
                feed(
                        store,
                        run.id(),
                        new RunInput.Arrived(
                                Objects.requireNonNull(run.pending()).id(), value));
                waited = true;
            }
        }
        return waited;
    }

    /** An outside system calls back about the work that the call {@code id} started; true when its run waits for that. */
    public boolean calledBack(EngineStore store, String id) {
        Optional<RunState> waiting = store.work(id)
                .flatMap(work -> store.run(work.run()))
                .map(KeptRun::state)
                .filter(run -> run.waitsForWork(id));
        waiting.ifPresent(run -> feed(
                store,
                run.id(),
                new RunInput.CalledBack(Objects.requireNonNull(run.pending()).id())));
        return waiting.isPresent();
    }

    private String agentOf(RunState state) {
        return TrailEvent.agent(
                editions.get(state.edition()).handbook().page(state.page()).agent());
    }

    private void askModel(EngineStore store, Edition edition, Command.AskModel ask, RunState state) {
        Prompt prompt = ask.prompt();
        store.trail(
                state.caseId(),
                state.id(),
                new TrailEvent(
                        agentOf(state),
                        TrailWord.MODEL_ASKED,
                        state.step(),
                        Json.object()
                                .put("model", prompt.model())
                                .put("layout", prompt.layout())
                                .put("material", store.keep(Json.write(prompt)))));
        House.Model model = edition.handbook().house().models().get(prompt.model());
        put(store, Work.of(state, ask.id(), ask, model == null ? "" : model.connection(), store.now()), state);
    }

    private void openApproval(EngineStore store, ApprovalRequest request, RunState state) {
        Instant now = store.now();
        Set<String> askers = store.situation(state.caseId()).askers();
        boolean nobody = store.eligible(request.of(), ApprovalAnswers.barred(request, askers, Set.of())) == 0;
        boolean lapses = nobody && request.lapsesWhenNobody();
        Instant due = lapses ? now : request.within() == null ? null : now.plus(request.within());
        store.open(
                new KeptApproval(
                        request,
                        state.id(),
                        state.caseId(),
                        ApprovalState.OPEN,
                        now,
                        due,
                        Set.of(),
                        0,
                        1,
                        state.isPaused(),
                        Duration.ZERO),
                request.reminder(now, 0),
                Evidence.of(state, store.situation(state.caseId())));
        if (nobody && !lapses) {
            store.report(new Trouble(
                    "nobody-" + request.id(),
                    Trouble.What.NOBODY,
                    state.caseId(),
                    state.id(),
                    "",
                    request.step(),
                    "nobody",
                    "Nobody of " + String.join(", ", new TreeSet<>(request.of()))
                            + " can answer, not counting who asked"
                            + (request.not().isEmpty() ? "" : " and whom the page leaves out")
                            + ". An admin puts people there with ‘servitor user set’.",
                    now));
        }
        ObjectNode data = Json.object()
                .put("approval", request.id())
                .put("question", request.question())
                .put("shown", request.digest());
        if (due != null) {
            data.put("until", due.toString());
        }
        data.set("of", Json.of(new TreeSet<>(request.of())));
        data.set("sheet", request.sheet());
        store.trail(
                state.caseId(),
                state.id(),
                new TrailEvent(agentOf(state), TrailWord.APPROVAL_OPENED, request.step(), data));
    }
}
