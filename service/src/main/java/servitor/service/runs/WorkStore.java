package servitor.service.runs;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.core.engine.Trouble;
import servitor.core.engine.Work;
import servitor.core.run.RunInput;
import servitor.service.ledger.LedgerTransaction;

/** Work that runs have given out: calls, questions to models, timers. */
@Component
public class WorkStore {
    private static final Logger LOG = LoggerFactory.getLogger(WorkStore.class);

    private final WorkMapper works;
    private final RunMapper runs;

    WorkStore(WorkMapper works, RunMapper runs) {
        this.works = works;
        this.runs = runs;
    }

    public Optional<CommandRow> row(String id) {
        return Optional.ofNullable(works.find(id));
    }

    public Optional<Work> find(String id) {
        return row(id).map(RowConversion::work);
    }

    public List<CommandRow> ofRun(String run) {
        return works.ofRun(run);
    }

    /** All work in a stage; {@code run} is empty for that of every run. */
    public List<Work> in(Work.Stage stage, String run) {
        return works.in(stage.word(), run).stream().map(RowConversion::work).toList();
    }

    /** The runs that have work which a stop holds back. */
    public Set<String> stoppedRuns() {
        return works.in(Work.Stage.STOPPED.word(), "").stream()
                .map(CommandRow::runId)
                .collect(Collectors.toSet());
    }

    /** The connections that pending work goes out by; the empty one, of work that needs none, is always among them. */
    public List<String> connectionsWaitedFor() {
        return Stream.iterate("", Objects::nonNull, works::connectionAfter).toList();
    }

    /** Work that goes out by {@code connection}, or by none when that is empty, and waits no longer; what came first, first. */
    public List<Work> due(String connection, Instant now, int limit) {
        return works.due(connection, now, limit).stream()
                .flatMap(row -> readable(row).stream())
                .toList();
    }

    /** When the first work falls due that isn't yet. */
    public Optional<Instant> nextDue(Instant now) {
        return connectionsWaitedFor().stream()
                .map(connection -> works.nextDue(connection, now))
                .filter(Objects::nonNull)
                .min(Comparator.naturalOrder());
    }

    /** Work whose taker has let its lease run out. */
    public List<Work> abandoned(Instant now, int limit) {
        return works.abandoned(now, limit).stream()
                .flatMap(row -> readable(row).stream())
                .toList();
    }

    /** Work whose row can't be read: it would be looked at for ever, and is given to people instead. */
    public List<CommandRow> unreadable(Instant now, int limit) {
        return connectionsWaitedFor().stream()
                .flatMap(line -> works.due(line, now, limit).stream())
                .filter(row -> readable(row).isEmpty())
                .toList();
    }

    private static Optional<Work> readable(CommandRow row) {
        try {
            return Optional.of(RowConversion.work(row));
        } catch (RuntimeException e) {
            LOG.error("The work {} can't be read; people see to it.", row.id(), e);
            return Optional.empty();
        }
    }

    /** Work that can't be read goes to what went wrong. */
    public void giveToPeople(LedgerTransaction tx, CommandRow row) {
        String caseId = Objects.requireNonNull(runs.find(row.runId())).caseId();
        if (works.move(row.id(), row.state(), Work.Stage.STUCK.word()) == 1) {
            tx.store()
                    .report(new Trouble(
                            row.id() + "-unreadable",
                            Trouble.What.STUCK,
                            caseId,
                            row.runId(),
                            row.id(),
                            "",
                            "unreadable",
                            "what was to be done can't be read any more; stop the run, or take the case over",
                            tx.now()));
        }
    }

    /** Lets every lease run out now: whoever held one is known to be gone. */
    public int dropLeases(Instant now) {
        return works.dropLeases(now);
    }

    public void insert(Work pending) {
        works.insert(RowConversion.row(pending));
    }

    public boolean take(String id, String owner, Instant until) {
        return works.take(id, owner, until) == 1;
    }

    public boolean release(String id, String owner, Work.Stage stage, Instant due) {
        return works.release(id, owner, stage.word(), due) == 1;
    }

    public boolean move(String id, Work.Stage from, Work.Stage to) {
        return works.move(id, from.word(), to.word()) == 1;
    }

    public void sent(String id) {
        works.sent(id);
    }

    public void settle(String id) {
        LedgerTransaction.fenced(works.settle(id), "call " + id);
    }

    /** Holds all pending work of a run. */
    public void hold(String run) {
        works.restage(run, Work.Stage.PENDING.word(), Work.Stage.HELD.word());
    }

    public void letGo(String id, Instant due) {
        works.letGo(id, due);
    }

    public void free(String id, Instant now) {
        LedgerTransaction.fenced(works.free(id, now), "work " + id);
    }

    /** Drops what a run that has ended waits for. */
    public void drop(String run) {
        works.dropPending(run);
    }

    public void setAside(String work, RunInput input) {
        works.setAside(work, RowConversion.text(input));
    }

    public Optional<RunInput> aside(String work) {
        return Optional.ofNullable(works.aside(work)).map(RowConversion::input);
    }

    void delete(String run) {
        works.delete(run);
    }
}
