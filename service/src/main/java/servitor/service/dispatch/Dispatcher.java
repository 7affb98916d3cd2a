package servitor.service.dispatch;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Outcome;
import servitor.core.engine.Work;
import servitor.core.engine.WorkLeases;
import servitor.core.handbook.Handbook;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.service.ServitorSettings;
import servitor.service.Unavailable;
import servitor.service.editions.Editions;
import servitor.service.ledger.Writer;
import servitor.service.runs.RunStore;
import servitor.service.runs.Stops;
import servitor.service.runs.WorkStore;

/**
 * Carries out commands. A command is taken, with a lease, in a durable write of its own before anything leaves the
 * process; what came of it is fed back in another. One thread looks for work; a fixed number do it.
 */
@Component
public class Dispatcher implements SmartLifecycle {
    private static final Logger LOG = LoggerFactory.getLogger(Dispatcher.class);
    private static final int WORKERS = 64;
    /** How often it is looked for what no commit of this process has told. */
    private static final Duration LOOK = Duration.ofSeconds(1);

    private final WorkStore workStore;
    private final RunStore runStore;
    private final Writer writer;
    private final Editions editions;
    private final ToolGate gate;
    private final ModelGateway models;
    private final CaseDocuments documents;
    private final ConnectionLimits lines;
    private final Stops stops;
    private final Upkeep upkeep;
    private final ServitorSettings settings;
    private final Clock clock;
    private final WorkLeases leases;
    private final Semaphore wake = new Semaphore(0);
    private final Semaphore free = new Semaphore(WORKERS);
    private final WaitingWork waiting = new WaitingWork();
    private volatile long nextLook = System.nanoTime();
    private volatile long lastPass = System.nanoTime();
    private volatile boolean running;
    private volatile ExecutorService workers = Executors.newFixedThreadPool(1);
    private volatile Thread thread = new Thread(this::loop, "dispatcher");

    Dispatcher(
            WorkStore workStore,
            RunStore runStore,
            Writer writer,
            WorkLeases leases,
            Editions editions,
            ToolGate gate,
            ModelGateway models,
            CaseDocuments documents,
            ConnectionLimits lines,
            Stops stops,
            Upkeep upkeep,
            ServitorSettings settings,
            Clock clock) {
        this.workStore = workStore;
        this.runStore = runStore;
        this.writer = writer;
        this.leases = leases;
        this.editions = editions;
        this.gate = gate;
        this.models = models;
        this.documents = documents;
        this.lines = lines;
        this.stops = stops;
        this.upkeep = upkeep;
        this.settings = settings;
        this.clock = clock;
        writer.onReady(ready -> {
            Instant soon = clock.instant().plus(LOOK);
            waiting.add(ready.stream().filter(work -> work.due().isBefore(soon)).toList());
            if (!ready.isEmpty()) {
                wake.release();
            }
        });
    }

