package servitor.service.runs;

import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Service;
import servitor.core.approval.ApprovalRequest;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.mandate.Judge;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.origin.Traced;
import servitor.core.prompt.Prompt;
import servitor.core.run.Command;
import servitor.core.run.MoveRule;
import servitor.core.run.RunInput;
import servitor.core.run.RunMachine;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.core.run.Situation;
import servitor.core.run.Transition;
import servitor.core.trail.Happening;
import servitor.service.editions.Editions;
import servitor.service.ledger.Rows.ApprovalRow;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.CommandRow;
import servitor.service.ledger.Rows.NoteRow;
import servitor.service.ledger.Rows.RunRow;
import servitor.service.ledger.Writing;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Feeds the run machine inside the writer's transaction and keeps everything it says. */
@Service
public class Runs {
    /** Kinds of commands that wait to be carried out. */
    public static final String CALL = "call";

    public static final String ASK_MODEL = "ask-model";
    public static final String TIMER = "timer";

    private final Editions editions;

    Runs(Editions editions) {
        this.editions = editions;
    }

    /** Starts the page that a newly opened case starts, if the current edition has one. */
    public Optional<String> start(Writing writing, CaseRow row) {
        return editions.current()
                .flatMap(edition ->
                        edition.handbook().startedBy(row.kind()).map(page -> start(writing, row, edition, page)));
    }

    /** Starts a page by hand on a case that no run is working on. */
    public String startByHand(Writing writing, CaseRow row, String pageName, String by) {
        Edition edition = editions.current().orElseThrow(() -> new RunRefused("No handbook has been published yet."));
        Runbook page = edition.handbook().runbooks().get(pageName);
        if (page == null) {
            throw new RunRefused("There is no page ‘" + pageName + "’. There are: "
                    + String.join(
                            ", ",
                            new java.util.TreeSet<>(
                                    edition.handbook().runbooks().keySet())) + ".");
        }
        if (!page.desk().equals(row.desk())) {
            throw new RunRefused("‘" + page.title() + "’ is a page of the desk ‘" + page.desk()
                    + "’, and the case is at ‘" + row.desk() + "’.");
        }
        if (!page.takes().fields().isEmpty()) {
            throw new RunRefused("‘" + page.title() + "’ takes inputs, so only another page can follow it.");
        }
        if (!active(writing, row.id()).isEmpty()) {
            throw new RunRefused("A run is working on this case already.");
        }
        writing.trail(
                row.id(),
                "",
                new Happening(
                        Happening.person(by),
                        "started-by-hand",
                        "",
                        Json.object().put("page", pageName)));
        return start(writing, row, edition, page);
    }

    private String start(Writing writing, CaseRow row, Edition edition, Runbook page) {
        String id = "R-" + writing.nextRunNumber();
        insert(writing, RunState.ready(id, row.id(), edition.number(), page), "");
        feed(writing, id, new RunInput.Started());
        return id;
    }

    private static void insert(Writing writing, RunState ready, String parent) {
        writing.insertRun(new RunRow(
                ready.id(),
                ready.caseId(),
                ready.edition(),
                ready.page(),
                ready.status().word(),
                "",
                Json.write(ready),
                writing.now(),
                writing.now(),
                1,
                parent));
    }

    /** Gives a run one input, and every verdict that follows from it. */
    public void feed(Writing writing, String runId, RunInput input) {
        RunRow row =
                writing.ledger().run(runId).orElseThrow(() -> new IllegalArgumentException("there is no run " + runId));
        CaseRow caseRow = writing.ledger().findCase(row.caseId()).orElseThrow();
        Edition edition = editions.get(row.edition());
        RunState state = Json.read(row.state(), RunState.class);
        Deque<RunInput> inputs = new ArrayDeque<>();
        List<Runnable> afterwards = new ArrayList<>(); // what concerns other runs, once this one is written
        inputs.add(input);
        while (!inputs.isEmpty()) {
            Situation situation = Situations.of(
                    writing, writing.ledger().findCase(caseRow.id()).orElseThrow());
            Transition transition = RunMachine.advance(edition, state, inputs.poll(), situation);
            state = transition.state();
            for (Happening happening : transition.happenings()) {
                writing.trail(caseRow.id(), runId, happening);
            }
            for (Command command : transition.commands()) {
                if (command instanceof Command.JudgeCall judge) {
                    inputs.add(new RunInput.Judged(judge.id(), judge(edition, judge.call(), situation, state)));
                } else {
                    keep(writing, command, caseRow, state, afterwards);
                }
            }
        }
        writing.updateRun(row, state.status().word(), state.step(), Json.write(state));
        if (state.status().ended()) {
            writing.dropPending(runId);
            stopFollowed(writing, runId, "the run that followed this page has ended");
        }
        afterwards.forEach(Runnable::run);
        showCase(writing, caseRow.id(), state);
    }

