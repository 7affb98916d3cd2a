package servitor.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Template;
import servitor.core.handbook.Agent;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.WayOfWorking;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunState.Pending;
import servitor.core.run.RunState.ProblemMet;
import servitor.core.run.RunState.Standing;
import servitor.core.run.StepProgress.Job;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** One input being taken: the state as it changes, and what is gathered on the way. Lives for a single transition. */
final class TransitionBuilder {
    private final Edition edition;
    private final Runbook page;
    private Situation situation;
    private final List<TrailEvent> happenings = new ArrayList<>();
    private final List<Command> given = new ArrayList<>();
    private final RunState before;
    private final RunKnowledge known;
    private final RunUsage usage;
    private StepProgress memory;
    private RunStatus status;
    private String at;
    private boolean overdue;
    private boolean failing;
    private @Nullable String paused;
    private @Nullable Instant pausedAt;
    private @Nullable Pending pending;
    private @Nullable ProblemMet problem;
    private @Nullable String outcome;
    private @Nullable String waitingFor;
    private @Nullable String shown;
    private @Nullable String next;

    TransitionBuilder(Edition edition, Runbook page, RunState state, Situation situation) {
        this.edition = edition;
        this.page = page;
        this.before = state;
        this.known = new RunKnowledge(state);
        this.usage = new RunUsage(state);
        this.memory = state.memory();
        Standing standing = state.standing();
        this.status = standing.status();
        this.at = standing.step();
        this.pending = standing.pending();
        this.problem = standing.problem();
        this.outcome = standing.outcome();
        this.waitingFor = standing.waitingFor();
        this.shown = standing.shown();
        this.overdue = standing.overdue();
        this.paused = standing.paused();
        this.pausedAt = standing.pausedAt();
        this.situation = situation;
    }

    Edition edition() {
        return edition;
    }

    Situation situation() {
        return situation;
    }

    /** The state as it is by now. */
    RunState state() {
        return new RunState(
                before.id(),
                before.caseId(),
                before.edition(),
                before.page(),
                before.parent(),
                before.takes(),
                before.allowance(),
                before.epoch(),
                new Standing(status, at, pending, problem, outcome, waitingFor, shown, overdue, paused, pausedAt),
                usage.used(),
                known.saved(),
                known.written(),
                memory,
                before.startedOn());
    }

    Runbook page() {
        return page;
    }

    Step step() {
        return page.step(at).orElseThrow();
    }

    @Nullable
    Pending pending() {
        return pending;
    }

    /** What is waited for, when something is: what an input was sent to has been checked before. */
    Pending awaited() {
        return Objects.requireNonNull(pending, "something is waited for");
    }

    /** The call that is waited for. */
    ProposedCall awaitedCall() {
        return awaited().callOf();
    }

    /** What the run knows: the values it saved, and the texts a machine wrote. */
    RunKnowledge known() {
        return known;
    }

    /** What the run has used of what it may. */
    RunUsage usage() {
        return usage;
    }

    StepProgress memory() {
        return memory;
    }

    void remember(StepProgress now) {
        memory = now;
    }

    @Nullable
    ProblemMet problem() {
        return problem;
    }

    /** Who works here, with the model of the step it is at. */
    Agent agent() {
        Agent agent = Objects.requireNonNull(edition.handbook().agents().get(page.agent()));
        return page.step(at).map(agent::at).orElse(agent);
    }

    /** The agents on whose behalf this page runs because their models had it started, outermost first. */
    List<String> chain() {
        return before.parent() == null ? List.of() : before.parent().chain();
    }

    /** Whether nothing that acts may leave for this run, whoever works its pages. */
    boolean inShadow() {
        return agent().works() == WayOfWorking.SHADOW
                || before.parent() != null
                        && Boolean.TRUE.equals(before.parent().inShadow());
    }

    /** Every name in scope, with where each value came from. */
    Map<String, TracedValue> scope() {
        Map<String, TracedValue> scope = new LinkedHashMap<>(situation.scope(state()));
        scope.computeIfPresent("case", (name, view) -> withMissing(view));
        scope.putAll(known.saved());
        return scope;
    }

    /** The case with the titles of the documents it lacks. */
    private TracedValue withMissing(TracedValue view) {
        Kind kind = edition.handbook().kinds().get(situation.view().kind());
        ObjectNode seen = Json.object();
        view.value().properties().forEach(e -> seen.set(e.getKey(), e.getValue()));
        seen.set(Kind.MISSING, Json.of(kind == null ? List.of() : kind.missingIn(view.value())));
        Map<String, Set<Origin>> echoes = new LinkedHashMap<>(view.echoes());
        echoes.put(Kind.MISSING, Set.of(Origin.HANDBOOK));
        return new TracedValue(seen, view.origins(), echoes, view.machine(), view.found());
    }

    /** Fills a template; null after having taken the way of an {@code invalid} problem. */
    @Nullable
    TracedValue fill(Template template) {
        return fill(template, scope());
    }

