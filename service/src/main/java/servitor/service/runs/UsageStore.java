package servitor.service.runs;

import java.math.BigDecimal;
import java.util.List;
import org.springframework.stereotype.Component;
import servitor.service.ledger.LedgerTransaction;

/** What has been used of limits. */
@Component
public class UsageStore {
    private final CounterMapper counters;

    UsageStore(CounterMapper counters) {
        this.counters = counters;
    }

    /** What calls that nobody was asked about have added to a counter. */
    public BigDecimal alone(String counter) {
        BigDecimal used = counters.alone(counter);
        return used == null ? BigDecimal.ZERO : used;
    }

    /** Counts work, all at once. */
    public void charge(List<CountedWork> counted) {
        if (!counted.isEmpty()) {
            ChargeColumns columns = ChargeColumns.of(counted);
            counters.add(columns);
            counters.insert(columns);
        }
    }

    /** Gives back what work was counted for. */
    public void refund(String work) {
        LedgerTransaction.writeHeld();
        counters.giveBack(work);
        counters.deleteCharges(work);
    }
}
