package servitor.core.engine;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Answer;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.Work.Stage;
import servitor.core.json.Json;
import servitor.core.mandate.Charge;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.run.Situation;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailEvent;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;

/** One transaction over a {@link MemoryLedger}: it reads what is kept there, and keeps its own writes until they are committed. */
public final class MemoryBooks implements EngineStore {
    private static final byte[] SALT = new byte[16];

    private final MemoryLedger ledger;
    private final Instant now;
    final Map<String, Object> written = new LinkedHashMap<>();
    final Map<String, Object> basedOn = new HashMap<>();
    final List<RecordedEntry> entries = new ArrayList<>();
    private String head;
    private long seq;

    /** A case with its requester, and what it is shown to wait for. */
    record KeptCase(Situation situation, @Nullable String waitingFor) {}

    /** Answers that count, by approval. */
    record KeptAnswers(String approval, List<Given> given) {}

    record KeptNote(String caseId, Note note) {}

    /** When an approval is to be reminded of. */
    record Reminder(String approval, @Nullable Instant at) {}

    /** A transaction at {@code now}; nothing of it is kept until {@link MemoryLedger#commit}. */
    public MemoryBooks(MemoryLedger ledger, Instant now) {
        this.ledger = ledger;
        this.now = now;
        this.head = ledger.head();
        this.seq = ledger.trail.size();
    }

    private <V> @Nullable V read(Class<V> type, String id) {
        String key = type.getSimpleName() + " " + id;
        return type.cast(written.containsKey(key) ? written.get(key) : ledger.thing(key));
    }

    private void write(String id, Object value) {
        String key = value.getClass().getSimpleName() + " " + id;
        if (!basedOn.containsKey(key)) {
            basedOn.put(key, ledger.thing(key));
        }
        written.put(key, value);
    }

    private <V> List<V> all(Class<V> type) {
        Map<String, Object> seen = new LinkedHashMap<>(ledger.things);
        seen.putAll(written);
        List<V> found = new ArrayList<>();
        seen.values().forEach(thing -> {
            if (type.isInstance(thing)) {
                found.add(type.cast(thing));
            }
        });
        return found;
    }

    /** Opens a case, as {@code situation} has it. */
    public void openCase(Situation situation) {
        write(situation.view().id(), new KeptCase(situation, null));
    }

    private KeptCase kept(String caseId) {
        return Objects.requireNonNull(read(KeptCase.class, caseId), caseId);
    }

    @Override
    public Instant now() {
        return now;
    }

    @Override
    public Optional<KeptRun> run(String id) {
        return Optional.ofNullable(read(KeptRun.class, id));
    }

    @Override
    public List<RunState> activeRuns(String caseId) {
        return all(KeptRun.class).stream()
                .map(KeptRun::state)
                .filter(run -> run.caseId().equals(caseId) && !run.status().ended())
                .toList();
    }

    @Override
    public List<RunState> followers(String run) {
        return all(KeptRun.class).stream()
                .map(KeptRun::state)
                .filter(one -> one.parent() != null
                        && one.parent().run().equals(run)
                        && !one.status().ended())
                .toList();
    }

    @Override
    public String newRunId() {
        return ledger.newRunId();
    }

    @Override
    public void insert(RunState ready) {
        write(ready.id(), new KeptRun(ready, 1));
    }

    @Override
    public void update(KeptRun read, RunState next) {
        KeptRun now = read(KeptRun.class, next.id());
        if (now == null || now.version() != read.version()) {
            throw new LostRace("run " + next.id());
        }
        write(next.id(), new KeptRun(next, read.version() + 1));
    }

    @Override
    public Situation situation(String caseId) {
        Situation kept = kept(caseId).situation();
        return new Situation(now, kept.view(), kept.requester(), kept.openedBy());
    }

    /** That a case was opened for another. */
    record OpenedFor(String id, String parent) {}

    record KeptGave(String id, RunInput.Gave gave) {}

    /** Opens a case for another one. */
    public void openCaseFor(String parent, Situation situation) {
        openCase(situation);
        write(situation.view().id(), new OpenedFor(situation.view().id(), parent));
    }

    @Override
    public Optional<String> openedFor(String caseId) {
        return Optional.ofNullable(read(OpenedFor.class, caseId)).map(OpenedFor::parent);
    }

