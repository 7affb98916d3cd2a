package servitor.service.engine;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.Evidence;
import servitor.core.engine.KeptApproval;
import servitor.core.engine.LostRace;
import servitor.core.engine.Stop;
import servitor.core.engine.Trouble;
import servitor.core.engine.Work;
import servitor.core.engine.Work.Stage;
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
import servitor.service.ledger.TransactionStore;
import servitor.service.people.PersonRow;
import servitor.service.runs.CountedWork;
import servitor.service.runs.RowConversion;
import servitor.service.runs.RunRow;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What the engine works on within one of the writer's transactions: what is remembered from earlier ones, else what the tables hold.
 * What it changes is held back, and written at the transaction's end or before somebody reads the tables.
 */
final class SqlEngineStore implements TransactionStore {
    /** In characters: what the state of a run takes, more or less, until it is written and that is known. */
    private static final int NEW_RUN = 3_000;

    private static final int LONGEST_TITLE = 120;

    private static final Set<Stage> WAITS = EnumSet.of(Stage.PENDING, Stage.HELD, Stage.STUCK, Stage.STOPPED);

    private final LedgerTransaction tx;
    private final SqlEngineStores stores;
    private final WriterCache recent;
    private final HeldWrites held;
    /** Runs that have ended, each with its case. */
    private final Map<String, String> endedRuns = new HashMap<>();

    private final Set<String> closed = new HashSet<>();

    SqlEngineStore(LedgerTransaction tx, SqlEngineStores stores) {
        this.tx = tx;
        this.stores = stores;
        this.recent = stores.cache;
        this.held = new HeldWrites(stores, tx);
    }

    @Override
    public void writeHeld() {
        held.write();
        endedRuns.forEach((run, caseId) -> { // they leave room for those that go on
            recent.forgetRun(run);
            recent.forgetIfIdle(caseId);
        });
        closed.forEach(recent::forgetApproval);
        endedRuns.clear();
        closed.clear();
    }

    @Override
    public Instant now() {
        return tx.now();
    }

    @Override
    public Optional<KeptRun> run(String id) {
        KeptRun known = recent.run(id);
        if (known == null) {
            held.writeIfRun(id);
        }
        return known != null ? Optional.of(known) : stores.runs.asWritten(id).map(this::read);
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
        return followersOf(run).stream().map(this::state).toList();
    }

    private List<String> followersOf(String run) {
        return recent.followers.get(run, id -> {
            held.writeIfRun(id);
            return stores.runs.activeUnder(id);
        });
    }

    @Override
    public String newRunId() {
        return "R-" + tx.nextRunNumber();
    }

    @Override
    public void insert(RunState ready) {
        ofCase(ready.caseId()); // so that its runs are known from here on
        KeptRun kept = new KeptRun(ready, 1);
        held.holdNew(kept);
        recent.put(kept, NEW_RUN);
        recent.putOpenWork(ready.id(), new TreeMap<>());
        recent.followers.put(ready.id(), List.of());
        recent.change(ready.caseId(), known -> known.begun(ready.id()));
        changeFollowers(ready, known -> Stream.concat(known.stream(), Stream.of(ready.id())));
    }

    private void changeFollowers(RunState run, Function<List<String>, Stream<String>> change) {
        List<String> known = run.parent() == null
                ? null
                : recent.followers.getIfPresent(run.parent().run());
        if (known != null) {
            recent.followers.put(
                    Objects.requireNonNull(run.parent()).run(),
                    change.apply(known).toList());
        }
    }

