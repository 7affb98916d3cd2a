package servitor.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Template;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Binding;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import servitor.core.json.Outside;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunState.Pending;
import servitor.core.run.RunState.ProblemMet;
import servitor.core.run.RunState.Standing;
import servitor.core.run.RunState.Used;
import servitor.core.run.RunState.WrittenText;
import servitor.core.run.StepProgress.Job;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** One input being taken: the state as it changes, and what is gathered on the way. Lives for a single transition. */
final class TransitionBuilder {
    /** The most characters of everything a run knows together: well within what a row of the database holds, prompts included. */
    static final int MOST_KNOWN = 400_000;

    private final Edition edition;
    private final Runbook page;
    private Situation situation;
    private final List<TrailEvent> happenings = new ArrayList<>();
    private final List<Command> given = new ArrayList<>();
    private final RunState before;
    private final Map<String, TracedValue> saved;
    private final Map<String, Integer> visitsAt;
    private List<WrittenText> written;
    private StepProgress memory;
    private RunStatus status;
    private String at;
    private int visits;
    private int commands;
    private int calls;
    private int tokens;
    private boolean troubled;
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
    private @Nullable String overgrown;

    TransitionBuilder(Edition edition, Runbook page, RunState state, Situation situation) {
        this.edition = edition;
        this.page = page;
        this.before = state;
        this.saved = new LinkedHashMap<>(state.saved());
        this.written = state.written();
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
        Used used = state.used();
        this.visits = used.visits();
        this.commands = used.commands();
        this.calls = used.calls();
        this.tokens = used.tokens();
        this.troubled = used.troubled();
        this.visitsAt = new LinkedHashMap<>(used.at());
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
                new Used(visits, commands, calls, tokens, troubled, visitsAt),
                saved,
                written,
                memory);
    }

    Runbook page() {
        return page;
    }

    Step step() {
        return page.step(at).orElseThrow();
    }

    int visits() {
        return visits;
    }

    @Nullable
    Pending pending() {
        return pending;
    }

    StepProgress memory() {
        return memory;
    }

    void remember(StepProgress now) {
        memory = now;
    }

    Map<String, TracedValue> saved() {
        return saved;
    }

    @Nullable
    ProblemMet problem() {
        return problem;
    }

    List<WrittenText> written() {
        return written;
    }

    /** The agent that this page's calls and drafts are made by. */
    Agent agent() {
        return Objects.requireNonNull(edition.handbook().agents().get(page.agent()));
    }

    /** The agents on whose behalf this page runs because their models had it started, outermost first. */
    List<String> chain() {
        return before.parent() == null ? List.of() : before.parent().chain();
    }

    /** Every name in scope, with where each value came from. */
    Map<String, TracedValue> scope() {
        Map<String, TracedValue> scope = new LinkedHashMap<>(situation.scope(state()));
        scope.putAll(saved);
        return scope;
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

    /**
     * Who is meant: names of groups and desks as they stand, people by {@code person:id}. Null after having taken the
     * way of an {@code invalid} problem, because nobody would be asked.
     */
    @Nullable
    Set<String> people(List<Template> who) {
        Set<String> all = new TreeSet<>();
        for (Template one : who) {
            TracedValue filled = fill(one);
            if (filled == null) {
                return null;
            }
            if (ReviewRule.isUnread(this, filled)) {
                problem(
                        Problem.REFUSED,
                        "whom ‘" + one.text() + "’ names was written by a model, and nobody has approved that");
                return null;
            }
            boolean named = one.asConstant().isPresent();
            List<JsonNode> names = new ArrayList<>();
            if (filled.value().isArray()) {
                filled.value().forEach(names::add);
            } else {
                names.add(filled.value());
            }
            for (JsonNode name : names) {
                String text = name.asString("").strip();
                if (text.isEmpty()) {
                    problem(Problem.INVALID, "‘" + one.text() + "’ names nobody who could be asked");
                    return null;
                }
                all.add(named || isGroup(text) || text.startsWith("person:") ? text : "person:" + text);
            }
        }
        return all;
    }

    private boolean isGroup(String name) {
        return edition.handbook().groups().containsKey(name)
                || edition.handbook().desks().containsKey(name);
    }

    /** The tool whose answer is saved under {@code name}; empty when something else is, or may be. */
    Optional<Tool> answerOf(String name) {
        TracedValue value = saved.get(name);
        if (value == null || !value.origins().equals(Set.of(Origin.LOOKUP))) {
            return Optional.empty();
        }
        List<Verb> savers = page.steps().stream()
                .map(Step::verb)
                .filter(verb -> name.equals(verb.save()))
                .toList();
        Set<String> tools = new TreeSet<>();
        savers.forEach(verb -> tools.add(verb instanceof Verb.Call call ? call.tool() : ""));
        return tools.size() == 1 ? lookup(tools.iterator().next()) : Optional.empty();
    }

    /** A tool whose answer is a record of an outside system: what another page gives is put together by that page. */
    Optional<Tool> lookup(String name) {
        return Optional.ofNullable(edition.handbook().tools().get(name))
                .filter(tool -> !(tool.binding() instanceof Binding.PageTool));
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

    /** What the outside system knows the call {@code id} by. */
    String key(String id) {
        return before.key(id);
    }

    /** The id of the next command of this run: the same for the same history, so that it can serve as a key. */
    String nextId() {
        return before.id() + "-" + ++commands;
    }

    void save(@Nullable String name, TracedValue value) {
        if (name != null) {
            saved.put(name, value);
            if (length(saved) > MOST_KNOWN) {
                saved.remove(name);
                overgrown = name;
            }
        }
    }

    /** Whether there is room for something of this length beside what the run knows already. */
    boolean hasRoomFor(JsonNode more) {
        int found = memory.pursuit() == null
                ? 0
                : memory.pursuit().found().stream()
                        .mapToInt(one -> Outside.length(one.answer().value()))
                        .sum();
        return length(saved) + found + Outside.length(more) <= MOST_KNOWN;
    }

    private static int length(Map<String, TracedValue> values) {
        return values.values().stream()
                .mapToInt(value -> Outside.length(value.value()))
                .sum();
    }

    /** The name of what was too much to be saved, told once; null when there was room for all. */
    @Nullable
    String takeOvergrown() {
        String name = overgrown;
        overgrown = null;
        return name;
    }

    /** Marks {@code text} as written by a machine, and whether a person approved exactly this text. */
    void written(String text, boolean reviewed) {
        written = RunState.writtenWith(written, new WrittenText(text, reviewed, null));
    }

    /** {@code by} wrote {@code text} after a machine's draft, and it was approved. */
    void rewritten(String text, @Nullable String by) {
        written = RunState.writtenWith(written, new WrittenText(text, true, by));
    }

    void countCall() {
        calls++;
    }

    /** A call that was counted turned out not to have happened. */
    void uncountCall() {
        calls--;
    }

    /** Counts what a followed page has used. */
    void countCalls(int used) {
        calls += Math.max(0, used);
    }

    void countTokens(int used) {
        tokens += Math.max(0, used);
    }

    int callsLeft() {
        return before.allowance().calls() - calls;
    }

    int tokensLeft() {
        return before.allowance().tokens() - tokens;
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
        Step step = step();
        log(TrailWord.PROBLEM, Json.object().put("problem", name).put("detail", detail));
        problem = new ProblemMet(name, step.title(), detail);
        if (step.on().containsKey(name)) {
            goTo(step.on().get(name));
        } else if (troubled || page.onTrouble().equals(Step.HAND_OVER)) {
            goTo(Step.HAND_OVER);
            failing = true;
        } else {
            goTo(page.onTrouble());
            troubled = true;
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
        troubled = false;
        overdue = false;
        visitsAt.remove(at);
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
        saved.forEach(
                (name, value) -> note.append("\n• ").append(name).append(": ").append(Plain.words(value.value())));
        command(new Command.NoteForStaff(nextId(), note.toString()));
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
        if (before.parent() != null) {
            command(new Command.GiveBack(
                    before.parent().run(),
                    new RunInput.PageEnded(
                            before.parent().command(),
                            String.valueOf(outcome),
                            why,
                            gives,
                            written,
                            memory.concealed(),
                            calls,
                            tokens)));
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

    /** Takes over the texts a machine wrote elsewhere for this run. */
    void writtenElsewhere(List<WrittenText> texts) {
        texts.forEach(text -> written = RunState.writtenWith(written, text));
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
        visits++;
        memory = memory.pursuing(null).itemsAt(null);
        if (step.atMost() != null) {
            int times = visitsAt.merge(at, 1, Integer::sum);
            if (times > step.atMost()) {
                problem(Problem.EXHAUSTED, "this step may be taken " + step.atMost() + " times, and has been");
                return false;
            }
        }
        log(TrailWord.STEP, Json.object().put("title", step.title()).put("verb", step.word()));
        return true;
    }

    Transition end() {
        return new Transition(state(), happenings, given);
    }
}
