package servitor.service.runs;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.run.RunStatus;
import servitor.service.ledger.LedgerTransaction;

/** Runs, as they are kept. Whatever is written is written within one of the writer's transactions. */
@Component
public class RunStore {
    private final RunMapper runs;

    RunStore(RunMapper runs) {
        this.runs = runs;
    }

    public Optional<RunRow> find(String id) {
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(runs.find(id));
    }

    /** A run as the table holds it, whatever a transaction holds back. */
    public Optional<RunRow> asWritten(String id) {
        return Optional.ofNullable(runs.find(id));
    }

    /** What a run is pinned to. */
    public record Pinned(int edition, String caseId) {}

    /** What a run is pinned to; it never changes. */
    public Pinned pinned(String run) {
        LedgerTransaction.writeHeld();
        return runs.pinned(run);
    }

    public List<RunRow> ofCase(String caseId) {
        LedgerTransaction.writeHeld();
        return runs.ofCase(caseId);
    }

    /** The runs of a case that haven't ended, the oldest first; as the table holds them. */
    public List<String> activeOf(String caseId) {
        return runs.activeOf(caseId);
    }

    /** The runs that follow pages for these, ended or not. */
    public List<RunRow> followedBy(List<String> followers) {
        LedgerTransaction.writeHeld();
        return followers.isEmpty() ? List.of() : runs.followedBy(followers);
    }

    /** The runs that follow pages for {@code run} and haven't ended; as the table holds them. */
    public List<String> activeUnder(String run) {
        return runs.activeUnder(run);
    }

    public List<RunRow> active(int limit) {
        LedgerTransaction.writeHeld();
        return runs.active(limit);
    }

    /** Runs that somebody may see, the one begun last first. */
    public List<RunRow> list(RunFilter filter, int limit) {
        LedgerTransaction.writeHeld();
        return filter.desks().isEmpty() ? List.of() : runs.list(filter, filter.about(), limit);
    }

    /** Runs of these desks that are under way, the one that moved last first. */
    public List<RunRow> active(Collection<String> desks, int limit) {
        LedgerTransaction.writeHeld();
        return desks.isEmpty() ? List.of() : runs.activeOfDesks(desks, limit);
    }

    /** Runs of these desks that stand so, the longest first. */
    public List<RunRow> standing(Collection<String> desks, RunStatus status, int limit) {
        LedgerTransaction.writeHeld();
        return desks.isEmpty() ? List.of() : runs.standing(desks, status.word(), limit);
    }

    /** Runs of these desks with trouble that nobody has seen to, the longest first. */
    public List<RunRow> troubled(Collection<String> desks, int limit) {
        LedgerTransaction.writeHeld();
        return desks.isEmpty() ? List.of() : runs.troubled(desks, limit);
    }

    /** Writes new runs, all at once; {@code states} are theirs as JSON. */
    public void insert(List<KeptRun> ready, List<String> states, Instant now) {
        if (!ready.isEmpty()) {
            runs.insert(RunColumns.of(ready, states, now));
        }
    }

    /** Writes runs that are there as they are now, all at once; {@code states} are theirs as JSON. */
    public void update(List<KeptRun> changed, List<String> states, Instant now) {
        if (!changed.isEmpty()) {
            runs.update(RunColumns.of(changed, states, now));
        }
    }

    /** Runs that ended before {@code before} and are still kept whole, the oldest first. */
    List<RunRow> toMoveOut(Instant before, int limit) {
        LedgerTransaction.writeHeld();
        return runs.toMoveOut(before, limit);
    }

    /** {@code slim} is what stays of its state. */
    void moveOut(LedgerTransaction tx, RunRow run, String slim) {
        LedgerTransaction.fenced(runs.moveOut(run.id(), slim, run.version()), "run " + run.id());
        tx.forgetRun(run.id());
    }
}
