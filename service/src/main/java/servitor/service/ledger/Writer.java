package servitor.service.ledger;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.dao.ConcurrencyFailureException;
import org.springframework.dao.DataAccessException;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionException;
import org.springframework.transaction.support.TransactionTemplate;
import servitor.core.engine.Grouping;
import servitor.core.engine.Grouping.Change;
import servitor.core.engine.LostRace;
import servitor.core.engine.Work;
import servitor.core.trail.TrailEvent;
import servitor.service.Durability;
import servitor.service.OwnerOnly;
import servitor.service.ServitorSettings;
import servitor.service.SteadyClock;
import servitor.service.Unavailable;

/**
 * The one writer: every change of the database goes through its single thread, which commits those that wait together
 * ({@link Grouping}).
 */
@Component
public class Writer implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Writer.class);
    private static final int MOST_IN_A_GROUP = 200;

    private final TrailMapper trail;
    private final InstallationMapper installation;
    private final EngineStores engine;
    private final SteadyClock clock;
    private final Ending ending;
    private final TransactionTemplate transactions;
    private final Grouping<LedgerTransaction> grouping = new Grouping<>(this::commit);
    private final BlockingQueue<Change<LedgerTransaction, ?>> queue = new LinkedBlockingQueue<>(10_000);
    private final List<Consumer<List<LedgerTransaction.Changed>>> listeners = new CopyOnWriteArrayList<>();
    private final List<Consumer<List<Work>>> workers = new CopyOnWriteArrayList<>();
    private final Thread thread;
    private final ExecutorService beside = Executors.newSingleThreadExecutor(work -> {
        Thread made = new Thread(work, "beside the writer");
        made.setDaemon(true);
        return made;
    });
    private final boolean alone;
    private final boolean power;
    private final HeadFile headFile;
    private volatile boolean closing;
    private volatile long busySince;

    @Autowired
    Writer(
            TrailMapper trail,
            InstallationMapper installation,
            EngineStores engine,
            SteadyClock clock,
            PlatformTransactionManager transactionManager,
            ServitorSettings settings) {
        this(trail, installation, engine, clock, transactionManager, settings, Ending.PROCESS);
    }

    Writer(
            TrailMapper trail,
            InstallationMapper installation,
            EngineStores engine,
            SteadyClock clock,
            PlatformTransactionManager transactionManager,
            ServitorSettings settings,
            Ending ending) {
        this.trail = trail;
        this.installation = installation;
        this.engine = engine;
        this.clock = clock;
        this.ending = ending;
        this.transactions = new TransactionTemplate(transactionManager);
        this.alone = !settings.isShared();
        this.power = settings.durability() == Durability.POWER;
        Path file = settings.data().resolve("head");
        Path restored = settings.data().resolve(Restore.MARK);
        OwnerOnly.filesOf(settings.data()); // the database has made its file by now
        TrailEvent begins = Beginning.of(trail, file, restored, alone, settings.acceptLoss());
        Optional.ofNullable(trail.newestTime())
                .map(clock::notBefore)
                .filter(behind -> !behind.isZero())
                .ifPresent(behind -> LOG.warn(
                        "The machine's clock is {} behind the newest entry; time goes on from there until it has caught up.",
                        behind));
        this.headFile = new HeadFile(file, power);
        this.thread = new Thread(this::run, "writer");
        thread.start();
        begin(begins, restored);
    }

    /** Gives the installation its epoch; what was restored or has lost something begins a new one, and says so on the trail. */
    private void begin(@Nullable TrailEvent begins, Path restored) {
        String epoch = Beginning.newEpoch();
        write(tx -> {
            tx.firstEpoch(epoch); // for a new database, and for one of an earlier version
            if (begins != null) {
                tx.newEpoch(epoch);
                tx.trail("", "", begins);
            }
            return null;
        });
        Beginning.done(restored);
    }

    /** Is told, after each commit, what has changed; called on the writer's thread, so it must be quick. */
    public void onCommit(Consumer<List<LedgerTransaction.Changed>> listener) {
        listeners.add(listener);
    }

    /** Is told, after each commit, what work can be carried out from now on; called on the writer's thread, so it must be quick. */
    public void onReady(Consumer<List<Work>> listener) {
        workers.add(listener);
    }

    /** Makes a change and waits until it is durable. Throws what the change threw, having kept nothing of it. */
    public <T> T write(Function<LedgerTransaction, T> work) {
        try {
            return submit(work).join();
        } catch (CompletionException e) {
            throw e.getCause() instanceof RuntimeException cause ? cause : e;
        }
    }

    /** Makes a change; the future completes when it is durable. */
    public <T> CompletableFuture<T> submit(Function<LedgerTransaction, T> work) {
        if (closing) {
            throw new Unavailable("The service is ending. Nothing was changed; try again once it is back.");
        }
        Change<LedgerTransaction, T> change = new Change<>(work);
        if (!queue.offer(change)) {
            throw new Unavailable("Too much is waiting to be written. Nothing was changed; try again in a moment.");
        }
        return change.acknowledged();
    }

    private void run() {
        List<Change<LedgerTransaction, ?>> group = new ArrayList<>();
        while (!closing || !queue.isEmpty()) {
            try {
                Change<LedgerTransaction, ?> first = queue.poll(200, java.util.concurrent.TimeUnit.MILLISECONDS);
                if (first != null) {
                    busySince = System.nanoTime();
                    group.add(first);
                    queue.drainTo(group, MOST_IN_A_GROUP - 1);
                    grouping.commit(group);
                    group.clear();
                }
                busySince = 0;
            } catch (InterruptedException e) {
                LOG.warn("The writer was interrupted; it goes on until the service closes it.");
            } catch (Throwable e) { // whatever it is, nobody writes any more
                ending.end("The writer broke; the service ends, and what it acknowledged is kept.", e);
                return;
            }
        }
    }

    /** For how long the writer has been at one group; empty while it waits for something to write. */
    public Optional<Duration> busyFor() {
        long since = busySince;
        return since == 0 ? Optional.empty() : Optional.of(Duration.ofNanos(System.nanoTime() - since));
    }

    /** Whether anybody writes. */
    public boolean isAlive() {
        return thread.isAlive();
    }

    /** Commits, makes it durable, notes the head: only then is anybody told. What has committed is never built again. */
    private void commit(Consumer<LedgerTransaction> work) {
        LedgerTransaction made = transaction(work);
        try {
            if (power) {
                trail.checkpointSync();
            } else {
                trail.checkpoint();
            }
            headFile.write(made.head());
        } catch (RuntimeException e) {
            ending.end(
                    "What was just committed can't be acknowledged; the service ends, and what it acknowledged is kept."
                            + " See that the disk has room and the data folder can be written, then start it again.",
                    e);
        }
        tell(listeners, made.changes());
        tell(workers, made.ready());
    }

    private LedgerTransaction transaction(Consumer<LedgerTransaction> work) {
        AtomicReference<@Nullable LedgerTransaction> built = new AtomicReference<>();
        LedgerTransaction made = null;
        try {
            made = transactions.execute(status -> {
                LedgerTransaction tx = new LedgerTransaction(trail, installation, engine, clock.instant(), beside);
                work.accept(tx);
                tx.seal();
                built.set(tx);
                return tx;
            });
            return Objects.requireNonNull(made);
        } catch (ConcurrencyFailureException e) {
            throw new LostRace("another process was writing", e);
        } catch (TransactionException e) {
            if (hasCommitted(built.get(), e)) {
                made = built.get();
                return Objects.requireNonNull(made);
            }
            throw e;
        } catch (DataAccessException e) {
            endIfLost(e);
            throw e;
        } finally {
            LedgerTransaction.ended();
            if (made == null || !alone) {
                engine.forget();
            }
        }
    }

    /** Whether a commit that failed has taken place all the same: the trail's head tells. What can't be told ends the process. */
    private boolean hasCommitted(@Nullable LedgerTransaction built, TransactionException e) {
        if (built == null) {
            endIfLost(e);
            return false;
        }
        try {
            HeadRow there = trail.head();
            if (built.hasEntries()) {
                return there.hash().equals(built.head().hash());
            }
        } catch (DataAccessException | TransactionException closed) {
            e.addSuppressed(closed);
        }
        ending.end("Nobody can tell whether the last changes were committed; the service ends.", e);
        return false;
    }

    /**
     * A database of this process alone that can't even be read any more has closed itself, most often for lack of room.
     * Nothing could be kept from here on, so the process ends; everything acknowledged is in the file.
     */
    private void endIfLost(RuntimeException e) {
        if (alone) {
            try {
                trail.head();
            } catch (DataAccessException | TransactionException closed) {
                ending.end(
                        "The database can't be written any more; the service ends, and what it acknowledged is kept."
                                + " See that the disk has room and the folder can be written, then start it again.",
                        e);
            }
        }
    }

    private static <T> void tell(List<Consumer<List<T>>> listeners, List<T> news) {
        for (Consumer<List<T>> listener : listeners) {
            try {
                listener.accept(news);
            } catch (RuntimeException e) {
                LOG.warn("Somebody who wanted to hear of changes failed; the changes themselves are kept.", e);
            }
        }
    }

    /** Writes what is waiting, then stops. */
    @Override
    @PreDestroy
    public void close() {
        closing = true;
        try {
            thread.join(30_000);
            beside.shutdown();
            headFile.close();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (IOException e) {
            LOG.warn("The head file couldn't be closed.", e);
        }
    }
}