    @Override
    public void start() {
        running = true;
        workers = Executors.newFixedThreadPool(WORKERS);
        // A database file is open to one process only, so whoever held a lease before is gone; a shared one is not.
        int left = settings.isShared() ? 0 : writer.write(tx -> workStore.dropLeases(tx.now()));
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
        try {
            thread.join(5_000); // first nothing more is taken, so that whatever has been taken finds a worker
            workers.shutdown();
            if (!workers.awaitTermination(10, TimeUnit.SECONDS)) {
                LOG.warn("Some calls are still going on; they are taken up again at the next start.");
            }
        } catch (InterruptedException e) {
            workers.shutdown();
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public boolean isRunning() {
        return running;
    }

    /** Looks for work at once instead of when it next falls due; for whoever moves the clock. */
    public void lookNow() {
        nextLook = System.nanoTime();
        wake.release();
    }

    private void loop() {
        while (running) {
            try {
                if (System.nanoTime() - nextLook >= 0) {
                    look();
                }
                Instant now = clock.instant();
                if (takeDue(now) == 0 && running) {
                    pause(now);
                }
                lastPass = System.nanoTime();
            } catch (InterruptedException e) {
                LOG.debug("woken while waiting");
            } catch (RuntimeException e) {
                LOG.error("Looking for work failed; trying again shortly.", e);
                sleepAfterTrouble();
            }
        }
    }

    /** How long ago the dispatcher last looked for work without trouble. */
    public Duration sinceLastPass() {
        return Duration.ofNanos(System.nanoTime() - lastPass);
    }

    /** Whether somebody looks for work. */
    public boolean isAlive() {
        return thread.isAlive();
    }

    /** Looks for everything that falls due by itself, or that others have left. */
    private void look() {
        nextLook = System.nanoTime() + LOOK.toNanos();
        Instant now = clock.instant();
        upkeep.run(now);
        for (String line : workStore.connectionsWaitedFor()) {
            int wanted = waiting.wanted(line);
            waiting.add(wanted == 0 ? List.of() : workStore.due(line, now, wanted));
        }
        workStore
                .nextDue(now)
                .map(due -> System.nanoTime() + Duration.between(now, due).toNanos())
                .filter(due -> due - nextLook < 0)
                .ifPresent(due -> nextLook = due);
    }

    /** Waits for something to do after {@code now}; what was due then and couldn't be sent waits for a call to end. */
    private void pause(Instant now) throws InterruptedException {
        if (waiting.mayHaveMore()) {
            nextLook = System.nanoTime();
            return;
        }
        Instant due = waiting.firstDue(now);
        Duration untilDue = due.equals(Instant.MAX) ? LOOK : Duration.between(now, due);
        long untilLook = TimeUnit.NANOSECONDS.toMillis(nextLook - System.nanoTime());
        long millis = Math.max(5, Math.min(untilDue.toMillis(), untilLook));
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

    /** Takes what is due and can be sent now, up to the number of free workers; returns how many were taken. */
    private int takeDue(Instant now) throws InterruptedException {
        if (!free.tryAcquire(1, TimeUnit.SECONDS)) {
            return 1; // nobody could do it; what else is to be seen to doesn't wait for that
        }
        free.release();
        if (!running) {
            return 0;
        }
        int room = Math.max(1, free.availablePermits());
        List<Work> due = waiting.take(now, room, lines::room);
        if (due.isEmpty()) {
            return 0;
        }
        due.forEach(work -> lines.reserve(work.connection()));
        long since = System.nanoTime(); // before the lease begins, so that it is never believed to last longer
        List<Work> taken = take(due);
        for (Work work : taken) {
            free.acquire();
            workers.execute(() -> carryOut(work, since));
        }
        return taken.size();
    }

    private List<Work> take(List<Work> due) {
        List<Work> taken = List.of();
        try {
            taken = writer.write(tx -> leases.take(tx.store(), due));
            return taken;
        } finally {
            Set<String> mine = taken.stream().map(Work::id).collect(Collectors.toSet());
            due.stream().filter(work -> !mine.contains(work.id())).forEach(work -> lines.release(work.connection()));
        }
    }

    private void carryOut(Work work, long since) {
        try {
            Optional<Outcome> outcome = overItsConnection(work, since);
            if (outcome.isPresent()) {
                settle(work, outcome.get());
            }
        } catch (InterruptedException e) {
            LOG.info("Command {} was interrupted; it is taken up again when its lease runs out.", work.id());
        } catch (RuntimeException e) {
            LOG.error("Command {} failed in a way nobody foresaw.", work.id(), e);
            broke(work, e);
        } finally {
            free.release();
            wake.release();
        }
    }

    /** Makes the call, and leaves the connection to the next before what came of it is written; empty when nothing was sent. */
    private Optional<Outcome> overItsConnection(Work work, long since) throws InterruptedException {
        try {
            if (!leases.mayBeSent(Duration.ofNanos(System.nanoTime() - since))) {
                LOG.warn("Command {} was taken too long ago to be sent; it is taken up again.", work.id());
                return Optional.empty();
            }
            if (stops.holds(work)) {
                writer.write(tx -> {
                    leases.holdBack(tx.store(), work);
                    return null;
                });
                return Optional.empty();
            }
            Outcome outcome = attempt(work);
            lines.note(work.connection(), outcome);
            return Optional.of(outcome);
        } finally {
            lines.release(work.connection());
            wake.release();
        }
    }

    /** What came of it stands, even where the run can't go on from it. */
    private void settle(Work work, Outcome outcome) {
        try {
            writer.write(tx -> {
                leases.settle(tx.store(), work, outcome);
                return null;
            });
        } catch (Unavailable e) {
            throw e;
        } catch (RuntimeException e) {
            LOG.error("What came of command {} can't be taken in by its run; it is set aside.", work.id(), e);
            writer.write(tx -> {
                leases.setAside(
                        tx.store(),
                        work,
                        outcome,
                        "an error nobody foresaw: " + e.getClass().getSimpleName());
                return null;
            });
        }
    }

    private void broke(Work work, RuntimeException e) {
        try {
            writer.write(tx -> {
                leases.broke(
                        tx.store(),
                        work,
                        "an error nobody foresaw: " + e.getClass().getSimpleName());
                return null;
            });
        } catch (RuntimeException again) {
            LOG.error("Command {} is taken up again when its lease runs out.", work.id(), again);
        }
    }

    private Outcome attempt(Work work) throws InterruptedException {
        if (work.command() instanceof Command.SetTimer) {
            return new Outcome.Done(new RunInput.TimeUp(work.id()));
        }
        RunStore.Pinned pinned = runStore.pinned(work.run());
        Handbook handbook = editions.get(pinned.edition()).handbook();
        Deadline deadline = Deadline.in(settings.longestCall());
        if (work.command() instanceof Command.AskModel ask) {
            return models.ask(
                    handbook.house(),
                    ask.prompt(),
                    picture -> documents.picture(pinned.caseId(), picture),
                    work.id(),
                    deadline);
        }
        if (work.command() instanceof Command.ReadDocument read) {
            return new Outcome.Done(documents.read(pinned.caseId(), work.id(), read.document()));
        }
        ProposedCall call = ((Command.CallTool) work.command()).call();
        return gate.call(handbook, pinned.caseId(), call, work.id(), work.key(), deadline);
    }
}
