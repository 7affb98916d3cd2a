package servitor.service.engine;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Answer;
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
import servitor.service.approvals.ApprovalRow;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.NoteRow;
import servitor.service.cases.RelationRow;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.people.PersonRow;
import servitor.service.runs.RowConversion;
import servitor.service.runs.RunRow;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** The engine's books, kept in the database within one of the writer's transactions. */
final class SqlEngineStore implements EngineStore {
    private final LedgerTransaction tx;
    private final SqlEngineStores stores;
    private final WriterCache recent;

    SqlEngineStore(LedgerTransaction tx, SqlEngineStores stores) {
        this.tx = tx;
        this.stores = stores;
        this.recent = stores.cache;
    }

    @Override
    public Instant now() {
        return tx.now();
    }

    @Override
    public Optional<KeptRun> run(String id) {
        KeptRun known = recent.run(id);
        return known != null ? Optional.of(known) : stores.runs.find(id).map(this::read);
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
        return stores.runs.activeUnder(run).stream().map(this::state).toList();
    }

    @Override
    public String newRunId() {
        return "R-" + tx.nextRunNumber();
    }

    @Override
    public void insert(RunState ready) {
        String written = Json.write(ready);
        stores.runs.insert(ready, written, now());
        recent.put(new KeptRun(ready, 1), written.length());
        recent.change(ready.caseId(), known -> known.begun(ready.id()));
    }