    @Override
    public void gave(String caseId, RunInput.Gave gave) {
        write(caseId, new KeptGave(caseId, gave));
    }

    @Override
    public RunInput.Gave gave(String caseId) {
        KeptGave kept = read(KeptGave.class, caseId);
        return kept == null ? RunInput.Gave.NOTHING : kept.gave();
    }

    @Override
    public void show(String caseId, String state, @Nullable String waitingFor) {
        Situation kept = kept(caseId).situation();
        write(caseId, new KeptCase(with(kept, kept.view().in(state)), waitingFor));
    }

    private static Situation with(Situation kept, Situation.CaseView view) {
        return new Situation(kept.now(), view, kept.requester(), kept.openedBy());
    }

    /** How a case stands. */
    public String caseState(String caseId) {
        return kept(caseId).situation().view().state();
    }

    /** Adds a document, as pages see it, to a case. */
    public void attach(String caseId, JsonNode document) {
        Situation.CaseView view = kept(caseId).situation().view();
        ArrayNode documents = ((ArrayNode) view.documents()).deepCopy().add(document);
        write(
                caseId,
                new KeptCase(
                        with(kept(caseId).situation(), view.having(documents)),
                        kept(caseId).waitingFor()));
    }

    @Override
    public void change(String caseId, JsonNode changes) {
        KeptCase kept = kept(caseId);
        write(caseId, new KeptCase(kept.situation().with(changes), kept.waitingFor()));
    }

    @Override
    public void note(String caseId, Note note) {
        if (read(KeptNote.class, note.id()) == null) {
            write(note.id(), new KeptNote(caseId, note));
        }
    }

    @Override
    public void trail(String caseId, String run, TrailEvent event) {
        TrailEntry entry =
                TrailEntry.append(++seq, head, now, caseId, run, event, TrailEntry.digest(SALT, event.data()));
        head = entry.hash();
        entries.add(new RecordedEntry(entry, "00".repeat(16), event.data()));
    }

    @Override
    public String keep(String text) {
        String digest = Json.digest(text);
        write(digest, new Material(text));
        return digest;
    }

    /** A long text, kept by its digest. */
    record Material(String text) {}

    /** What has been used of a limit. */
    record Counter(String name, BigDecimal alone, BigDecimal beside) {}

    /** What a call was counted for. */
    record Charged(String work, List<Charge> charges, boolean alone) {}

    @Override
    public BigDecimal alone(String counter) {
        Counter kept = read(Counter.class, counter);
        return kept == null ? BigDecimal.ZERO : kept.alone();
    }

    @Override
    public void charge(String work, List<Charge> charges, boolean alone) {
        if (!charges.isEmpty()) {
            write(work, new Charged(work, charges, alone));
            charges.forEach(charge -> add(charge.counter(), charge.amount(), alone));
        }
    }

    private void add(String name, BigDecimal amount, boolean alone) {
        Counter kept = read(Counter.class, name);
        BigDecimal byAgents = kept == null ? BigDecimal.ZERO : kept.alone();
        BigDecimal byPeople = kept == null ? BigDecimal.ZERO : kept.beside();
        write(
                name,
                new Counter(name, alone ? byAgents.add(amount) : byAgents, alone ? byPeople : byPeople.add(amount)));
    }

    @Override
    public void refund(String work) {
        Charged charged = read(Charged.class, work);
        if (charged != null) {
            charged.charges()
                    .forEach(charge -> add(charge.counter(), charge.amount().negate(), charged.alone()));
            write(work, new Charged(work, List.of(), charged.alone()));
        }
    }

    @Override
    public void sent(String id) {
        Work work = work(id).orElseThrow();
        write(
                id,
                new Work(
                        id,
                        work.run(),
                        work.command(),
                        work.connection(),
                        work.stage(),
                        work.owner(),
                        work.leaseUntil(),
                        work.attempts(),
                        work.due(),
                        true));
    }

    @Override
    public void put(Work pending) {
        if (read(Work.class, pending.id()) != null) {
            throw new IllegalStateException("there is work " + pending.id() + " already");
        }
        write(pending.id(), pending);
    }

    private static Work inNobodysHands(Work work, Stage stage, int attempts, Instant due) {
        return new Work(
                work.id(),
                work.run(),
                work.command(),
                work.connection(),
                stage,
                null,
                null,
                attempts,
                due,
                work.sent());
    }

