package servitor.service.dispatch;

import java.time.Duration;
import java.time.Instant;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.core.engine.Work;
import servitor.core.engine.WorkLeases;
import servitor.service.Unavailable;
import servitor.service.approvals.Approvals;
import servitor.service.cases.DueCases;
import servitor.service.forms.PublicForms;
import servitor.service.intake.EventIntake;
import servitor.service.intake.ScheduledIntake;
import servitor.service.ledger.Writer;
import servitor.service.runs.Retention;
import servitor.service.runs.WorkStore;

/**
 * What has to be seen to from time to time beside the work that runs ask for: approvals that lapse or want a reminder, cases that are
 * due, schedules, work that its taker has left, rows that can't be read, and the moving out of what is old. Used by the dispatcher's thread alone.
 */
@Component
class Upkeep {
    private static final Logger LOG = LoggerFactory.getLogger(Upkeep.class);

    private final Approvals approvals;
    private final DueCases dueCases;
    private final WorkStore workStore;
    private final WorkLeases leases;
    private final Retention retention;
    private final EventIntake eventIntake;
    private final ScheduledIntake scheduledIntake;
    private final PublicForms forms;
    private final Writer writer;
    private Instant nextMovingOut = Instant.MIN;

    Upkeep(
            Approvals approvals,
            DueCases dueCases,
            WorkStore workStore,
            WorkLeases leases,
            Retention retention,
            EventIntake eventIntake,
            ScheduledIntake scheduledIntake,
            PublicForms forms,
            Writer writer) {
        this.forms = forms;
        this.approvals = approvals;
        this.dueCases = dueCases;
        this.workStore = workStore;
        this.leases = leases;
        this.retention = retention;
        this.eventIntake = eventIntake;
        this.scheduledIntake = scheduledIntake;
        this.writer = writer;
    }

    void run(Instant now) {
        approvals.expireOverdue();
        approvals.withdrawInvalid();
        approvals.remind();
        dueCases.look();
        eventIntake.writeRefused();
        scheduledIntake.look();
        recover(now);
        moveOutDaily(now);
        giveUnreadableToPeople(now);
    }

    private void moveOutDaily(Instant now) {
        if (now.isAfter(nextMovingOut)) {
            nextMovingOut = now.plus(Duration.ofDays(1));
            eventIntake.forgetOld();
            forms.forgetOld();
            new Thread(retention::keepTheSettings, "moving-out").start(); // it may take long
        }
    }

    /** Work whose row can't be read is nobody's to carry out; it holds up no other. */
    private void giveUnreadableToPeople(Instant now) {
        workStore
                .unreadable(now, 20)
                .forEach(row -> writer.write(tx -> {
                    workStore.giveToPeople(tx, row);
                    return null;
                }));
    }

    /** Takes up commands whose taker is gone: repeats what may be repeated, asks people about the rest. */
    private void recover(Instant now) {
        for (Work work : workStore.abandoned(now, 100)) {
            try {
                writer.write(tx -> {
                    leases.takeUp(tx.store(), work);
                    return null;
                });
            } catch (Unavailable e) {
                throw e;
            } catch (RuntimeException e) {
                LOG.error("Command {} can't be taken up again; the others are.", work.id(), e);
            }
        }
    }
}
