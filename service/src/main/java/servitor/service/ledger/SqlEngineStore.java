package servitor.service.ledger;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.EngineStore;
import servitor.core.engine.Evidence;
import servitor.core.engine.KeptApproval;
import servitor.core.engine.Stop;
import servitor.core.engine.Trouble;
import servitor.core.engine.Work;
import servitor.core.json.Json;
import servitor.core.mandate.Charge;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.run.Situation;
import servitor.core.trail.TrailEvent;
import servitor.service.ledger.Rows.AnswerRow;
import servitor.service.ledger.Rows.ApprovalRow;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.NoteRow;
import servitor.service.ledger.Rows.PersonRow;
import servitor.service.ledger.Rows.RelationRow;
import servitor.service.ledger.Rows.RunRow;
import servitor.service.ledger.Rows.StopRow;
import servitor.service.ledger.Rows.WrongRow;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** The engine's books, kept in the database within one of the writer's transactions. */
final class SqlEngineStore implements EngineStore {
    private final LedgerTransaction tx;
    private final Ledger ledger;
    private final WriterCache recent;

    SqlEngineStore(LedgerTransaction tx, WriterCache recent) {
        this.tx = tx;
        this.ledger = tx.ledger();
        this.recent = recent;
    }

    @Override
    public Instant now() {
        return tx.now();
    }

    @Override
    public Optional<KeptRun> run(String id) {
        KeptRun known = recent.run(id);
        return known != null ? Optional.of(known) : ledger.run(id).map(this::read);
    }

    private KeptRun read(RunRow row) {
        KeptRun run = new KeptRun(RowConversion.run(row), row.version());
        recent.put(run, row.state().length());
        return run;
    }

    private RunState state(String run) {
        return run(run).orElseThrow().state();
    }

    @Override
    public List<RunState> activeRuns(String caseId) {
        return ofCase(caseId).active().stream().map(this::state).toList();
    }

    @Override
    public List<RunState> followers(String run) {
        return ledger.runs.activeUnder(run).stream().map(this::state).toList();
    }

    @Override
    public String newRunId() {
        return "R-" + ledger.runs.nextNumber();
    }

    @Override
    public void insert(RunState ready) {
        String written = Json.write(ready);
        ledger.runs.insert(new RunRow(
                ready.id(),
                ready.caseId(),
                ready.edition(),
                ready.page(),
                ready.status().word(),
                "",
                written,
                now(),
                now(),
                1,
                ready.parent() == null ? "" : ready.parent().run()));
        recent.put(new KeptRun(ready, 1), written.length());
        recent.change(ready.caseId(), known -> known.begun(ready.id()));
    }

    @Override
    public void update(KeptRun read, RunState next) {
        String written = Json.write(next);
        LedgerTransaction.fenced(
                ledger.runs.update(
                        next.id(), next.edition(), next.status().word(), next.step(), written, now(), read.version()),
                "run " + next.id());
        recent.put(new KeptRun(next, read.version() + 1), written.length());
        if (next.status().ended()) {
            recent.change(next.caseId(), known -> known.ended(next.id()));
        } else if (read.state().status().ended()) {
            recent.forgetCase(next.caseId()); // it goes on again
        }
    }

    private WriterCache.OfCase ofCase(String id) {
        WriterCache.OfCase known = recent.ofCase(id);
        return known != null ? known : readCase(id);
    }

    private WriterCache.OfCase readCase(String id) {
        CaseRow row = ledger.findCase(id).orElseThrow(() -> new IllegalArgumentException("there is no case " + id));
        PersonRow person = ledger.person(row.requester()).orElse(null);
        Situation.Requester requester = new Situation.Requester(
                row.requester(),
                person == null ? row.requester() : person.name(),
                person == null ? "" : person.account(),
                person == null ? "" : person.manager(),
                ledger.groupsOf(row.requester()),
                row.proof());
        ArrayNode documents = Json.mapper().createArrayNode();
        ledger.documents(row.id())
                .forEach(document -> documents
                        .addObject()
                        .put("name", document.name())
                        .put("type", document.type())
                        .put("size", document.size()));
        WriterCache.OfCase read = new WriterCache.OfCase(row, requester, documents, ledger.runs.activeOf(id));
        recent.put(read);
        return read;
    }

    private CaseRow caseRow(String id) {
        return ofCase(id).row();
    }

    @Override
    public Situation situation(String caseId) {
        WriterCache.OfCase known = ofCase(caseId);
        CaseRow row = known.row();
        Situation.CaseView view = new Situation.CaseView(
                row.id(),
                row.kind(),
                row.desk(),
                row.subject(),
                row.text(),
                row.language(),
                Json.read(row.fields(), JsonNode.class),
                known.documents(),
                Json.read(row.labels(), JsonNode.class),
                row.priority(),
                row.state());
        return new Situation(now(), view, known.requester(), row.openedBy());
    }

