package servitor.service.ledger;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.ConcurrencyFailureException;
import org.springframework.dao.DataAccessException;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionException;
import org.springframework.transaction.support.TransactionTemplate;
import servitor.core.engine.Grouping;
import servitor.core.engine.Grouping.Change;
import servitor.core.engine.LostRace;
import servitor.core.json.Json;
import servitor.core.trail.Happening;
import servitor.service.Durability;
import servitor.service.ServitorSettings;
import servitor.service.ledger.Rows.HeadRow;

/**
 * The one writer: every change of the database goes through its single thread, which commits those that wait together
 * ({@link Grouping}).
 */
@Component
public class Writer implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Writer.class);
    private static final int MOST_IN_A_GROUP = 200;

    private final Ledger ledger;
    private final Recent recent = new Recent();
    private final Clock clock;
    private final TransactionTemplate transactions;
    private final Grouping<Writing> grouping = new Grouping<>(this::commit);
    private final BlockingQueue<Change<Writing, ?>> queue = new LinkedBlockingQueue<>(10_000);
    private final List<Consumer<List<Writing.Changed>>> listeners = new java.util.concurrent.CopyOnWriteArrayList<>();
    private final Thread thread;
    private final boolean alone;
    private final boolean power;
    private final HeadFile headFile;
    private Instant last = Instant.MIN;
    private volatile boolean closing;

    Writer(Ledger ledger, Clock clock, PlatformTransactionManager transactionManager, ServitorSettings settings) {
        this.ledger = ledger;
        this.clock = clock;
        this.transactions = new TransactionTemplate(transactionManager);
        this.alone = !settings.isShared();
        this.power = settings.durability() == Durability.POWER;
        Path file = settings.data().resolve("head");
        HeadRow acknowledged = HeadFile.read(file).orElse(null);
        long lost = lost(file, acknowledged, settings.acceptLoss());
        this.headFile = new HeadFile(file, power);
        this.thread = new Thread(this::run, "writer");
        thread.start();
        if (lost > 0) {
            write(writing -> {
                writing.trail(
                        "",
                        "",
                        new Happening(
                                Happening.SYSTEM,
                                "loss-accepted",
                                "",
                                Json.object()
                                        .put("acknowledged", acknowledged.seq())
                                        .put("there", acknowledged.seq() - lost)));
                return null;
            });
        }
    }

    /** How many acknowledged entries the database has lost; throws when there are any and nobody has accepted that. */
    private long lost(Path file, @Nullable HeadRow acknowledged, boolean accepted) {
        if (acknowledged == null || acknowledged.seq() == 0) {
            return 0;
        }
        HeadRow entry = ledger.trail.entry(acknowledged.seq());
        if (entry != null && entry.hash().equals(acknowledged.hash())) {
            return 0;
        }
        long there = ledger.trail.head().seq();
        if (!accepted) {
            throw new LedgerBehind(file, acknowledged, there);
        }
        LOG.warn(
                "The database ends at entry {}, entry {} was acknowledged; the loss is accepted.",
                there,
                acknowledged.seq());
        return Math.max(1, acknowledged.seq() - there);
    }

    /** Is told, after each commit, what has changed; called on the writer's thread, so it must be quick. */
    public void onCommit(Consumer<List<Writing.Changed>> listener) {
        listeners.add(listener);
    }

    /** Makes a change and waits until it is durable. Throws what the change threw, having kept nothing of it. */
    public <T> T write(Function<Writing, T> work) {
        try {
            return submit(work).join();
        } catch (CompletionException e) {
            throw e.getCause() instanceof RuntimeException cause ? cause : e;
        }
    }

    /** Makes a change; the future completes when it is durable. */
    public <T> CompletableFuture<T> submit(Function<Writing, T> work) {
        if (closing) {
            throw new IllegalStateException("the service is stopping; nothing was changed");
        }
        Change<Writing, T> change = new Change<>(work);
        if (!queue.offer(change)) {
            throw new IllegalStateException(
                    "too many changes are waiting to be written; nothing was changed, try again");
        }
        return change.acknowledged();
    }

    private void run() {
        List<Change<Writing, ?>> group = new ArrayList<>();
        while (!closing || !queue.isEmpty()) {
            try {
                Change<Writing, ?> first = queue.poll(200, java.util.concurrent.TimeUnit.MILLISECONDS);
                if (first != null) {
                    group.add(first);
                    queue.drainTo(group, MOST_IN_A_GROUP - 1);
                    grouping.commit(group);
                    group.clear();
                }
            } catch (InterruptedException e) {
                LOG.warn("The writer was interrupted; it goes on until the service closes it.");
            }
        }
    }

    /** Commits, makes it durable, notes the head: only then is anybody told. */
    private void commit(Consumer<Writing> work) {
        Writing made = null;
        try {
            made = transactions.execute(status -> {
                Writing writing = new Writing(ledger, recent, time());
                work.accept(writing);
                writing.seal();
                return writing;
            });
            if (power) {
                ledger.trail.checkpointSync();
            } else {
                ledger.trail.checkpoint();
            }
        } catch (ConcurrencyFailureException e) {
            throw new LostRace("another process was writing", e);
        } catch (DataAccessException | TransactionException e) {
            endIfLost(e);
            throw e;
        } finally {
            if (made == null || !alone) {
                recent.forget();
            }
        }
        headFile.write(made.head());
        tell(made.changes());
    }

    /**
     * A database of this process alone that can't even be read any more has closed itself, most often for lack of room.
     * Nothing could be kept from here on, so the process ends; everything acknowledged is in the file.
     */
    private void endIfLost(RuntimeException e) {
        if (alone) {
            try {
                ledger.trail.head();
            } catch (DataAccessException | TransactionException closed) {
                LOG.error(
                        "The database can't be written any more; the service ends, and what it acknowledged is kept."
                                + " See that the disk has room and the folder can be written, then start it again.",
                        e);
                new Thread(() -> Runtime.getRuntime().halt(3), "end").start();
            }
        }
    }

    /** The time, which never goes back within a process even when the machine's clock does. */
    private Instant time() {
        Instant now = clock.instant();
        if (now.isBefore(last)) {
            if (now.plusSeconds(1).isBefore(last)) {
                LOG.warn(
                        "The machine's clock went back to {}; entries are dated {} until it has caught up.", now, last);
            }
            return last;
        }
        last = now;
        return now;
    }

    private void tell(List<Writing.Changed> changes) {
        for (Consumer<List<Writing.Changed>> listener : listeners) {
            try {
                listener.accept(changes);
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
            headFile.close();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (IOException e) {
            LOG.warn("The head file couldn't be closed.", e);
        }
    }
}