    /** The stricter verdict of the run's edition and the current one: tightening takes effect at once. */
    private Verdict judge(Edition edition, ProposedCall call, Situation situation, RunState state) {
        Verdict own = Judge.judge(edition.handbook(), call, situation.plainScope(state));
        Edition current = editions.current().orElse(edition);
        return current.number() == edition.number()
                ? own
                : Judge.stricter(own, Judge.judge(current.handbook(), call, situation.plainScope(state)));
    }

    private void keep(Writing writing, Command command, CaseRow row, RunState state, List<Runnable> afterwards) {
        Instant now = writing.now();
        if (command instanceof Command.CallTool call) {
            writing.insertCommand(pending(call.id(), state.id(), CALL, Json.write(call.call()), now));
        } else if (command instanceof Command.AskModel ask) {
            askModel(writing, ask, row, state);
        } else if (command instanceof Command.SetTimer timer) {
            writing.insertCommand(pending(timer.id(), state.id(), TIMER, "{}", timer.at()));
        } else if (command instanceof Command.OpenApproval open) {
            openApproval(writing, open.request(), row, state);
        } else if (command instanceof Command.WithdrawApproval withdraw) {
            writing.ledger()
                    .approval(withdraw.id())
                    .filter(approval -> approval.state().equals("open"))
                    .ifPresent(approval -> writing.closeApproval(approval, "withdrawn", row.desk()));
        } else if (command instanceof Command.StartPage start) {
            afterwards.add(() -> follow(writing, start, state));
        } else if (command instanceof Command.StopPages stop) {
            afterwards.add(() -> stopFollowed(writing, state.id(), stop.why()));
        } else if (command instanceof Command.GiveBack back) {
            afterwards.add(() -> feed(writing, back.toRun(), back.ended()));
        } else if (command instanceof Command.ChangeCase change) {
            CaseChanges.apply(writing, writing.ledger().findCase(row.id()).orElseThrow(), change.changes());
        } else if (command instanceof Command.NoteForStaff note) {
            writing.insertNote(new NoteRow(note.id(), row.id(), now, agentOf(state), "staff", false, note.text()), row);
        } else {
            throw new IllegalStateException(
                    "nobody carries out " + command.getClass().getSimpleName());
        }
    }

    private void follow(Writing writing, Command.StartPage start, RunState parent) {
        String id = "R-" + writing.nextRunNumber();
        RunState child = RunState.followed(
                id,
                parent.caseId(),
                parent.edition(),
                start.page(),
                new RunState.Parent(parent.id(), start.id()),
                start);
        insert(writing, child, parent.id());
        feed(writing, id, new RunInput.Started());
    }

    private void stopFollowed(Writing writing, String parent, String why) {
        for (RunRow child : writing.ledger().activeUnder(parent)) {
            feed(writing, child.id(), new RunInput.Stopped("servitor", why));
        }
    }

    private static List<RunState> active(Writing writing, String caseId) {
        return writing.ledger().runsOf(caseId).stream()
                .map(run -> Json.read(run.state(), RunState.class))
                .filter(run -> !run.status().ended())
                .toList();
    }

    /** A case stands where its runs stand: in doubt before working before waiting; with none left, as the last left it. */
    private static void showCase(Writing writing, String caseId, RunState fed) {
        CaseRow row = writing.ledger().findCase(caseId).orElseThrow();
        List<RunState> active = active(writing, caseId);
        RunState shown = active.stream()
                .filter(run -> run.parent() == null && run.standing().shown() != null)
                .findFirst()
                .or(() -> active.stream()
                        .filter(run -> run.pending() == null || run.pending().kind() != RunState.Pending.Kind.PAGES)
                        .max(java.util.Comparator.comparingInt(run -> urgency(run.caseState()))))
                .or(() -> active.stream().findFirst())
                .orElse(fed);
        writing.setCaseState(row, shown.caseState(), shown.waitingFor());
    }