    @Override
    public void show(String caseId, String state, @Nullable String waitingFor) {
        CaseRow row = caseRow(caseId);
        if (!row.state().equals(state) || !Objects.equals(row.waitingFor(), waitingFor)) {
            tx.setCaseState(row, state, waitingFor);
        } else {
            tx.changed(new LedgerTransaction.Changed("case", row.id(), row.desk(), row.requester()));
        }
    }

    @Override
    public void change(String caseId, JsonNode changes) {
        CaseRow row = caseRow(caseId);
        ObjectNode fields = (ObjectNode) Json.read(row.fields(), JsonNode.class);
        changes.path("fields").properties().forEach(e -> fields.set(e.getKey(), e.getValue()));
        String labels = changes.path("labels").isArray() ? Json.write(changes.get("labels")) : row.labels();
        tx.setCaseContent(row, changes.path("priority").asString(row.priority()), labels, Json.write(fields));
        changes.path("relations").properties().forEach(e -> {
            if (e.getValue().isString() && !e.getValue().stringValue().isBlank()) {
                tx.relate(new RelationRow(
                        row.id(), shorten(e.getKey()), shorten(e.getValue().stringValue())));
            }
        });
    }

    private static String shorten(String text) {
        return text.length() <= 60 ? text : text.substring(0, 60);
    }

    @Override
    public void note(String caseId, Note note) {
        if (!ledger.hasNote(note.id())) {
            tx.insertNote(
                    new NoteRow(note.id(), caseId, now(), note.author(), note.audience(), note.written(), note.text()),
                    caseRow(caseId));
        }
    }

    @Override
    public void trail(String caseId, String run, TrailEvent event) {
        tx.trail(caseId, run, event);
    }

    @Override
    public String keep(String text) {
        return tx.keep(text);
    }

    @Override
    public BigDecimal alone(String counter) {
        return ledger.alone(counter);
    }

    @Override
    public void charge(String work, List<Charge> charges, boolean alone) {
        for (Charge charge : charges) {
            BigDecimal byAgents = alone ? charge.amount() : BigDecimal.ZERO;
            BigDecimal byPeople = alone ? BigDecimal.ZERO : charge.amount();
            if (ledger.counters.add(charge.counter(), byAgents, byPeople) == 0) {
                ledger.counters.insert(charge.counter(), byAgents, byPeople);
            }
            ledger.counters.charge(work, charge.counter(), charge.amount(), alone);
        }
    }

    @Override
    public void refund(String work) {
        ledger.counters.giveBack(work);
        ledger.counters.deleteCharges(work);
    }

    @Override
    public void sent(String id) {
        ledger.runs.sent(id);
    }

    @Override
    public void put(Work pending) {
        ledger.runs.insertCommand(RowConversion.row(pending));
    }

    @Override
    public boolean take(String id, String owner, Instant until) {
        return ledger.runs.take(id, owner, until) == 1;
    }

    @Override
    public boolean release(String id, String owner, Work.Stage stage, Instant due) {
        return ledger.runs.release(id, owner, stage.word(), due) == 1;
    }

    @Override
    public void settle(String id) {
        LedgerTransaction.fenced(ledger.runs.settle(id), "call " + id);
    }

    @Override
    public Optional<Work> work(String id) {
        return Optional.ofNullable(ledger.runs.findCommand(id)).map(RowConversion::work);
    }

    @Override
    public void hold(String run) {
        ledger.runs.restage(run, Work.Stage.PENDING.word(), Work.Stage.HELD.word());
        stand(run, true, Duration.ZERO);
    }

    @Override
    public void letGo(String run, Duration stood) {
        for (Work work : workIn(Work.Stage.HELD, run)) {
            boolean timer = work.command() instanceof Command.SetTimer;
            ledger.runs.letGo(work.id(), timer ? work.due().plus(stood) : work.due());
        }
        stand(run, false, stood);
    }

    /** The time of a run's open approvals stands still, or goes on after having stood for so long. */
    private void stand(String run, boolean held, Duration stood) {
        for (ApprovalRow row : ledger.approvalsOfRun(run)) {
            if (row.state().equals(ApprovalState.OPEN.word())) {
                Instant due = row.due() == null ? null : row.due().plus(stood);
                Instant remindAt =
                        row.remindAt() == null ? null : row.remindAt().plus(stood);
                ledger.approvals.hold(row.id(), held, row.heldMillis() + stood.toMillis(), due, remindAt);
                changed(RowConversion.approval(row));
            }
        }
    }

    @Override
    public String epoch() {
        return tx.epoch();
    }

    @Override
    public List<Stop> stops() {
        return recent.stops(ledger::stops);
    }

    @Override
    public void stop(Stop stop) {
        ledger.stops.put(new StopRow(stop.what().word(), stop.name(), stop.reason(), stop.by(), stop.at()));
        recent.forgetStops();
        tx.changed(new LedgerTransaction.Changed("stop", stop.name(), "", ""));
    }