    @Override
    public void update(KeptRun read, RunState next) {
        int version = run(next.id()).orElseThrow().version();
        if (version != read.version()) {
            throw new LostRace("run " + next.id() + " was changed since it was read");
        }
        KeptRun kept = new KeptRun(next, version + 1);
        held.hold(kept);
        recent.put(kept, NEW_RUN);
        if (next.status().ended()) {
            endedRuns.put(next.id(), next.caseId());
            recent.change(next.caseId(), known -> known.ended(next.id()));
            changeFollowers(next, known -> known.stream().filter(id -> !id.equals(next.id())));
        } else if (read.state().status().ended()) {
            endedRuns.remove(next.id());
            recent.forgetCase(next.caseId()); // it goes on again
            if (next.parent() != null) {
                recent.followers.invalidate(next.parent().run());
            }
        }
    }

    private WriterCache.OfCase ofCase(String id) {
        WriterCache.OfCase known = recent.ofCase(id);
        return known != null ? known : readCase(id);
    }

    private WriterCache.OfCase readCase(String id) {
        CaseRow inserted = stores.cases.justOpened(id);
        if (inserted != null) {
            return remember(new WriterCache.OfCase(
                    inserted, requester(inserted), Json.mapper().createArrayNode(), List.of()));
        }
        held.writeIfCase(id);
        CaseRow row =
                stores.cases.asWritten(id).orElseThrow(() -> new IllegalArgumentException("there is no case " + id));
        Situation.Requester requester = requester(row);
        ArrayNode documents = Json.mapper().createArrayNode();
        stores.cases.documents(row.id()).forEach(document -> documents.add(document.toPages()));
        return remember(new WriterCache.OfCase(row, requester, documents, stores.runs.activeOf(id)));
    }

    private WriterCache.OfCase remember(WriterCache.OfCase read) {
        recent.put(read);
        return read;
    }

