package servitor.service.dispatch;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import servitor.core.engine.Claims;
import servitor.core.engine.Outcome;
import servitor.core.engine.Work;
import servitor.core.handbook.Handbook;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.service.approvals.Approvals;
import servitor.service.editions.Editions;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.RunRow;
import servitor.service.ledger.Writer;
import servitor.service.ledger.Writing;

/**
 * Carries out commands. A command is taken, with a lease, in a durable write of its own before anything leaves the
 * process; what came of it is fed back in another. One thread looks for work; a fixed number do it.
 */
@Component
public class Dispatcher implements SmartLifecycle {
    private static final Logger LOG = LoggerFactory.getLogger(Dispatcher.class);
    private static final int WORKERS = 24;
    private static final Duration IDLE = Duration.ofSeconds(1);

    private final Ledger ledger;
    private final Writer writer;
    private final Approvals approvals;
    private final Editions editions;
    private final ToolGate gate;
    private final ModelGateway models;
    private final Clock clock;
    private final Claims claims;
    private final Semaphore wake = new Semaphore(0);
    private final Semaphore free = new Semaphore(WORKERS);
    private volatile boolean running;
    private volatile ExecutorService workers = Executors.newFixedThreadPool(1);
    private volatile Thread thread = new Thread(this::loop, "dispatcher");

    Dispatcher(
            Ledger ledger,
            Writer writer,
            Approvals approvals,
            Claims claims,
            Editions editions,
            ToolGate gate,
            ModelGateway models,
            Clock clock) {
        this.ledger = ledger;
        this.writer = writer;
        this.approvals = approvals;
        this.claims = claims;
        this.editions = editions;
        this.gate = gate;
        this.models = models;
        this.clock = clock;
        writer.onCommit(changes -> {
            if (!changes.isEmpty()) {
                wake.release();
            }
        });
    }

    @Override
    public void start() {
        running = true;
        workers = Executors.newFixedThreadPool(WORKERS);
        // The database file is open to one process only, so whoever held a lease before is gone.
        int left = writer.write(Writing::dropLeases);
        if (left > 0) {
            LOG.info("{} command(s) were being carried out when the service stopped; they are taken up again.", left);
        }
        thread = new Thread(this::loop, "dispatcher");
        thread.start();
    }

    @Override
    public void stop() {
        running = false;
        wake.release();
        workers.shutdown();
        try {
            thread.join(5_000);
            if (!workers.awaitTermination(10, TimeUnit.SECONDS)) {
                LOG.warn("Some calls are still going on; they are taken up again at the next start.");
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public boolean isRunning() {
        return running;
    }

    private void loop() {
        while (running) {
            try {
                approvals.expireOverdue();
                approvals.remind();
                recover();
                int taken = takeDue();
                if (taken == 0) {
                    pause();
                }
            } catch (InterruptedException e) {
                LOG.debug("woken while waiting");
            } catch (RuntimeException e) {
                LOG.error("Looking for work failed; trying again shortly.", e);
                sleepAfterTrouble();
            }
        }
    }

    private void pause() throws InterruptedException {
        Duration until = ledger.nextDue()
                .map(due -> Duration.between(clock.instant(), due))
                .orElse(IDLE);
        long millis = Math.max(5, Math.min(until.toMillis(), IDLE.toMillis()));
        if (wake.tryAcquire(millis, TimeUnit.MILLISECONDS)) {
            wake.drainPermits();
        }
    }

    private void sleepAfterTrouble() {
        try {
            TimeUnit.SECONDS.sleep(1);
        } catch (InterruptedException e) {
            LOG.debug("woken while waiting");
        }
    }

    /** Takes what is due, up to the number of free workers; returns how many were taken. */
    private int takeDue() throws InterruptedException {
        free.acquire(); // wait until somebody could do it, before it is taken
        free.release();
        List<Work> due = ledger.dueWork(clock.instant(), Math.max(1, free.availablePermits()));
        if (due.isEmpty()) {
            return 0;
        }
        List<Work> taken = writer.write(writing -> claims.take(writing.books(), due));
        for (Work work : taken) {
            free.acquire();
            workers.execute(() -> carryOut(work));
        }
        return taken.size();
    }

    private void carryOut(Work work) {
        try {
            Outcome outcome = attempt(work);
            writer.write(writing -> {
                claims.settle(writing.books(), work, outcome);
                return null;
            });
        } catch (InterruptedException e) {
            LOG.info("Command {} was interrupted; it is taken up again when its lease runs out.", work.id());
        } catch (RuntimeException e) {
            LOG.error(
                    "Command {} failed in a way nobody foresaw; it is taken up again when its lease runs out.",
                    work.id(),
                    e);
        } finally {
            free.release();
        }
    }

    private Outcome attempt(Work work) throws InterruptedException {
        if (work.command() instanceof Command.SetTimer) {
            return new Outcome.Done(new RunInput.TimeUp(work.id()));
        }
        RunRow run = ledger.run(work.run()).orElseThrow();
        Handbook handbook = editions.get(run.edition()).handbook();
        if (work.command() instanceof Command.AskModel ask) {
            return models.ask(handbook.house(), ask.prompt(), work.id());
        }
        ProposedCall call = ((Command.CallTool) work.command()).call();
        return gate.call(handbook.tools().get(call.tool()), call, work.id());
    }

    /** Takes up commands whose taker is gone: repeats what may be repeated, asks people about the rest. */
    private void recover() {
        for (Work work : ledger.abandoned(clock.instant(), 100)) {
            writer.write(writing -> {
                claims.takeUp(writing.books(), work);
                return null;
            });
        }
    }
}
