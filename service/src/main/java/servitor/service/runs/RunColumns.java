package servitor.service.runs;

import java.time.Instant;
import java.util.List;
import java.util.function.Function;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.json.Json;
import servitor.core.run.RunState;

/** Runs as columns, each an array, so that one statement writes them all. */
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
    static RunColumns of(List<KeptRun> runs, Instant now) {
        Instant[] times = runs.stream().map(run -> now).toArray(Instant[]::new);
        return new RunColumns(
                texts(runs, RunState::id),
                texts(runs, RunState::caseId),
                runs.stream().map(run -> run.state().edition()).toArray(Integer[]::new),
                texts(runs, RunState::page),
                texts(runs, run -> run.status().word()),
                texts(runs, RunState::step),
                texts(runs, Json::write),
                times,
                times,
                runs.stream().map(KeptRun::version).toArray(Integer[]::new),
                texts(runs, run -> run.parent() == null ? "" : run.parent().run()));
    }

    private static String[] texts(List<KeptRun> runs, Function<RunState, String> column) {
        return runs.stream().map(run -> column.apply(run.state())).toArray(String[]::new);
    }
}
