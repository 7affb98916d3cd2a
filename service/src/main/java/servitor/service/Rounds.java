package servitor.service;

import java.time.Duration;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Does something again and again, in a thread of its own, until it is stopped. A round that fails doesn't end the next ones. */
public final class Rounds {
    private static final Logger LOG = LoggerFactory.getLogger(Rounds.class);
    private static final int PATIENCE = 5_000;

    private final String name;
    private final Duration pause;
    private final Runnable round;
    private final Semaphore waking = new Semaphore(0);
    private volatile boolean running;
    private Thread thread;

    /**
     * Rounds that don't go yet.
     *
     * @param name of the thread, and of the rounds in the log
     * @param pause between two of them
     */
    public Rounds(String name, Duration pause, Runnable round) {
        this.name = name;
        this.pause = pause;
        this.round = round;
        this.thread = new Thread(this::go, name);
    }

    /** Whether they go on; a long round asks now and then. */
    public boolean goOn() {
        return running;
    }

    public void start() {
        running = true;
        thread = new Thread(this::go, name);
        thread.setDaemon(true);
        thread.start();
    }

    /** Has the next one begin as soon as the one under way is over. */
    public void wake() {
        waking.release();
    }

    /** Ends them, and waits a little for the one under way. */
    public void stop() {
        running = false;
        waking.release();
        try {
            thread.join(PATIENCE);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private void go() {
        while (running) {
            try {
                round.run();
            } catch (RuntimeException e) {
                LOG.warn("A round of ‘{}’ failed; the next one comes.", name, e);
            }
            try {
                if (waking.tryAcquire(pause.toMillis(), TimeUnit.MILLISECONDS)) {
                    waking.drainPermits(); // whoever has woken it meanwhile means the same round
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }
}
