package servitor.connectors.access;

import java.time.Duration;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;

/**
 * When something has to be over. It is made once, when work is taken, and goes with everything that is done for it: signing in,
 * connecting, asking, asking again. Told by what measures how time passes, whatever clocks say. Safe for use by several threads.
 */
public final class Deadline {
    private static final ScheduledExecutorService WATCH = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "deadlines");
        thread.setDaemon(true);
        return thread;
    });

    private final long end;

    private Deadline(long end) {
        this.end = end;
    }

    /** After {@code time} from now. */
    public static Deadline in(Duration time) {
        return new Deadline(System.nanoTime() + time.toNanos());
    }

    /** This one, or after {@code time} from now, whichever is first. */
    public Deadline orIn(Duration time) {
        Deadline other = in(time);
        return other.end - end < 0 ? other : this;
    }

    /** How much time is left; zero when it has passed. */
    public Duration left() {
        return Duration.ofNanos(Math.max(0, end - System.nanoTime()));
    }

    /** The milliseconds that are left, as those want them who take zero for ever: one at least. */
    public int millis() {
        return (int) Math.min(Integer.MAX_VALUE, Math.max(1, left().toMillis()));
    }

    public boolean hasPassed() {
        return end - System.nanoTime() <= 0;
    }

    /** Has {@code end} done when the deadline passes, unless the cut is closed before. It must be quick and may be done at any time. */
    public Cut cut(Runnable end) {
        return new Cut(end);
    }

    /** What ends something that is still going on when its time is over. */
    public final class Cut implements AutoCloseable {
        private final AtomicBoolean done = new AtomicBoolean();
        private final ScheduledFuture<?> planned;

        private Cut(Runnable end) {
            planned = WATCH.schedule(
                    () -> {
                        done.set(true); // first, so that whoever is cut off knows why
                        end.run();
                    },
                    left().toNanos(),
                    TimeUnit.NANOSECONDS);
        }

        /** Whether it was cut off. */
        public boolean isDone() {
            return done.get();
        }

        @Override
        public void close() {
            planned.cancel(false);
        }
    }
}
