package servitor.service.runs;

import java.util.List;
import org.springframework.stereotype.Component;
import servitor.core.engine.Stop;
import servitor.service.ledger.LedgerTransaction;

/** Emergency stops that stand. */
@Component
public class StopStore {
    private final StopMapper stops;

    StopStore(StopMapper stops) {
        this.stops = stops;
    }

    /** The oldest first. */
    public List<Stop> all() {
        return stops.all().stream().map(RowConversion::stop).toList();
    }

    public void put(Stop stop) {
        stops.put(new StopRow(stop.what().word(), stop.name(), stop.reason(), stop.by(), stop.at()));
    }

    public void lift(Stop stop) {
        LedgerTransaction.fenced(stops.lift(stop.what().word(), stop.name()), "the stop of " + stop.name());
    }
}
