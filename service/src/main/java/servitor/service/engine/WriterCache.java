package servitor.service.engine;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.math.BigDecimal;
import java.util.List;
import java.util.Set;
import java.util.SortedMap;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.engine.KeptApproval;
import servitor.core.engine.Stop;
import servitor.core.engine.Work;
import servitor.core.run.Situation;
import servitor.service.cases.CaseRow;
import servitor.service.people.PersonRow;
import tools.jackson.databind.node.ArrayNode;

/**
 * What the writer has lately read and written, kept from one transaction to the next so that it needn't be read again. It is
 * true only while nobody else writes: a process that shares its database forgets it with each transaction, and one whose
 * transaction failed forgets it then. Used by the writer's thread alone.
 */
final class WriterCache {
    /** In characters of what is kept; as objects it takes some ten times the bytes. */
    private static final long MOST = 4_000_000;

    private static final long MOST_SMALL = 20_000;

    private final Cache<String, Sized<KeptRun>> runs = cache();
    private final Cache<String, Sized<OfCase>> cases = cache();
    private final Cache<String, Sized<SortedMap<String, Work>>> openWork = cache();
    private final Cache<String, Sized<OpenApproval>> approvals = cache();
    final Cache<String, List<String>> followers = small();
    final Cache<String, PersonRow> people = small();
    final Cache<String, Set<String>> groups = small();
    final Cache<List<Set<String>>, Integer> eligible = small();
    final Cache<String, BigDecimal> counters = small();
    /** Runs whose work was read from the tables, which may hold some that can't be read. */
    final Cache<String, Boolean> workRead = small();

    private @Nullable List<Stop> stops;
    private @Nullable String epoch;

    /** An open approval with the answers that count so far. */
    record OpenApproval(KeptApproval kept, List<Given> given) {
        OpenApproval with(KeptApproval changed) {
            return new OpenApproval(changed, given);
        }

        OpenApproval answered(Given one) {
            return new OpenApproval(
                    kept, Stream.concat(given.stream(), Stream.of(one)).toList());
        }
    }

    /** A case, and what the engine needs to know along with it. {@code active} are its runs that haven't ended, the oldest first. */
    record OfCase(CaseRow row, Situation.Requester requester, ArrayNode documents, List<String> active) {
        OfCase with(CaseRow changed) {
            return new OfCase(changed, requester, documents, active);
        }

        OfCase begun(String run) {
            return new OfCase(
                    row,
                    requester,
                    documents,
                    Stream.concat(active.stream(), Stream.of(run)).toList());
        }

        OfCase ended(String run) {
            return new OfCase(
                    row,
                    requester,
                    documents,
                    active.stream().filter(id -> !id.equals(run)).toList());
        }
    }

    private record Sized<T>(T held, int size) {}

    private static <T> Cache<String, Sized<T>> cache() {
        return Caffeine.newBuilder()
                .executor(Runnable::run)
                .maximumWeight(MOST)
                .weigher((String id, Sized<T> sized) -> sized.size())
                .build();
    }

    private static <K, V> Cache<K, V> small() {
        return Caffeine.newBuilder()
                .executor(Runnable::run)
                .maximumSize(MOST_SMALL)
                .build();
    }

    private static <T> @Nullable T held(Cache<String, Sized<T>> from, String id) {
        Sized<T> found = from.getIfPresent(id);
        return found == null ? null : found.held();
    }

    @Nullable
    KeptRun run(String id) {
        return held(runs, id);
    }

    /** Remembers a run; {@code size} is how many characters its state takes. */
    void put(KeptRun run, int size) {
        runs.put(run.state().id(), new Sized<>(run, size));
    }

    /** Says how many characters the state of a remembered run takes, now that this is known. */
    void weigh(KeptRun run, int size) {
        if (run(run.state().id()) == run) {
            put(run, size);
        }
    }

    @Nullable
    OfCase ofCase(String id) {
        return held(cases, id);
    }

    void put(OfCase known) {
        CaseRow row = known.row();
        cases.put(
                row.id(),
                new Sized<>(known, 500 + row.text().length() + row.fields().length()));
    }

    /** Changes what is remembered of a case, if anything is. */
    void change(String caseId, Function<OfCase, OfCase> change) {
        OfCase known = ofCase(caseId);
        if (known != null) {
            put(change.apply(known));
        }
    }

    /** What a run has given out and isn't done with, by id; null when that isn't known. */
    @Nullable
    SortedMap<String, Work> openWork(String run) {
        return held(openWork, run);
    }

    void putOpenWork(String run, SortedMap<String, Work> works) {
        openWork.put(run, new Sized<>(works, 500 + 1_000 * works.size()));
    }

    @Nullable
    OpenApproval approval(String id) {
        return held(approvals, id);
    }

    void put(OpenApproval known) {
        approvals.put(known.kept().id(), new Sized<>(known, 3_000));
    }

    void forgetApproval(String id) {
        approvals.invalidate(id);
    }

    String epoch(Supplier<String> read) {
        String known = epoch;
        if (known == null) {
            known = read.get();
            epoch = known;
        }
        return known;
    }

    /** The emergency stops that stand. */
    List<Stop> stops(Supplier<List<Stop>> read) {
        List<Stop> known = stops;
        if (known == null) {
            known = read.get();
            stops = known;
        }
        return known;
    }

    void forgetStops() {
        stops = null;
    }

    void forgetRun(String id) {
        runs.invalidate(id);
        openWork.invalidate(id);
        workRead.invalidate(id);
        followers.invalidate(id);
    }

    void forgetCase(String id) {
        cases.invalidate(id);
    }

    /** Forgets a case that no run works on any more. A full cache would keep it, and take in none of those that are new. */
    void forgetIfIdle(String caseId) {
        OfCase known = ofCase(caseId);
        if (known != null && known.active().isEmpty()) {
            forgetCase(caseId);
        }
    }

    /** People, or what they belong to, are others now; cases are remembered with their requesters. */
    void forgetPeople() {
        cases.invalidateAll();
        people.invalidateAll();
        groups.invalidateAll();
        eligible.invalidateAll();
    }

    void forget() {
        stops = null;
        epoch = null;
        runs.invalidateAll();
        openWork.invalidateAll();
        workRead.invalidateAll();
        approvals.invalidateAll();
        followers.invalidateAll();
        counters.invalidateAll();
        forgetPeople();
    }
}