    @Nullable
    TracedValue fill(Template template, Map<String, TracedValue> scope) {
        try {
            return template.fill(scope);
        } catch (EvaluationFailed e) {
            problem(Problem.INVALID, String.valueOf(e.getMessage()));
            return null;
        }
    }

    /** Fills a template that people read; what can't be filled is said, not raised. */
    String words(Template template) {
        try {
            JsonNode value = template.fill(scope()).value();
            return value.isString() ? value.stringValue() : Json.write(value);
        } catch (EvaluationFailed e) {
            return "(this text could not be filled in: " + e.getMessage() + ")";
        }
    }

    void log(TrailWord what, JsonNode data) {
        log(TrailEvent.agent(page.agent()), what, data);
    }

    void log(String actor, TrailWord what, JsonNode data) {
        happenings.add(new TrailEvent(actor, what, at, data));
    }

    void command(Command command) {
        given.add(command);
    }

    /** What the outside system knows the call {@code id} by, once it was sent. */
    String key(String id) {
        StepProgress.Sent sent = memory().sent();
        return sent != null && sent.id().equals(id) ? sent.key() : before.key(id);
    }

    /** Makes the key that a call goes out under: its content belongs to it, so that one key never names two of them. */
    String keyFor(String id, ProposedCall call) {
        String key = before.keyFor(id, call);
        remember(memory().sent(new StepProgress.Sent(id, key)));
        return key;
    }

    /** Waits for a command to be carried out. */
    void await(Pending.Kind kind, String id, @Nullable ProposedCall call, Set<String> answered) {
        status = RunStatus.WORKING;
        pending = new Pending(kind, id, call, answered);
        waitingFor = null;
    }

    /** Waits for something that may take long. */
    void awaitLong(Pending wait, String forWhat) {
        status = RunStatus.WAITING;
        pending = wait;
        waitingFor = forWhat;
    }

    /** Waits for people. */
    void awaitPeople(String id, @Nullable ProposedCall call, String forWhat) {
        awaitLong(new Pending(Pending.Kind.APPROVAL, id, call, Set.of()), forWhat);
    }

    /** Goes where the step's {@code go} says, or to the next heading. */
    void goOn() {
        Step step = step();
        Step after = page.after(step);
        goTo(step.go() != null ? step.go() : after != null ? after.address() : Step.HAND_OVER);
    }

    /** Goes the way of an answer; where there is none, on. */
    void goOn(Map<String, String> ways, String answer) {
        if (ways.containsKey(answer)) {
            goTo(ways.get(answer));
        } else {
            goOn();
        }
    }

    void goTo(String address) {
        next = address;
        failing = false;
        status = RunStatus.WORKING;
        pending = null;
        waitingFor = null;
    }

    /** Takes the step's way for a problem that every step can meet. */
    void problem(Problem problem, String detail) {
        problem(problem.word(), detail);
    }

    /** Takes the step's way for a named problem; else the page's way out of trouble, once; else hands over. */
    void problem(String name, String detail) {
        problem(name, detail, "");
    }

    /** The same for a problem of which {@code says} is what whoever asked may be told. */
    void problem(String name, String detail, String says) {
        Step step = step();
        log(TrailWord.PROBLEM, Json.object().put("problem", name).put("detail", detail));
        problem = new ProblemMet(name, step.title(), detail, says);
        if (step.on().containsKey(name)) {
            goTo(step.on().get(name));
        } else if (usage.isTroubled() || page.onTrouble().equals(Step.HAND_OVER)) {
            goTo(Step.HAND_OVER);
            failing = true;
        } else {
            goTo(page.onTrouble());
            usage.troubled(true);
        }
    }

    /** The page has no way on: people take over, and may take the step up again. */
    void fail() {
        failing = true;
    }

    /** What it left is with people, who know of it. */
    void takenOver() {
        status = RunStatus.FINISHED;
    }

    void pause(String why) {
        paused = why;
        pausedAt = situation.now();
    }

    /** Lets a paused run go on; the time that an outside system has for its work stood still meanwhile. */
    void resume() {
        Job job = memory.job();
        if (job != null && pausedAt != null) {
            Duration stood = Duration.between(pausedAt, situation.now());
            remember(memory.atWork(
                    new Job(job.call(), job.id(), job.answer(), job.until().plus(stood))));
        }
        paused = null;
        pausedAt = null;
    }

    /** A run that had ended goes on. */
    void reopen() {
        outcome = null;
        problem = null;
        usage.troubled(false);
        overdue = false;
        usage.forget(at);
        status = RunStatus.WORKING;
    }

    /** Remembers a problem that the step itself has a way for. */
    void noteProblem(Problem met, String detail) {
        noteProblem(met.word(), detail);
    }

    /** Remembers a problem that the step itself has a way for. */
    void noteProblem(String name, String detail) {
        problem = new ProblemMet(name, step().title(), detail);
    }

    String whyInTrouble() {
        return problem == null
                ? "The page hands this over to people."
                : "At ‘" + problem.step() + "’: " + problem.name() + ". " + problem.detail();
    }

