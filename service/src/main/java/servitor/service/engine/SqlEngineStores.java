package servitor.service.engine;

import java.util.function.Supplier;
import org.springframework.stereotype.Component;
import servitor.service.approvals.ApprovalStore;
import servitor.service.cases.CaseStore;
import servitor.service.ledger.EngineStores;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.TransactionStore;
import servitor.service.people.PersonStore;
import servitor.service.runs.RunStore;
import servitor.service.runs.StopStore;
import servitor.service.runs.TroubleStore;
import servitor.service.runs.UsageStore;
import servitor.service.runs.WorkStore;

/** The stores of all features that the engine works on, with what is remembered from one transaction to the next. */
@Component
public final class SqlEngineStores implements EngineStores {
    final PersonStore people;
    final CaseStore cases;
    final RunStore runs;
    final WorkStore works;
    final TroubleStore troubles;
    final UsageStore usage;
    final StopStore stops;
    final ApprovalStore approvals;
    final WriterCache cache = new WriterCache();

    SqlEngineStores(
            PersonStore people,
            CaseStore cases,
            RunStore runs,
            WorkStore works,
            TroubleStore troubles,
            UsageStore usage,
            StopStore stops,
            ApprovalStore approvals) {
        this.people = people;
        this.cases = cases;
        this.runs = runs;
        this.works = works;
        this.troubles = troubles;
        this.usage = usage;
        this.stops = stops;
        this.approvals = approvals;
    }

    @Override
    public TransactionStore open(LedgerTransaction transaction) {
        return new SqlEngineStore(transaction, this);
    }

    @Override
    public String epoch(Supplier<String> read) {
        return cache.epoch(read);
    }

    @Override
    public void forget() {
        cases.forgetHeld();
        cache.forget();
    }

    @Override
    public void forgetPeople() {
        cache.forgetPeople();
    }

    @Override
    public void forgetCase(String id) {
        cache.forgetCase(id);
    }

    @Override
    public void forgetRun(String id) {
        cache.forgetRun(id);
    }
}