    @Override
    public boolean take(String id, String owner, Instant until) {
        Work work = work(id).orElseThrow();
        if (work.stage() != Stage.PENDING) {
            return false;
        }
        write(
                id,
                new Work(
                        id,
                        work.run(),
                        work.command(),
                        work.connection(),
                        Stage.TAKEN,
                        owner,
                        until,
                        work.attempts() + 1,
                        work.due(),
                        work.sent()));
        return true;
    }

    @Override
    public boolean release(String id, String owner, Stage stage, Instant due) {
        Work work = work(id).orElseThrow();
        if (work.stage() != Stage.TAKEN || !owner.equals(work.owner())) {
            return false;
        }
        write(id, inNobodysHands(work, stage, work.attempts(), due));
        return true;
    }

    @Override
    public void settle(String id) {
        Work work = work(id).orElseThrow();
        if (work.stage() != Stage.IN_DOUBT) {
            throw new LostRace("call " + id);
        }
        write(id, inNobodysHands(work, Stage.DONE, work.attempts(), work.due()));
    }

    @Override
    public void drop(String run) {
        restage(run, Stage.PENDING, Stage.DROPPED);
        restage(run, Stage.HELD, Stage.DROPPED);
        restage(run, Stage.STUCK, Stage.DROPPED);
        restage(run, Stage.STOPPED, Stage.DROPPED);
    }

    @Override
    public void hold(String run) {
        restage(run, Stage.PENDING, Stage.HELD);
        stand(run, true, Duration.ZERO);
    }

    @Override
    public void letGo(String run, Duration stood) {
        all(Work.class).stream()
                .filter(work -> work.run().equals(run) && work.stage() == Stage.HELD)
                .forEach(work -> write(
                        work.id(),
                        inNobodysHands(
                                work,
                                Stage.PENDING,
                                work.attempts(),
                                work.command() instanceof Command.SetTimer
                                        ? work.due().plus(stood)
                                        : work.due())));
        stand(run, false, stood);
    }

    private void stand(String run, boolean held, Duration stood) {
        all(KeptApproval.class).stream()
                .filter(approval -> approval.run().equals(run) && approval.state() == ApprovalState.OPEN)
                .forEach(approval -> {
                    write(
                            approval.id(),
                            new KeptApproval(
                                    approval.request(),
                                    run,
                                    approval.caseId(),
                                    approval.state(),
                                    approval.opened(),
                                    approval.due() == null
                                            ? null
                                            : approval.due().plus(stood),
                                    approval.authors(),
                                    approval.reminders(),
                                    approval.version() + 1,
                                    held,
                                    approval.heldFor().plus(stood)));
                    Reminder reminder = read(Reminder.class, approval.id());
                    if (reminder != null && reminder.at() != null) {
                        write(
                                approval.id(),
                                new Reminder(approval.id(), reminder.at().plus(stood)));
                    }
                });
    }

    /** The stops that stand, by what they stop. */
    record KeptStop(Stop stop, boolean lifted) {}

    @Override
    public String epoch() {
        return ""; // so that keys are ids, as the invariants take them
    }

    @Override
    public List<Stop> stops() {
        return all(KeptStop.class).stream()
                .filter(kept -> !kept.lifted())
                .map(KeptStop::stop)
                .toList();
    }

    @Override
    public void stop(Stop stop) {
        write(stop.what() + " " + stop.name(), new KeptStop(stop, false));
    }

    @Override
    public void lift(Stop stop) {
        KeptStop kept = read(KeptStop.class, stop.what() + " " + stop.name());
        if (kept == null || kept.lifted()) {
            throw new LostRace("stop of " + stop.name());
        }
        write(stop.what() + " " + stop.name(), new KeptStop(stop, true));
    }

    @Override
    public List<Work> workIn(Stage stage, String run) {
        return all(Work.class).stream()
                .filter(work ->
                        work.stage() == stage && (run.isEmpty() || work.run().equals(run)))
                .toList();
    }

    @Override
    public boolean move(String id, Stage from, Stage to) {
        Work work = work(id).orElseThrow();
        if (work.stage() != from) {
            return false;
        }
        write(id, inNobodysHands(work, to, work.attempts(), work.due()));
        return true;
    }

    /** What came of work that its run couldn't take in. */
    record Aside(RunInput input) {}

    @Override
    public void setAside(String work, RunInput input) {
        write(work, new Aside(input));
    }

