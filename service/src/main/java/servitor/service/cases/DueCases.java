package servitor.service.cases;

import java.time.Clock;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.core.engine.Engine;
import servitor.core.handbook.CaseChange;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.Unavailable;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;

/** Says of cases that are open when they are due that they are late, once each, and starts what starts on that. */
@Component
public class DueCases {
    private static final Logger LOG = LoggerFactory.getLogger(DueCases.class);
    private static final int AT_ONCE = 100;

    private final CaseStore caseStore;
    private final Engine engine;
    private final Writer writer;
    private final Clock clock;

    DueCases(CaseStore caseStore, Engine engine, Writer writer, Clock clock) {
        this.caseStore = caseStore;
        this.engine = engine;
        this.writer = writer;
        this.clock = clock;
    }

    /** Sees to those that are due by now. */
    public void look() {
        for (String id : caseStore.due(clock.instant(), AT_ONCE)) {
            try {
                writer.write(tx -> {
                    see(tx, id);
                    return id;
                });
            } catch (Unavailable e) {
                throw e;
            } catch (RuntimeException e) {
                LOG.error("Whether {} is late wasn't noted; the others are.", id, e);
            }
        }
    }

    private void see(LedgerTransaction tx, String id) {
        CaseRow row = caseStore.find(id).orElseThrow();
        boolean seen = caseStore.dueSeen(id, !row.isDone());
        if (seen && row.due() != null && !row.isDone()) {
            tx.trail(
                    id,
                    "",
                    new TrailEvent(
                            TrailEvent.SYSTEM,
                            TrailWord.CASE_LATE,
                            "",
                            Json.object().put("due", row.due().toString())));
            CaseStore.changed(tx, row);
            engine.changed(tx.store(), id, CaseChange.What.LATE);
        }
    }
}