    /** Ends the run and gives the case to people, with what is known. */
    void handOver(@Nullable String to, String why) {
        StringBuilder note = new StringBuilder(why.strip());
        known.saved()
                .forEach((name, value) ->
                        note.append("\n• ").append(name).append(": ").append(Plain.words(value.value())));
        command(new Command.NoteForStaff(usage.nextId(), note.toString()));
        log(TrailWord.HANDED_OVER, Json.object().put("why", why).put("to", to == null ? page.desk() : to));
        boolean failed = failing;
        finish(CaseState.WITH_PEOPLE.word(), TrailEvent.agent(page.agent()), why);
        status = failed ? RunStatus.FAILED : status;
    }

    void finish(String left, String actor, String summary) {
        finish(left, actor, summary, TracedValue.of(Json.object(), Origin.HANDBOOK));
    }

    /** Ends the run, and gives back what the page gives. */
    void finish(String left, String actor, String summary, TracedValue gives) {
        outcome = left;
        end(RunStatus.FINISHED);
        giveBack(summary, gives);
        log(actor, TrailWord.RUN_FINISHED, Json.object().put("outcome", left).put("summary", summary));
    }

    void stop(RunInput.Stopped stopped) {
        withdraw(stopped.reason());
        outcome = CaseState.WITH_PEOPLE.word();
        end(RunStatus.STOPPED);
        giveBack(stopped.reason(), TracedValue.of(Json.object(), Origin.HANDBOOK));
        log(
                TrailEvent.person(stopped.by()),
                TrailWord.RUN_STOPPED,
                Json.object().put("reason", stopped.reason()));
    }

    private void giveBack(String why, TracedValue gives) {
        if (before.parent() == null && !gives.value().isEmpty()) {
            command(new Command.Give(new RunInput.Gave(gives, known.written(), memory.concealed())));
        } else if (before.parent() != null) {
            command(new Command.GiveBack(
                    before.parent().run(),
                    new RunInput.PageEnded(
                            before.parent().command(),
                            String.valueOf(outcome),
                            why,
                            gives,
                            known.written(),
                            memory.concealed(),
                            usage.calls(),
                            usage.tokens())));
        }
    }

    /** Takes back what people are asked, because the run won't wait for their answer any more. */
    void withdraw(String why) {
        if (pending != null && pending.kind() == Pending.Kind.APPROVAL) {
            command(new Command.WithdrawApproval(pending.id(), why));
        } else if (pending != null && pending.kind() == Pending.Kind.PAGES) {
            command(new Command.StopPages(why));
        }
    }

    private void end(RunStatus ended) {
        status = ended;
        next = null;
        pending = null;
        waitingFor = null;
        shown = null;
        paused = null;
        pausedAt = null;
    }

    /** A call that may have happened: nothing goes on until a person settles it. */
    void inDoubt(String detail) {
        status = RunStatus.IN_DOUBT;
        waitingFor = "somebody to say whether this happened: " + detail;
        log(TrailWord.IN_DOUBT, Json.object().put("detail", detail));
    }

    /** A call that doesn't leave: nothing goes on until people say what they did. */
    void hold(String id, ProposedCall call, String forWhat) {
        awaitLong(new Pending(Pending.Kind.HAND, id, call, Set.of()), forWhat);
        status = RunStatus.HELD;
    }

    /** A call that couldn't be looked up: nothing goes on until a person settles it. */
    void doubtAgain(StepProgress.Doubt doubt, String detail) {
        pending = new Pending(Pending.Kind.TOOL, doubt.id(), doubt.call(), doubt.answered());
        inDoubt(detail);
    }

    /** The case is seen with these changes from here on. */
    void changed(JsonNode changes) {
        situation = situation.with(changes);
    }

    /** What a followed page has learnt that models mustn't see. */
    void concealedElsewhere(List<Concealed> more) {
        memory = memory.conceals(more);
    }

    /** The state the case is shown in until another is set or the run ends. */
    void show(String state) {
        shown = state;
    }

    void overdue(boolean is) {
        overdue = is;
    }

    boolean isOverdue() {
        return overdue;
    }

    boolean isAwaited(RunInput input) {
        if (pending == null) {
            return false;
        }
        boolean ofItems = memory.items() != null && memory.items().running().containsKey(input.id());
        return pending.id().equals(input.id()) || input.id().equals(pending.timer()) || ofItems;
    }

    /** The address to go to next, taken once; null when the run waits or has ended. */
    @Nullable
    String takeNext() {
        String address = next;
        next = null;
        return address;
    }

    boolean goesOn() {
        return next != null;
    }

    /** Enters a step; false when it has been entered as often as it may be, which is a problem of its own. */
    boolean arrive(Step step) {
        status = RunStatus.WORKING;
        at = step.address();
        memory = memory.pursuing(null).itemsAt(null).reading(null).noted(null);
        if (!usage.enters(step)) {
            problem(Problem.EXHAUSTED, "this step may be taken " + step.atMost() + " times, and has been");
            return false;
        }
        log(TrailWord.STEP, Json.object().put("title", step.title()).put("verb", step.word()));
        return true;
    }

    Transition end() {
        return new Transition(state(), happenings, given);
    }
}