    private static int urgency(String caseState) {
        return List.of("waiting", "working", "with-people").indexOf(caseState);
    }

    /** Gives something that has come to the runs of a case that wait for it; true when one did. */
    public boolean arrived(Writing writing, String caseId, String what, String name, Traced value) {
        boolean waited = false;
        for (RunState run : active(writing, caseId)) {
            if (run.waitsFor(what, name)) {
                feed(writing, run.id(), new RunInput.Arrived(run.pending().id(), value));
                waited = true;
            }
        }
        return waited;
    }

    /** Moves a waiting run to another edition, if nothing it stands on differs there. */
    public void move(Writing writing, RunRow row, int edition, String by) {
        RunState state = Json.read(row.state(), RunState.class);
        if (row.edition() == edition) {
            throw new RunRefused("The run is on edition " + edition + " already.");
        }
        if (state.parent() != null) {
            throw new RunRefused("This run's page is followed by another run; move that one once this has ended.");
        }
        if (!writing.ledger().activeUnder(row.id()).isEmpty()) {
            throw new RunRefused(
                    "Pages that this run follows are still being worked on; move it once they have ended.");
        }
        MoveRule.fault(
                        editions.get(row.edition()).handbook(),
                        editions.get(edition).handbook(),
                        state)
                .ifPresent(fault -> {
                    throw new RunRefused("The run can't be moved to edition " + edition + ": " + fault + ".");
                });
        feed(writing, row.id(), new RunInput.Moved(by, edition));
        writing.setEdition(row.id(), edition);
    }

    /**
     * A person says whether a call in doubt happened; the run goes on from there.
     *
     * @param result what the call gave, when it happened
     */
    public void settle(Writing writing, RunRow row, String by, boolean happened, JsonNode result, String reason) {
        RunState state = Json.read(row.state(), RunState.class);
        RunState.Pending pending = state.pending();
        if (state.status() != RunStatus.IN_DOUBT || pending == null || pending.call() == null) {
            throw new RunRefused("Nothing about this run is in doubt; it is "
                    + state.status().word() + ".");
        }
        if (happened) {
            Tool tool = editions.get(row.edition())
                    .handbook()
                    .tools()
                    .get(pending.call().tool());
            List<String> violations = Schemas.violations(tool.outputs(), result);
            if (!violations.isEmpty()) {
                throw new IllegalArgumentException(
                        "‘result’ isn't what ‘" + tool.name() + "’ answers: " + String.join("; ", violations) + ".");
            }
        }
        writing.settle(pending.id());
        feed(writing, row.id(), new RunInput.Settled(pending.id(), by, happened, result, reason));
    }

    private String agentOf(RunState state) {
        return Happening.agent(editions.get(state.edition())
                .handbook()
                .runbooks()
                .get(state.page())
                .agent());
    }

    private static CommandRow pending(String id, String run, String kind, String payload, Instant due) {
        return new CommandRow(id, run, kind, payload, "pending", null, null, 0, due);
    }

    private void askModel(Writing writing, Command.AskModel ask, CaseRow row, RunState state) {
        Prompt prompt = ask.prompt();
        String text = Json.write(prompt);
        String hash = writing.keep(text);
        writing.trail(
                row.id(),
                state.id(),
                new Happening(
                        agentOf(state),
                        "model-asked",
                        state.step(),
                        Json.object()
                                .put("model", prompt.model())
                                .put("layout", prompt.layout())
                                .put("material", hash)));
        writing.insertCommand(pending(ask.id(), state.id(), ASK_MODEL, text, writing.now()));
    }

    private void openApproval(Writing writing, ApprovalRequest request, CaseRow row, RunState state) {
        Instant due = request.within() == null ? null : writing.now().plus(request.within());
        writing.insertApproval(
                new ApprovalRow(
                        request.id(),
                        state.id(),
                        row.id(),
                        Json.write(request),
                        request.digest(),
                        "open",
                        writing.now(),
                        due,
                        null,
                        1,
                        "",
                        Reminders.next(request, writing.now(), 0),
                        0),
                row);
        ObjectNode data = Json.object()
                .put("approval", request.id())
                .put("question", request.question())
                .put("shown", request.digest());
        data.set("of", Json.of(new java.util.TreeSet<>(request.of())));
        data.set("sheet", request.sheet());
        writing.trail(row.id(), state.id(), new Happening(agentOf(state), "approval-opened", request.step(), data));
    }
}
