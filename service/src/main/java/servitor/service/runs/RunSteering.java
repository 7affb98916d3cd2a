package servitor.service.runs;

import java.util.List;
import java.util.Optional;
import java.util.function.BiConsumer;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.engine.Engine;
import servitor.core.engine.EngineStore;
import servitor.core.engine.RunControl;
import servitor.core.json.Json;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** People steer runs: hold them, let them go on, say what happened, see to what went wrong. */
@Service
public class RunSteering {
    private final RunStore runs;
    private final CaseStore cases;
    private final Writer writer;
    private final RunControl control;
    private final Engine engine;

    RunSteering(RunStore runs, CaseStore cases, Writer writer, RunControl control, Engine engine) {
        this.runs = runs;
        this.cases = cases;
        this.writer = writer;
        this.control = control;
        this.engine = engine;
    }

    /** Runs that somebody may see, the one begun last first. */
    public List<RunRow> list(RunFilter filter, int limit) {
        return runs.list(filter, limit);
    }

    /** A run, where the person sees its case as staff. */
    public Optional<RunRow> find(Person person, String id) {
        return runs.find(id)
                .filter(run ->
                        cases.find(run.caseId()).filter(person::seesAsStaff).isPresent());
    }

    /** Moves a waiting run to another edition, where nothing it stands on differs. */
    public void move(Person person, RunRow run, int edition) {
        Access.MOVE_RUN.require(person, caseOf(run));
        change((to, store) -> to.move(store, run.id(), edition, person.id()));
    }

    /** Says whether a call in doubt happened, and what it gave; the run goes on. */
    public void settle(Person person, RunRow run, boolean happened, @Nullable JsonNode result, String reason) {
        Access.SETTLE_CALL.require(person, caseOf(run));
        JsonNode gave = result == null ? Json.object() : result;
        change((to, store) -> to.settle(store, run.id(), person.id(), happened, gave, reason));
    }

    /** Says what was done by hand where a call was held in shadow; the run goes on. */
    public void doneByHand(Person person, RunRow run, RunControl.Made made) {
        Access.SETTLE_CALL.require(person, caseOf(run));
        change((to, store) -> to.doneByHand(store, run.id(), person.id(), made));
    }

    /** Does something to a run that resolvers and engineers of its desk may do, and nobody in their own case. */
    public void steer(Person person, RunRow run, BiConsumer<RunControl, EngineStore> work) {
        Access.STEER_RUN.require(person, caseOf(run));
        change(work);
    }

    /** Refuses whoever may not steer a run. */
    public void requireSteering(Person person, RunRow run) {
        Access.STEER_RUN.require(person, caseOf(run));
    }

    /** An outside system says that long work has come to something; whether a run waited for it. */
    public boolean calledBack(String key) {
        return writer.write(tx -> engine.calledBack(tx.store(), key));
    }

    private CaseRow caseOf(RunRow run) {
        return cases.find(run.caseId()).orElseThrow();
    }

    private void change(BiConsumer<RunControl, EngineStore> work) {
        writer.write(tx -> {
            work.accept(control, tx.store());
            return null;
        });
    }
}