    @Override
    public Optional<RunInput> setAside(String work) {
        return Optional.ofNullable(read(Aside.class, work)).map(Aside::input);
    }

    private void restage(String run, Stage from, Stage to) {
        all(Work.class).stream()
                .filter(work -> work.run().equals(run) && work.stage() == from)
                .forEach(work -> write(work.id(), inNobodysHands(work, to, work.attempts(), work.due())));
    }

    @Override
    public Optional<Work> work(String id) {
        return Optional.ofNullable(read(Work.class, id));
    }

    @Override
    public void free(String id) {
        Work work = work(id).orElseThrow();
        if (work.stage() != Stage.STUCK) {
            throw new LostRace("work " + id);
        }
        write(id, inNobodysHands(work, Stage.PENDING, 0, now));
    }

    /** Trouble, and who has seen to it. */
    record KeptTrouble(Trouble trouble, @Nullable String by) {}

    @Override
    public void report(Trouble trouble) {
        if (read(KeptTrouble.class, trouble.id()) != null) {
            throw new IllegalStateException("there is trouble " + trouble.id() + " already");
        }
        write(trouble.id(), new KeptTrouble(trouble, null));
    }

    @Override
    public Optional<Trouble> trouble(String id) {
        return Optional.ofNullable(read(KeptTrouble.class, id))
                .filter(kept -> kept.by() == null)
                .map(KeptTrouble::trouble);
    }

    @Override
    public List<Trouble> troublesOf(String caseId) {
        return all(KeptTrouble.class).stream()
                .filter(kept -> kept.by() == null && kept.trouble().caseId().equals(caseId))
                .map(KeptTrouble::trouble)
                .sorted(Comparator.comparing(Trouble::at))
                .toList();
    }

    @Override
    public void mended(String id, String by, String how) {
        KeptTrouble kept = read(KeptTrouble.class, id);
        if (kept == null || kept.by() != null) {
            throw new LostRace("trouble " + id);
        }
        write(id, new KeptTrouble(kept.trouble(), by));
    }

    @Override
    public Optional<KeptApproval> approval(String id) {
        return Optional.ofNullable(read(KeptApproval.class, id));
    }

    @Override
    public void open(KeptApproval approval, @Nullable Instant remindAt, Evidence evidence) {
        write(approval.id(), approval);
        write(approval.id(), new Reminder(approval.id(), remindAt));
    }

    private void next(KeptApproval read, ApprovalRequest request, ApprovalState state, Set<String> authors, int given) {
        KeptApproval now = read(KeptApproval.class, read.id());
        if (now == null
                || now.version() != read.version()
                || now.state() != ApprovalState.OPEN
                        && !(now.state() == ApprovalState.EXPIRED && state == ApprovalState.SENT_LATE)) {
            throw new LostRace("approval " + read.id());
        }
        write(
                read.id(),
                new KeptApproval(
                        request,
                        read.run(),
                        read.caseId(),
                        state,
                        read.opened(),
                        read.due(),
                        authors,
                        given,
                        read.version() + 1,
                        read.held(),
                        read.heldFor()));
    }

    @Override
    public void close(KeptApproval read, ApprovalState state) {
        next(read, read.request(), state, read.authors(), read.reminders());
    }

    @Override
    public void showAnew(KeptApproval read, ApprovalRequest changed, Set<String> authors) {
        next(read, changed, ApprovalState.OPEN, authors, read.reminders());
        write(read.id(), new KeptAnswers(read.id(), List.of()));
    }

    @Override
    public void reminded(KeptApproval read, @Nullable Instant at) {
        next(read, read.request(), ApprovalState.OPEN, read.authors(), read.reminders() + 1);
        write(read.id(), new Reminder(read.id(), at));
    }

    @Override
    public void answer(String approval, Answer answer, Set<String> forGroups) {
        List<Given> given = new ArrayList<>(given(approval));
        given.add(new Given(answer.person(), answer.says() == Answer.Says.APPROVE, forGroups, answer.via()));
        write(approval, new KeptAnswers(approval, given));
    }

    @Override
    public List<Given> given(String approval) {
        KeptAnswers answers = read(KeptAnswers.class, approval);
        return answers == null ? List.of() : answers.given();
    }

    @Override
    public int eligible(Set<String> groups, Set<String> not) {
        return ledger.eligible(groups);
    }
}