    @Override
    public void update(KeptRun read, RunState next) {
        String written = Json.write(next);
        stores.runs.update(read, next, written, now());
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
        CaseRow row = stores.cases.find(id).orElseThrow(() -> new IllegalArgumentException("there is no case " + id));
        PersonRow person = stores.people.find(row.requester()).orElse(null);
        Situation.Requester requester = new Situation.Requester(
                row.requester(),
                person == null ? row.requester() : person.name(),
                person == null ? "" : person.account(),
                person == null ? "" : person.manager(),
                stores.people.groupsOf(row.requester()),
                row.proof());
        ArrayNode documents = Json.mapper().createArrayNode();
        stores.cases
                .documents(row.id())
                .forEach(document -> documents
                        .addObject()
                        .put("name", document.name())
                        .put("type", document.type())
                        .put("size", document.size()));
        WriterCache.OfCase read = new WriterCache.OfCase(row, requester, documents, stores.runs.activeOf(id));
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
            CaseRow next = stores.cases.stand(tx, row, state, waitingFor);
            recent.change(caseId, known -> known.with(next));
        } else {
            CaseStore.changed(tx, row);
        }
    }

    @Override
    public void change(String caseId, JsonNode changes) {
        CaseRow row = caseRow(caseId);
        ObjectNode fields = (ObjectNode) Json.read(row.fields(), JsonNode.class);
        changes.path("fields").properties().forEach(e -> fields.set(e.getKey(), e.getValue()));
        String labels = changes.path("labels").isArray() ? Json.write(changes.get("labels")) : row.labels();
        CaseRow next = stores.cases.hold(
                tx, row, changes.path("priority").asString(row.priority()), labels, Json.write(fields));
        recent.change(caseId, known -> known.with(next));
        changes.path("relations").properties().forEach(e -> {
            if (e.getValue().isString() && !e.getValue().stringValue().isBlank()) {
                stores.cases.relate(new RelationRow(
                        row.id(), shorten(e.getKey()), shorten(e.getValue().stringValue())));
            }
        });
    }

    private static String shorten(String text) {
        return text.length() <= 60 ? text : text.substring(0, 60);
    }

    @Override
    public void note(String caseId, Note note) {
        stores.cases.insertNote(
                tx,
                new NoteRow(note.id(), caseId, now(), note.author(), note.audience(), note.written(), note.text()),
                caseRow(caseId));
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
        return stores.usage.alone(counter);
    }

    @Override
    public void charge(String work, List<Charge> charges, boolean alone) {
        stores.usage.charge(work, charges, alone);
    }

    @Override
    public void refund(String work) {
        stores.usage.refund(work);
    }

    @Override
    public void sent(String id) {
        stores.works.sent(id);
    }

    @Override
    public void put(Work pending) {
        stores.works.insert(pending);
    }

    @Override
    public boolean take(String id, String owner, Instant until) {
        return stores.works.take(id, owner, until);
    }

    @Override
    public boolean release(String id, String owner, Work.Stage stage, Instant due) {
        return stores.works.release(id, owner, stage, due);
    }

    @Override
    public void settle(String id) {
        stores.works.settle(id);
    }

    @Override
    public Optional<Work> work(String id) {
        return stores.works.find(id);
    }

    @Override
    public void hold(String run) {
        stores.works.hold(run);
        stand(run, true, Duration.ZERO);
    }

    @Override
    public void letGo(String run, Duration stood) {
        for (Work work : workIn(Work.Stage.HELD, run)) {
            boolean timer = work.command() instanceof Command.SetTimer;
            stores.works.letGo(work.id(), timer ? work.due().plus(stood) : work.due());
        }
        stand(run, false, stood);
    }

    /** The time of a run's open approvals stands still, or goes on after having stood for so long. */
    private void stand(String run, boolean held, Duration stood) {
        for (ApprovalRow row : stores.approvals.ofRun(run)) {
            if (row.state().equals(ApprovalState.OPEN.word())) {
                stores.approvals.stand(row, held, stood);
                changed(row.kept());
            }
        }
    }

    @Override
    public String epoch() {
        return tx.epoch();
    }

    @Override
    public List<Stop> stops() {
        return recent.stops(stores.stops::all);
    }

    @Override
    public void stop(Stop stop) {
        stores.stops.put(stop);
        recent.forgetStops();
        tx.changed(new LedgerTransaction.Changed("stop", stop.name(), "", ""));
    }

    @Override
    public void lift(Stop stop) {
        stores.stops.lift(stop);
        recent.forgetStops();
        tx.changed(new LedgerTransaction.Changed("stop", stop.name(), "", ""));
    }

    @Override
    public List<Work> workIn(Work.Stage stage, String run) {
        return stores.works.in(stage, run);
    }

    @Override
    public boolean move(String id, Work.Stage from, Work.Stage to) {
        return stores.works.move(id, from, to);
    }

    @Override
    public void setAside(String work, RunInput input) {
        stores.works.setAside(work, input);
    }

    @Override
    public Optional<RunInput> setAside(String work) {
        return stores.works.aside(work);
    }

    @Override
    public void free(String id) {
        stores.works.free(id, now());
    }

    @Override
    public void report(Trouble trouble) {
        stores.troubles.insert(trouble);
        tell(trouble.caseId());
    }

    @Override
    public Optional<Trouble> trouble(String id) {
        return stores.troubles.find(id);
    }

    @Override
    public List<Trouble> troublesOf(String caseId) {
        return stores.troubles.openOfCase(caseId);
    }

    @Override
    public void mended(String trouble, String by, String how) {
        stores.troubles.seen(trouble, by, how, now());
    }

    private void tell(String caseId) {
        CaseStore.changed(tx, caseRow(caseId));
    }

    @Override
    public void drop(String run) {
        stores.works.drop(run);
    }

    @Override
    public Optional<KeptApproval> approval(String id) {
        return stores.approvals.find(id).map(ApprovalRow::kept);
    }

    @Override
    public void open(KeptApproval approval, @Nullable Instant remindAt, Evidence evidence) {
        stores.approvals.insert(approval, remindAt, evidence);
        changed(approval);
    }

    @Override
    public void close(KeptApproval read, ApprovalState state) {
        Instant closed = state == ApprovalState.OPEN ? null : now();
        stores.approvals.close(read, state, closed);
        changed(read);
    }

    @Override
    public void showAnew(KeptApproval read, ApprovalRequest changed, Set<String> authors) {
        stores.approvals.showAnew(read, changed, authors);
        changed(read);
    }

    @Override
    public void reminded(KeptApproval read, @Nullable Instant next) {
        stores.approvals.reminded(read, next);
        changed(read);
    }

    private void changed(KeptApproval approval) {
        tx.changed(new LedgerTransaction.Changed(
                "approval",
                approval.id(),
                caseRow(approval.caseId()).desk(),
                "",
                approval.request().of()));
    }

    @Override
    public void answer(String approval, Answer answer, Set<String> forGroups) {
        stores.approvals.insertAnswer(approval, answer, forGroups, now());
    }

    @Override
    public List<Given> given(String approval) {
        return stores.approvals.given(approval);
    }

    @Override
    public int eligible(Set<String> groups) {
        return stores.people.eligible(groups);
    }
}
