package servitor.service.runs;

import java.math.BigDecimal;
import java.util.List;
import servitor.service.ledger.Columns;

/** What work was counted for, as columns, each an array, so that one statement writes it all. */
record ChargeColumns(Object work, Object counter, Object amount, Object alone, Object byAgents, Object byPeople) {
    static ChargeColumns of(List<CountedWork> counted) {
        return new ChargeColumns(
                Columns.texts(counted, CountedWork::work),
                Columns.texts(counted, one -> one.charge().counter()),
                counted.stream().map(one -> one.charge().amount()).toArray(BigDecimal[]::new),
                counted.stream().map(CountedWork::alone).toArray(Boolean[]::new),
                counted.stream().map(CountedWork::byAgents).toArray(BigDecimal[]::new),
                counted.stream().map(CountedWork::byPeople).toArray(BigDecimal[]::new));
    }
}
