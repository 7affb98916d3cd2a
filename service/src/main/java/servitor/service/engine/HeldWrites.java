package servitor.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.engine.Evidence;
import servitor.core.engine.KeptApproval;
import servitor.core.engine.Work;
import servitor.core.json.Json;
import servitor.service.approvals.NewApproval;
import servitor.service.cases.CaseRow;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.runs.CountedWork;

/**
 * What a transaction has changed and not written yet. However often a row is changed, it is written once, together with all others
 * of its table. Versions were compared when the change was made: the trail's head is held from the beginning of a transaction to
 * its end, so that nobody else writes meanwhile.
 */
final class HeldWrites {
    private final SqlEngineStores stores;
    private final LedgerTransaction tx;
    private final Map<String, CaseRow> cases = new LinkedHashMap<>();
    private final Map<String, HeldRun> newRuns = new LinkedHashMap<>();
    private final Map<String, HeldRun> runs = new LinkedHashMap<>();
    private final Map<String, Work> newWorks = new LinkedHashMap<>();
    private final Map<String, Work> works = new LinkedHashMap<>();
    private final List<CompletableFuture<NewApproval>> newApprovals = new ArrayList<>();
    private final List<CountedWork> counted = new ArrayList<>();
    private final List<Runnable> after = new ArrayList<>();

    HeldWrites(SqlEngineStores stores, LedgerTransaction tx) {
        this.stores = stores;
        this.tx = tx;
    }

    /** A run, with its state as JSON, which is made while the transaction goes on. */
    private record HeldRun(KeptRun run, CompletableFuture<String> state) {
        String caseId() {
            return run.state().caseId();
        }

        boolean isOrFollows(String id) {
            return run.state().id().equals(id)
                    || run.state().parent() != null
                            && run.state().parent().run().equals(id);
        }
    }

    void hold(CaseRow changed) {
        cases.put(changed.id(), changed);
    }

    void holdNew(KeptRun run) {
        newRuns.put(run.state().id(), held(run));
    }

    void hold(KeptRun run) {
        (newRuns.containsKey(run.state().id()) ? newRuns : runs).put(run.state().id(), held(run));
    }

    private HeldRun held(KeptRun run) {
        return new HeldRun(run, tx.beside(() -> Json.write(run.state())));
    }

    void holdNew(KeptApproval approval, @Nullable Instant remindAt, Evidence evidence) {
        newApprovals.add(tx.beside(() -> NewApproval.of(approval, remindAt, evidence)));
    }

    void holdNew(Work work) {
        newWorks.put(work.id(), work);
    }

    void hold(Work work) {
        (newWorks.containsKey(work.id()) ? newWorks : works).put(work.id(), work);
    }

    void holdNew(CountedWork work) {
        counted.add(work);
    }

    /** Something that refers to rows held back here: it is written after them. */
    void then(Runnable write) {
        after.add(write);
    }

    /** Writes everything when something of a case is held back, which somebody is about to read. */
    void writeIfCase(String id) {
        if (cases.containsKey(id)
                || Stream.concat(newRuns.values().stream(), runs.values().stream())
                        .anyMatch(run -> run.caseId().equals(id))) {
            write();
        }
    }

    /** The same for a run, and those that follow it. */
    void writeIfRun(String id) {
        boolean heldBack =
                Stream.concat(newRuns.values().stream(), runs.values().stream()).anyMatch(run -> run.isOrFollows(id))
                        || Stream.concat(newWorks.values().stream(), works.values().stream())
                                .anyMatch(work -> work.run().equals(id));
        if (heldBack) {
            write();
        }
    }

    /** The same for a counter. */
    void writeIfCounter(String name) {
        if (counted.stream().anyMatch(one -> one.charge().counter().equals(name))) {
            write();
        }
    }

    /** Writes it all, and holds nothing any more. */
    void write() {
        stores.cases.writeHeld();
        stores.cases.update(List.copyOf(cases.values()));
        write(newRuns, stores.runs::insert);
        write(runs, stores.runs::update);
        stores.works.insert(List.copyOf(newWorks.values()));
        stores.works.update(List.copyOf(works.values()));
        stores.approvals.insert(
                newApprovals.stream().map(CompletableFuture::join).toList());
        stores.usage.charge(List.copyOf(counted));
        cases.clear();
        counted.clear();
        newWorks.clear();
        works.clear();
        newApprovals.clear();
        List<Runnable> rest = List.copyOf(after);
        after.clear();
        rest.forEach(Runnable::run);
    }

    /** How the store of runs takes them, with their states as JSON. */
    private interface Writes {
        void write(List<KeptRun> runs, List<String> states, Instant now);
    }

    private void write(Map<String, HeldRun> held, Writes how) {
        List<KeptRun> all = held.values().stream().map(HeldRun::run).toList();
        List<String> states =
                held.values().stream().map(one -> one.state().join()).toList();
        how.write(all, states, tx.now());
        for (int i = 0; i < all.size(); i++) {
            stores.cache.weigh(all.get(i), states.get(i).length());
        }
        held.clear();
    }
}
