package servitor.service.ledger;

import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.function.Consumer;
import java.util.function.Function;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;
import servitor.core.engine.Grouping;
import servitor.core.engine.Grouping.Change;

/**
 * The one writer: every change of the database goes through its single thread, which commits those that wait together
 * ({@link Grouping}).
 */
@Component
public class Writer implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Writer.class);
    private static final int MOST_IN_A_GROUP = 200;

    private final Ledger ledger;
    private final Clock clock;
    private final TransactionTemplate transactions;
    private final Grouping<Writing> grouping = new Grouping<>(this::commit);
    private final BlockingQueue<Change<Writing, ?>> queue = new LinkedBlockingQueue<>(10_000);
    private final List<Consumer<List<Writing.Changed>>> listeners = new java.util.concurrent.CopyOnWriteArrayList<>();
    private final Thread thread;
    private volatile boolean closing;

    Writer(Ledger ledger, Clock clock, PlatformTransactionManager transactionManager) {
        this.ledger = ledger;
        this.clock = clock;
        this.transactions = new TransactionTemplate(transactionManager);
        this.thread = new Thread(this::run, "writer");
        thread.start();
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

    private void commit(Consumer<Writing> work) {
        tell(transactions.execute(status -> {
            Writing writing = new Writing(ledger, clock.instant());
            work.accept(writing);
            writing.seal();
            return writing.changes();
        }));
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
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
