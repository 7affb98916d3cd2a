package servitor.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.engine.Work;
import servitor.service.cases.CaseRow;

/**
 * What a transaction has changed and not written yet. However often a row is changed, it is written once, together with all others
 * of its table. Versions were compared when the change was made: the trail's head is held from the beginning of a transaction to
 * its end, so that nobody else writes meanwhile.
 */
final class HeldWrites {
    private final SqlEngineStores stores;
    private final Instant now;
    private final Map<String, CaseRow> cases = new LinkedHashMap<>();
    private final Map<String, KeptRun> newRuns = new LinkedHashMap<>();
    private final Map<String, KeptRun> runs = new LinkedHashMap<>();
    private final Map<String, Work> newWorks = new LinkedHashMap<>();
    private final Map<String, Work> works = new LinkedHashMap<>();
    private final List<Runnable> after = new ArrayList<>();

    HeldWrites(SqlEngineStores stores, Instant now) {
        this.stores = stores;
        this.now = now;
    }

    void hold(CaseRow changed) {
        cases.put(changed.id(), changed);
    }

    void holdNew(KeptRun run) {
        newRuns.put(run.state().id(), run);
    }

    void hold(KeptRun run) {
        (newRuns.containsKey(run.state().id()) ? newRuns : runs).put(run.state().id(), run);
    }

    void holdNew(Work work) {
        newWorks.put(work.id(), work);
    }

    void hold(Work work) {
        (newWorks.containsKey(work.id()) ? newWorks : works).put(work.id(), work);
    }

    /** Something that refers to rows held back here: it is written after them. */
    void then(Runnable write) {
        after.add(write);
    }

    /** Writes everything when something of a case is held back, which somebody is about to read. */
    void writeIfCase(String id) {
        if (cases.containsKey(id)
                || Stream.concat(newRuns.values().stream(), runs.values().stream())
                        .anyMatch(run -> run.state().caseId().equals(id))) {
            write();
        }
    }

    /** The same for a run, and those that follow it. */
    void writeIfRun(String id) {
        boolean heldBack = Stream.concat(newRuns.values().stream(), runs.values().stream())
                        .anyMatch(run -> run.state().id().equals(id)
                                || run.state().parent() != null
                                        && run.state().parent().run().equals(id))
                || Stream.concat(newWorks.values().stream(), works.values().stream())
                        .anyMatch(work -> work.run().equals(id));
        if (heldBack) {
            write();
        }
    }

    /** Writes it all, and holds nothing any more. */
    void write() {
        stores.cases.update(List.copyOf(cases.values()));
        weigh(newRuns, stores.runs.insert(List.copyOf(newRuns.values()), now));
        weigh(runs, stores.runs.update(List.copyOf(runs.values()), now));
        stores.works.insert(List.copyOf(newWorks.values()));
        stores.works.update(List.copyOf(works.values()));
        cases.clear();
        newRuns.clear();
        runs.clear();
        newWorks.clear();
        works.clear();
        List<Runnable> rest = List.copyOf(after);
        after.clear();
        rest.forEach(Runnable::run);
    }

    private void weigh(Map<String, KeptRun> written, List<Integer> sizes) {
        Iterator<Integer> size = sizes.iterator();
        written.values().forEach(run -> stores.cache.weigh(run, size.next()));
    }
}