    private Situation.Requester requester(CaseRow row) {
        String id = row.requester();
        PersonRow person =
                recent.people.get(id, name -> stores.people.find(name).orElse(null));
        return new Situation.Requester(
                id,
                person == null ? id : person.name(),
                person == null ? "" : person.account(),
                person == null ? "" : person.manager(),
                recent.groups.get(id, stores.people::groupsOf),
                row.proof());
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
                row.channel(),
                row.state());
        return new Situation(now(), view, known.requester(), row.openedBy());
    }

    @Override
    public Optional<String> openedFor(String caseId) {
        return Optional.ofNullable(caseRow(caseId).openedFor());
    }

    @Override
    public void gave(String caseId, RunInput.Gave gave) {
        stores.cases.gave(caseId, Json.write(gave));
    }

    @Override
    public RunInput.Gave gave(String caseId) {
        return stores.cases
                .gave(caseId)
                .map(gave -> Json.read(gave, RunInput.Gave.class))
                .orElse(RunInput.Gave.NOTHING);
    }

    @Override
    public void show(String caseId, String state, @Nullable String waitingFor) {
        CaseRow row = caseRow(caseId);
        if (!row.state().equals(state) || !Objects.equals(row.waitingFor(), waitingFor)) {
            hold(row.standing(state, waitingFor, now()));
        }
        CaseStore.changed(tx, row);
    }

    private void hold(CaseRow changed) {
        held.hold(changed);
        recent.change(changed.id(), known -> known.with(changed));
    }

    @Override
    public void change(String caseId, JsonNode changes) {
        CaseRow row = caseRow(caseId);
        ObjectNode fields = (ObjectNode) Json.read(row.fields(), JsonNode.class);
        changes.path("fields").properties().forEach(e -> fields.set(e.getKey(), e.getValue()));
        String labels = changes.path("labels").isArray() ? Json.write(changes.get("labels")) : row.labels();
        String title = changes.path("title").asString(row.title()).strip().replaceAll("\\s+", " ");
        hold(row.holding(
                title.length() <= LONGEST_TITLE ? title : title.substring(0, LONGEST_TITLE - 1) + "…",
                changes.path("priority").asString(row.priority()),
                labels,
                Json.write(fields),
                now()));
        CaseStore.changed(tx, row);
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
                new NoteRow(
                        note.id(),
                        caseId,
                        now(),
                        note.author(),
                        note.audience(),
                        note.written(),
                        note.text(),
                        note.channel().word(),
                        note.to(),
                        "",
                        ""),
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
        return recent.counters.get(counter, name -> {
            held.writeIfCounter(name);
            return stores.usage.alone(name);
        });
    }

    @Override
    public void charge(String work, List<Charge> charges, boolean alone) {
        charges.forEach(charge -> held.holdNew(new CountedWork(work, charge, alone)));
        for (Charge charge : alone ? charges : List.<Charge>of()) {
            recent.counters.asMap().computeIfPresent(charge.counter(), (name, used) -> used.add(charge.amount()));
        }
    }

    @Override
    public void refund(String work) {
        stores.usage.refund(work);
        recent.counters.invalidateAll();
    }

    /** What a run has given out and isn't done with, by id. */
    private SortedMap<String, Work> openWork(String run) {
        SortedMap<String, Work> known = recent.openWork(run);
        if (known == null) {
            held.writeIfRun(run);
            known = new TreeMap<>();
            for (Work work : stores.works.openOf(run)) {
                known.put(work.id(), work);
            }
            recent.putOpenWork(run, known);
            recent.workRead.put(run, true);
        }
        return known;
    }

    /** Ids of work are those of its run, such as {@code R-1001}, with a dash and more behind it. */
    private static String runOf(String work) {
        int end = work.indexOf('-', work.indexOf('-') + 1);
        return end < 0 ? work : work.substring(0, end);
    }

    private @Nullable Work open(String id) {
        return openWork(runOf(id)).get(id);
    }

    /** Work has come further; what is done with isn't remembered. */
    private void hold(Work next) {
        held.hold(next);
        tellIfReady(next);
        SortedMap<String, Work> open = openWork(next.run());
        if (next.stage() == Stage.DONE || next.stage() == Stage.DROPPED) {
            open.remove(next.id());
        } else {
            open.put(next.id(), next);
        }
    }

    private void tellIfReady(Work work) {
        if (work.stage() == Stage.PENDING) {
            tx.ready(work);
        }
    }

    private static Work in(Work work, Stage stage) {
        return work.in(stage, work.owner(), work.leaseUntil(), work.attempts(), work.due());
    }

    @Override
    public void sent(String id) {
        Work work = open(id);
        if (work == null) {
            work = stores.works.find(id).orElseThrow();
        }
        hold(work.maybeSent());
    }

    @Override
    public void put(Work pending) {
        held.holdNew(pending);
        tellIfReady(pending);
        openWork(pending.run()).put(pending.id(), pending);
    }

    @Override
    public boolean take(String id, String owner, Instant until) {
        Work work = open(id);
        if (work == null || work.stage() != Stage.PENDING) {
            return false;
        }
        hold(work.in(Stage.TAKEN, owner, until, work.attempts() + 1, work.due()));
        return true;
    }

    @Override
    public boolean release(String id, String owner, Stage stage, Instant due) {
        Work work = open(id);
        if (work == null || work.stage() != Stage.TAKEN || !owner.equals(work.owner())) {
            return false;
        }
        hold(work.in(stage, null, null, work.attempts(), due));
        return true;
    }

    private Work open(String id, Stage stage) {
        Work work = open(id);
        if (work == null || work.stage() != stage) {
            throw new LostRace("work " + id + " isn't " + stage.word() + " any more");
        }
        return work;
    }

    @Override
    public void settle(String id) {
        hold(in(open(id, Stage.IN_DOUBT), Stage.DONE));
    }

    @Override
    public Optional<Work> work(String id) {
        return Optional.ofNullable(open(id)).or(() -> stores.works.find(id));
    }

    @Override
    public void hold(String run) {
        workIn(Stage.PENDING, run).forEach(work -> hold(in(work, Stage.HELD)));
        stand(run, true, Duration.ZERO);
    }

    @Override
    public void letGo(String run, Duration stood) {
        for (Work work : workIn(Stage.HELD, run)) {
            boolean timer = work.command() instanceof Command.SetTimer;
            Instant due = timer ? work.due().plus(stood) : work.due();
            hold(work.in(Stage.PENDING, work.owner(), work.leaseUntil(), work.attempts(), due));
        }
        stand(run, false, stood);
    }

    /** The time of a run's open approvals stands still, or goes on after having stood for so long. */
    private void stand(String run, boolean standing, Duration stood) {
        for (ApprovalRow row : stores.approvals.ofRun(run)) {
            if (row.state().equals(ApprovalState.OPEN.word())) {
                stores.approvals.stand(row, standing, stood);
                recent.forgetApproval(row.id());
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
    public List<Work> workIn(Stage stage, String run) {
        return run.isEmpty()
                ? stores.works.in(stage, run)
                : openWork(run).values().stream()
                        .filter(work -> work.stage() == stage)
                        .toList();
    }

    @Override
    public boolean move(String id, Stage from, Stage to) {
        Work work = open(id);
        if (work == null || work.stage() != from) {
            return false;
        }
        hold(in(work, to));
        return true;
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
        Work work = open(id, Stage.STUCK);
        hold(work.in(Stage.PENDING, work.owner(), work.leaseUntil(), 0, now()));
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
        stores.troubles.mended(trouble, by, how, now());
    }

    private void tell(String caseId) {
        CaseStore.changed(tx, caseRow(caseId));
    }

    @Override
    public void drop(String run) {
        for (Work work : List.copyOf(openWork(run).values())) {
            if (WAITS.contains(work.stage())) {
                hold(in(work, Stage.DROPPED));
            }
        }
        if (recent.workRead.getIfPresent(run) != null) {
            held.then(() -> stores.works.drop(run)); // there may be some that can't be read
        }
    }

    @Override
    public Optional<KeptApproval> approval(String id) {
        WriterCache.OpenApproval known = recent.approval(id);
        return known != null
                ? Optional.of(known.kept())
                : stores.approvals.find(id).map(ApprovalRow::kept);
    }

    @Override
    public void open(KeptApproval approval, @Nullable Instant remindAt, Evidence evidence) {
        held.holdNew(approval, remindAt, evidence);
        recent.put(new WriterCache.OpenApproval(approval, List.of()));
        changed(approval);
    }

    @Override
    public void close(KeptApproval read, ApprovalState state) {
        Instant at = state == ApprovalState.OPEN ? null : now();
        held.then(() -> stores.approvals.close(read, state, at));
        WriterCache.OpenApproval known = recent.approval(read.id());
        if (known != null) {
            recent.put(known.with(read.in(state)));
            closed.add(read.id());
        }
        changed(read);
    }

    @Override
    public void showAnew(KeptApproval read, ApprovalRequest changed, Set<String> authors) {
        held.then(() -> stores.approvals.showAnew(read, changed, authors));
        recent.forgetApproval(read.id());
        changed(read);
    }

    @Override
    public void reminded(KeptApproval read, @Nullable Instant next) {
        held.then(() -> stores.approvals.reminded(read, next));
        recent.forgetApproval(read.id());
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
        held.then(() -> stores.approvals.insertAnswer(approval, answer, forGroups, now()));
        WriterCache.OpenApproval known = recent.approval(approval);
        if (known != null) {
            recent.put(
                    known.answered(new Given(answer.person(), answer.says() == Says.APPROVE, forGroups, answer.via())));
        }
    }

    @Override
    public List<Given> given(String approval) {
        WriterCache.OpenApproval known = recent.approval(approval);
        return known != null ? known.given() : stores.approvals.given(approval);
    }

    @Override
    public int eligible(Set<String> groups, Set<String> not) {
        return recent.eligible.get(
                List.of(Set.copyOf(groups), Set.copyOf(not)), sets -> stores.people.eligible(sets.get(0), sets.get(1)));
    }
}
