package servitor.core.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Template;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Traced;
import servitor.core.run.RunState.Pending;
import servitor.core.run.RunState.Problem;
import servitor.core.run.RunState.WrittenText;
import servitor.core.trail.Happening;
import tools.jackson.databind.JsonNode;

/** One input being taken: the state as it changes, and what is gathered on the way. Lives for a single transition. */
final class Turn {
    private final Edition edition;
    private final Runbook page;
    private final Situation situation;
    private final List<Happening> happenings = new ArrayList<>();
    private final List<Command> given = new ArrayList<>();
    private final RunState before;
    private final Map<String, Traced> saved;
    private List<WrittenText> written;
    private RunStatus status;
    private String at;
    private int visits;
    private int commands;
    private int calls;
    private int tokens;
    private boolean troubled;
    private @Nullable Pending pending;
    private @Nullable Problem problem;
    private @Nullable String outcome;
    private @Nullable String waitingFor;
    private @Nullable String next;

    Turn(Edition edition, Runbook page, RunState state, Situation situation) {
        this.edition = edition;
        this.page = page;
        this.before = state;
        this.saved = new LinkedHashMap<>(state.saved());
        this.written = state.written();
        this.status = state.status();
        this.at = state.step();
        this.visits = state.visits();
        this.commands = state.commands();
        this.calls = state.calls();
        this.tokens = state.tokens();
        this.troubled = state.troubled();
        this.pending = state.pending();
        this.problem = state.problem();
        this.outcome = state.outcome();
        this.waitingFor = state.waitingFor();
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
                status,
                at,
                visits,
                commands,
                calls,
                tokens,
                troubled,
                saved,
                written,
                pending,
                problem,
                outcome,
                waitingFor);
    }

    Runbook page() {
        return page;
    }

    Step step() {
        return page.step(at).orElseThrow();
    }

    /** The agent that this page's calls and drafts are made by. */
    Agent agent() {
        return edition.handbook().agents().get(page.agent());
    }

    /** Every name in scope, with where each value came from. */
    Map<String, Traced> scope() {
        Map<String, Traced> scope = new LinkedHashMap<>(situation.scope(state()));
        scope.putAll(saved);
        return scope;
    }

    /** Fills a template; null after having taken the way of an {@code invalid} problem. */
    @Nullable
    Traced fill(Template template) {
        try {
            return template.fill(scope());
        } catch (EvaluationFailed e) {
            problem("invalid", e.getMessage());
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

    void log(String what, JsonNode data) {
        log(Happening.agent(page.agent()), what, data);
    }

    void log(String actor, String what, JsonNode data) {
        happenings.add(new Happening(actor, what, at, data));
    }

    void command(Command command) {
        given.add(command);
    }

    /** The id of the next command of this run: the same for the same history, so that it can serve as a key. */
    String nextId() {
        return before.id() + "-" + ++commands;
    }

    void save(@Nullable String name, Traced value) {
        if (name != null) {
            saved.put(name, value);
        }
    }

    /** Marks {@code text} as written by a machine, and whether a person approved exactly this text. */
    void written(String text, boolean reviewed) {
        written = state().writtenWith(text, reviewed);
    }

    void countCall() {
        calls++;
    }

    void countTokens(int used) {
        tokens += Math.max(0, used);
    }

    /** Waits for a command to be carried out. */
    void await(Pending.Kind kind, String id, @Nullable ProposedCall call, Set<String> answered) {
        status = RunStatus.WORKING;
        pending = new Pending(kind, id, call, answered);
        waitingFor = null;
    }

    /** Waits for people. */
    void awaitPeople(String id, @Nullable ProposedCall call, String waitingFor) {
        status = RunStatus.WAITING;
        pending = new Pending(Pending.Kind.APPROVAL, id, call, Set.of());
        this.waitingFor = waitingFor;
    }

    /** Goes where the step's {@code go} says, or to the next heading. */
    void goOn() {
        Step step = step();
        Step after = page.after(step);
        goTo(step.go() != null ? step.go() : after != null ? after.address() : Step.HAND_OVER);
    }

    void goTo(String address) {
        next = address;
        status = RunStatus.WORKING;
        pending = null;
        waitingFor = null;
    }

    /** Takes the step's way for a named problem; else the page's way out of trouble, once; else hands over. */
    void problem(String name, String detail) {
        Step step = step();
        log("problem", Json.object().put("problem", name).put("detail", detail));
        problem = new Problem(name, step.title(), detail);
        if (step.on().containsKey(name)) {
            goTo(step.on().get(name));
        } else {
            goTo(troubled ? Step.HAND_OVER : page.onTrouble());
            troubled = true;
        }
    }

    /** Remembers a problem that the step itself has a way for. */
    void noteProblem(String name, String detail) {
        problem = new Problem(name, step().title(), detail);
    }

    String whyInTrouble() {
        return problem == null
                ? "The page hands this over to people."
                : "At ‘" + problem.step() + "’: " + problem.name() + ". " + problem.detail();
    }

    /** Ends the run and gives the case to people, with what is known. */
    void handOver(@Nullable String to, String why) {
        StringBuilder note = new StringBuilder(why.strip());
        saved.forEach(
                (name, value) -> note.append("\n• ").append(name).append(": ").append(Plain.words(value.value())));
        command(new Command.NoteForStaff(nextId(), note.toString()));
        log("handed-over", Json.object().put("why", why).put("to", to == null ? page.desk() : to));
        finish("with-people", Happening.agent(page.agent()), why);
    }

    void finish(String outcome, String actor, String summary) {
        this.outcome = outcome;
        end(RunStatus.FINISHED);
        log(actor, "run-finished", Json.object().put("outcome", outcome).put("summary", summary));
    }

    void stop(RunInput.Stopped stopped) {
        if (pending != null && pending.kind() == Pending.Kind.APPROVAL) {
            command(new Command.WithdrawApproval(pending.id(), stopped.reason()));
        }
        outcome = "with-people";
        end(RunStatus.STOPPED);
        log(Happening.person(stopped.by()), "run-stopped", Json.object().put("reason", stopped.reason()));
    }

    private void end(RunStatus ended) {
        status = ended;
        next = null;
        pending = null;
        waitingFor = null;
    }

    /** A call that may have happened: nothing goes on until a person settles it. */
    void inDoubt(String detail) {
        status = RunStatus.IN_DOUBT;
        waitingFor = "somebody to say whether this happened: " + detail;
        log("in-doubt", Json.object().put("detail", detail));
    }

    boolean isAwaited(RunInput input) {
        return pending != null && pending.id().equals(idOf(input));
    }

    private static String idOf(RunInput input) {
        if (input instanceof RunInput.Judged judged) {
            return judged.id();
        } else if (input instanceof RunInput.ToolAnswered answered) {
            return answered.id();
        } else if (input instanceof RunInput.ToolFailed failed) {
            return failed.id();
        } else if (input instanceof RunInput.ToolInDoubt doubt) {
            return doubt.id();
        } else if (input instanceof RunInput.ModelAnswered answered) {
            return answered.id();
        } else if (input instanceof RunInput.ModelFailed failed) {
            return failed.id();
        }
        return input instanceof RunInput.ApprovalClosed closed ? closed.id() : "";
    }

    /** The address to go to next, taken once; null when the run waits or has ended. */
    @Nullable
    String takeNext() {
        String address = next;
        next = null;
        return address;
    }

    void arrive(Step step) {
        status = RunStatus.WORKING;
        at = step.address();
        visits++;
        log(
                "step",
                Json.object()
                        .put("title", step.title())
                        .put("verb", step.verb().getClass().getSimpleName().toLowerCase(Locale.ROOT)));
    }

    Transition end() {
        return new Transition(state(), happenings, given);
    }
}
