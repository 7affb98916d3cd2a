package servitor.service.runs;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.run.RunState;
import servitor.service.ledger.LedgerTransaction;

/** Runs, as they are kept. Whatever is written is written within one of the writer's transactions. */
@Component
public class RunStore {
    private final RunMapper runs;

    RunStore(RunMapper runs) {
        this.runs = runs;
    }

    public Optional<RunRow> find(String id) {
        return Optional.ofNullable(runs.find(id));
    }

    /** The edition that a run is pinned to. */
    public int editionOf(String run) {
        return runs.editionOf(run);
    }

    public List<RunRow> ofCase(String caseId) {
        return runs.ofCase(caseId);
    }

    /** The runs of a case that haven't ended, the oldest first. */
    public List<String> activeOf(String caseId) {
        return runs.activeOf(caseId);
    }

    /** The runs that follow pages for {@code run} and haven't ended. */
    public List<String> activeUnder(String run) {
        return runs.activeUnder(run);
    }

    public List<RunRow> active(int limit) {
        return runs.active(limit);
    }

    /** Runs that wait for somebody to say whether a call happened, the longest first. */
    public List<RunRow> inDoubt(int limit) {
        return runs.inDoubt(limit);
    }

    /** {@code written} is its state as JSON. */
    public void insert(RunState ready, String written, Instant now) {
        runs.insert(new RunRow(
                ready.id(),
                ready.caseId(),
                ready.edition(),
                ready.page(),
                ready.status().word(),
                "",
                written,
                now,
                now,
                1,
                ready.parent() == null ? "" : ready.parent().run()));
    }

    /** {@code written} is the next state as JSON. */
    public void update(KeptRun read, RunState next, String written, Instant now) {
        LedgerTransaction.fenced(
                runs.update(next.id(), next.edition(), next.status().word(), next.step(), written, now, read.version()),
                "run " + next.id());
    }

    /** Runs that ended before {@code before} and are still kept whole, the oldest first. */
    List<RunRow> toMoveOut(Instant before, int limit) {
        return runs.toMoveOut(before, limit);
    }

    /** {@code slim} is what stays of its state. */
    void moveOut(LedgerTransaction tx, RunRow run, String slim) {
        LedgerTransaction.fenced(runs.moveOut(run.id(), slim, run.version()), "run " + run.id());
        tx.forgetRun(run.id());
    }
}