    @Override
    public void lift(Stop stop) {
        LedgerTransaction.fenced(ledger.stops.lift(stop.what().word(), stop.name()), "the stop of " + stop.name());
        recent.forgetStops();
        tx.changed(new LedgerTransaction.Changed("stop", stop.name(), "", ""));
    }

    @Override
    public List<Work> workIn(Work.Stage stage, String run) {
        return ledger.runs.commandsIn(stage.word(), run).stream()
                .map(RowConversion::work)
                .toList();
    }

    @Override
    public boolean move(String id, Work.Stage from, Work.Stage to) {
        return ledger.runs.move(id, from.word(), to.word()) == 1;
    }

    @Override
    public void setAside(String work, RunInput input) {
        ledger.runs.setAside(work, RowConversion.text(input));
    }

    @Override
    public Optional<RunInput> setAside(String work) {
        return Optional.ofNullable(ledger.runs.aside(work)).map(RowConversion::input);
    }

    @Override
    public void free(String id) {
        LedgerTransaction.fenced(ledger.runs.free(id, now()), "work " + id);
    }

    @Override
    public void report(Trouble trouble) {
        ledger.wrong.insert(new WrongRow(
                trouble.id(),
                trouble.what().word(),
                trouble.caseId(),
                trouble.run(),
                trouble.work(),
                trouble.step(),
                trouble.problem(),
                trouble.detail(),
                trouble.at(),
                "",
                "",
                null));
        tell(trouble.caseId());
    }

    @Override
    public Optional<Trouble> trouble(String id) {
        return ledger.wentWrongAs(id).map(RowConversion::trouble);
    }

    @Override
    public List<Trouble> troublesOf(String caseId) {
        return ledger.wrong.openOfCase(caseId).stream()
                .map(RowConversion::trouble)
                .toList();
    }

    @Override
    public void mended(String trouble, String by, String how) {
        LedgerTransaction.fenced(ledger.wrong.seen(trouble, by, how, now()), "trouble " + trouble);
    }

    private void tell(String caseId) {
        CaseRow row = caseRow(caseId);
        tx.changed(new LedgerTransaction.Changed("case", row.id(), row.desk(), row.requester()));
    }

    @Override
    public void drop(String run) {
        ledger.runs.dropPending(run);
    }

    @Override
    public Optional<KeptApproval> approval(String id) {
        return ledger.approval(id).map(RowConversion::approval);
    }

    @Override
    public void open(KeptApproval approval, @Nullable Instant remindAt, Evidence evidence) {
        tx.insertApproval(
                new ApprovalRow(
                        approval.id(),
                        approval.run(),
                        approval.caseId(),
                        Json.write(approval.request()),
                        approval.request().digest(),
                        approval.state().word(),
                        approval.opened(),
                        approval.due(),
                        null,
                        approval.version(),
                        "",
                        remindAt,
                        0,
                        approval.held(),
                        0),
                approval.request().of(),
                caseRow(approval.caseId()));
        ledger.approvals.insertEvidence(approval.id(), Json.write(evidence));
    }

    @Override
    public void close(KeptApproval read, ApprovalState state) {
        Instant closed = state == ApprovalState.OPEN ? null : now();
        LedgerTransaction.fenced(
                ledger.approvals.close(read.id(), state.word(), closed, read.version()), "approval " + read.id());
        changed(read);
    }

    @Override
    public void showAnew(KeptApproval read, ApprovalRequest changed, Set<String> authors) {
        LedgerTransaction.fenced(
                ledger.approvals.showAnew(
                        read.id(), Json.write(changed), changed.digest(), String.join(" ", authors), read.version()),
                "approval " + read.id());
        ledger.approvals.forgetAnswers(read.id());
        changed(read);
    }

    @Override
    public void reminded(KeptApproval read, @Nullable Instant next) {
        LedgerTransaction.fenced(ledger.approvals.reminded(read.id(), next, read.version()), "approval " + read.id());
        changed(read);
    }

    private void changed(KeptApproval approval) {
        tx.changed(LedgerTransaction.Changed.approval(
                approval.id(),
                caseRow(approval.caseId()).desk(),
                approval.request().of()));
    }

    @Override
    public void answer(String approval, Answer answer, Set<String> forGroups) {
        ledger.approvals.insertAnswer(new AnswerRow(
                approval,
                answer.person(),
                answer.says().word(),
                answer.reason(),
                Json.write(answer.texts()),
                answer.form() == null ? null : Json.write(answer.form()),
                Json.write(new TreeSet<>(forGroups)),
                now()));
    }

    @Override
    public List<Given> given(String approval) {
        return ledger.answers(approval).stream()
                .map(answer -> new Given(
                        answer.person(),
                        answer.says().equals(Says.APPROVE.word()),
                        new HashSet<>(Arrays.asList(Json.read(answer.forGroups(), String[].class)))))
                .toList();
    }

    @Override
    public int eligible(Set<String> groups) {
        return ledger.eligible(groups);
    }
}
