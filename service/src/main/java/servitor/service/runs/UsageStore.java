package servitor.service.runs;

import java.math.BigDecimal;
import java.util.List;
import org.springframework.stereotype.Component;
import servitor.core.mandate.Charge;

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

    /** Counts work; {@code alone} is whether nobody was asked about it. */
    public void charge(String work, List<Charge> charges, boolean alone) {
        for (Charge charge : charges) {
            BigDecimal byAgents = alone ? charge.amount() : BigDecimal.ZERO;
            BigDecimal byPeople = alone ? BigDecimal.ZERO : charge.amount();
            counters.add(charge.counter(), byAgents, byPeople);
            counters.charge(work, charge.counter(), charge.amount(), alone);
        }
    }

    /** Gives back what work was counted for. */
    public void refund(String work) {
        counters.giveBack(work);
        counters.deleteCharges(work);
    }
}
