package servitor.core.engine;

import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Commits changes that wait together in one transaction, and acknowledges each only after that commit. A group that
 * loses a race against another process is built again from what is there now. A change that fails takes nothing else with
 * it: the others are committed without it.
 *
 * <p>A change may be run several times, so it must touch nothing but what it is given.
 *
 * @param <T> what changes are made to within a transaction
 */
public final class Grouping<T> {
    /** Races are lost to somebody who has got on, so that this many in a row is no bad luck any more. */
    private static final int MOST_RACES = 100;

    private final Store<T> store;

    public Grouping(Store<T> store) {
        this.store = store;
    }

    /** What can hold a transaction. */
    public interface Store<T> {
        /** Runs {@code work} in a transaction and commits it durably; throws, having kept nothing, when either fails. */
        void commit(Consumer<T> work);
    }

    /** One change, and the future that tells its result once it is durable. */
    public static final class Change<T, R> {
        private final Function<T, R> work;
        private final CompletableFuture<R> acknowledged = new CompletableFuture<>();
        private @Nullable R result;

        public Change(Function<T, R> work) {
            this.work = work;
        }

        public CompletableFuture<R> acknowledged() {
            return acknowledged;
        }

        private void apply(T to) {
            result = work.apply(to);
        }

        private void acknowledge() {
            acknowledged.complete(result);
        }
    }

    /** Commits the changes and acknowledges them; what fails is told to the one whose change it is. */
    public void commit(List<Change<T, ?>> group) {
        for (int races = 0; ; races++) {
            try {
                store.commit(to -> group.forEach(change -> change.apply(to)));
                break;
            } catch (LostRace e) {
                if (races == MOST_RACES) {
                    failed(group, e);
                    return;
                }
            } catch (RuntimeException e) {
                failed(group, e);
                return;
            }
        }
        group.forEach(Change::acknowledge); // whatever becomes of that, what has committed isn't built again
    }

    private void failed(List<Change<T, ?>> group, RuntimeException e) {
        if (group.size() == 1) {
            group.get(0).acknowledged.completeExceptionally(e);
        } else {
            group.forEach(change -> commit(List.of(change)));
        }
    }
}
