package servitor.service.runs;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
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
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(works.find(id));
    }

    public Optional<Work> find(String id) {
        return row(id).map(RowConversion::work);
    }

    public List<CommandRow> ofRun(String run) {
        LedgerTransaction.writeHeld();
        return works.ofRun(run);
    }

    /** All work in a stage; {@code run} is empty for that of every run. */
    public List<Work> in(Work.Stage stage, String run) {
        LedgerTransaction.writeHeld();
        return works.in(stage.word(), run).stream().map(RowConversion::work).toList();
    }

    /** The connections that pending work goes out by; the empty one, of work that needs none, is always among them. */
    public List<String> connectionsWaitedFor() {
        LedgerTransaction.writeHeld();
        return Stream.iterate("", Objects::nonNull, works::connectionAfter).toList();
    }

    /** Work that goes out by {@code connection}, or by none when that is empty, and waits no longer; what came first, first. */
    public List<Work> due(String connection, Instant now, int limit) {
        LedgerTransaction.writeHeld();
        return works.due(connection, now, limit).stream()
                .flatMap(row -> readable(row).stream())
                .toList();
    }

    /** When the first work falls due that isn't yet. */
    public Optional<Instant> nextDue(Instant now) {
        LedgerTransaction.writeHeld();
        return connectionsWaitedFor().stream()
                .map(connection -> works.nextDue(connection, now))
                .filter(Objects::nonNull)
                .min(Comparator.naturalOrder());
    }

    /** Work whose taker has let its lease run out. */
    public List<Work> abandoned(Instant now, int limit) {
        LedgerTransaction.writeHeld();
        return works.abandoned(now, limit).stream()
                .flatMap(row -> readable(row).stream())
                .toList();
    }

    /** Work whose row can't be read: it would be looked at for ever, and is given to people instead. */
    public List<CommandRow> unreadable(Instant now, int limit) {
        LedgerTransaction.writeHeld();
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
        LedgerTransaction.writeHeld();
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
        LedgerTransaction.writeHeld();
        return works.dropLeases(now);
    }

    /** Writes new work, all at once. */
    public void insert(List<Work> ready) {
        if (!ready.isEmpty()) {
            WorkColumns columns = WorkColumns.ofNew(ready);
            works.insert(columns);
            works.insertPayloads(columns);
        }
    }

    /** Writes how far work that is there has come, all at once. */
    public void update(List<Work> changed) {
        if (!changed.isEmpty()) {
            works.update(WorkColumns.ofChanged(changed));
        }
    }

    /** Work of a run that isn't done with, by id, as the table holds it; what can't be read is left out. */
    public List<Work> openOf(String run) {
        return works.openOf(run).stream().flatMap(row -> readable(row).stream()).toList();
    }

    /** Drops whatever a run that has ended waits for, what can't be read included. */
    public void drop(String run) {
        works.drop(run);
    }

    public void setAside(String work, RunInput input) {
        LedgerTransaction.writeHeld();
        works.setAside(work, RowConversion.text(input));
    }

    public Optional<RunInput> aside(String work) {
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(works.aside(work)).map(RowConversion::input);
    }

    void delete(String run) {
        LedgerTransaction.writeHeld();
        works.deletePayloads(run);
        works.delete(run);
    }
}
