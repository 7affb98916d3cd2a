package servitor.service.runs;

import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Optional;
import org.springframework.stereotype.Service;
import servitor.core.approval.ApprovalRequest;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.json.Json;
import servitor.core.mandate.Judge;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.prompt.Prompt;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunMachine;
import servitor.core.run.RunState;
import servitor.core.run.Situation;
import servitor.core.run.Transition;
import servitor.core.trail.Happening;
import servitor.service.editions.Editions;
import servitor.service.ledger.Rows.ApprovalRow;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.CommandRow;
import servitor.service.ledger.Rows.NoteRow;
import servitor.service.ledger.Rows.PersonRow;
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

    private final Editions editions;

    Runs(Editions editions) {
        this.editions = editions;
    }

    /** Starts the page that a newly opened case starts, if the current edition has one. */
    public Optional<String> start(Writing writing, CaseRow row) {
        Optional<Edition> edition = editions.current();
        Optional<Runbook> page = edition.flatMap(e -> e.handbook().startedBy(row.kind()));
        if (page.isEmpty()) {
            return Optional.empty();
        }
        String id = "R-" + writing.nextRunNumber();
        RunState ready =
                RunState.ready(id, row.id(), edition.get().number(), page.get().name());
        writing.insertRun(new RunRow(
                id,
                row.id(),
                ready.edition(),
                ready.page(),
                ready.status().word(),
                "",
                Json.write(ready),
                writing.now(),
                writing.now(),
                1));
        feed(writing, id, new RunInput.Started());
        return Optional.of(id);
    }

    /** Gives a run one input, and every verdict that follows from it. */
    public void feed(Writing writing, String runId, RunInput input) {
        RunRow row =
                writing.ledger().run(runId).orElseThrow(() -> new IllegalArgumentException("there is no run " + runId));
        CaseRow caseRow = writing.ledger().findCase(row.caseId()).orElseThrow();
        Situation situation = situation(writing, caseRow);
        Edition edition = editions.get(row.edition());
        RunState state = Json.read(row.state(), RunState.class);
        Deque<RunInput> inputs = new ArrayDeque<>();
        inputs.add(input);
        while (!inputs.isEmpty()) {
            Transition transition = RunMachine.advance(edition, state, inputs.poll(), situation);
            state = transition.state();
            for (Happening happening : transition.happenings()) {
                writing.trail(caseRow.id(), runId, happening);
            }
            for (Command command : transition.commands()) {
                if (command instanceof Command.JudgeCall judge) {
                    inputs.add(new RunInput.Judged(judge.id(), judge(edition, judge.call(), situation, state)));
                } else {
                    keep(writing, command, caseRow, state);
                }
            }
        }
        writing.updateRun(row, state.status().word(), state.step(), Json.write(state));
        CaseRow now = writing.ledger().findCase(caseRow.id()).orElseThrow();
        writing.setCaseState(now, state.caseState(), state.waitingFor());
    }

    /** The stricter verdict of the run's edition and the current one: tightening takes effect at once. */
    private Verdict judge(Edition edition, ProposedCall call, Situation situation, RunState state) {
        Verdict own = Judge.judge(edition.handbook(), call, situation.plainScope(state));
        Edition current = editions.current().orElse(edition);
        return current.number() == edition.number()
                ? own
                : Judge.stricter(own, Judge.judge(current.handbook(), call, situation.plainScope(state)));
    }

    private void keep(Writing writing, Command command, CaseRow row, RunState state) {
        Instant now = writing.now();
        if (command instanceof Command.CallTool call) {
            writing.insertCommand(pending(call.id(), state.id(), CALL, Json.write(call.call()), now));
        } else if (command instanceof Command.AskModel ask) {
            askModel(writing, ask, row, state);
        } else if (command instanceof Command.OpenApproval open) {
            openApproval(writing, open.request(), row, state);
        } else if (command instanceof Command.WithdrawApproval withdraw) {
            writing.ledger()
                    .approval(withdraw.id())
                    .ifPresent(approval -> writing.closeApproval(approval, "withdrawn", row.desk()));
        } else if (command instanceof Command.ChangeCase change) {
            changeCase(writing, writing.ledger().findCase(row.id()).orElseThrow(), change.changes());
        } else if (command instanceof Command.NoteForStaff note) {
            writing.insertNote(new NoteRow(note.id(), row.id(), now, agentOf(state), "staff", false, note.text()), row);
        } else {
            throw new IllegalStateException(
                    "nobody carries out " + command.getClass().getSimpleName());
        }
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
                        1),
                row);
        ObjectNode data = Json.object()
                .put("approval", request.id())
                .put("question", request.question())
                .put("shown", request.digest());
        data.set("of", Json.of(new java.util.TreeSet<>(request.of())));
        data.set("sheet", request.sheet());
        writing.trail(row.id(), state.id(), new Happening(agentOf(state), "approval-opened", request.step(), data));
    }

    private static void changeCase(Writing writing, CaseRow row, JsonNode changes) {
        ObjectNode fields = (ObjectNode) Json.read(row.fields(), JsonNode.class);
        changes.path("fields").properties().forEach(e -> fields.set(e.getKey(), e.getValue()));
        String labels = changes.has("labels") ? Json.write(changes.get("labels")) : row.labels();
        writing.setCaseContent(row, changes.path("priority").asString(row.priority()), labels, Json.write(fields));
    }

    private static Situation situation(Writing writing, CaseRow row) {
        PersonRow person = writing.ledger().person(row.requester()).orElse(null);
        Situation.Requester requester = new Situation.Requester(
                row.requester(),
                person == null ? row.requester() : person.name(),
                person == null ? "" : person.account(),
                writing.ledger().groupsOf(row.requester()),
                row.proof());
        Situation.CaseView view = new Situation.CaseView(
                row.id(),
                row.kind(),
                row.desk(),
                row.subject(),
                row.text(),
                row.language(),
                Json.read(row.fields(), JsonNode.class),
                row.priority(),
                row.state());
        return new Situation(writing.now(), view, requester);
    }
}
