package servitor.service.runs;

import java.time.Instant;
import java.util.List;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.run.RunState;
import servitor.service.ledger.Columns;

/**
 * Runs as columns, each an array, so that one statement writes them all.
 */
record RunColumns(
        Object id,
        Object caseId,
        Object edition,
        Object page,
        Object status,
        Object step,
        Object state,
        Object created,
        Object updated,
        Object version,
        Object parent) {
    /** {@code written} is the state of each as JSON. */
    static RunColumns of(List<KeptRun> runs, List<String> written, Instant now) {
        List<RunState> states = runs.stream().map(KeptRun::state).toList();
        Instant[] times = Columns.times(states, run -> now);
        return new RunColumns(
                Columns.texts(states, RunState::id),
                Columns.texts(states, RunState::caseId),
                Columns.numbers(states, RunState::edition),
                Columns.texts(states, RunState::page),
                Columns.texts(states, run -> run.status().word()),
                Columns.texts(states, RunState::step),
                written.toArray(String[]::new),
                times,
                times,
                Columns.numbers(runs, KeptRun::version),
                Columns.texts(
                        states, run -> run.parent() == null ? "" : run.parent().run()));
    }
}
