package servitor.service;

import org.springframework.context.SmartLifecycle;

/** Something that is done in rounds for as long as the service runs. */
public interface Recurring extends SmartLifecycle {
    /** Its rounds. */
    Rounds rounds();

    @Override
    default void start() {
        rounds().start();
    }

    @Override
    default void stop() {
        rounds().stop();
    }

    @Override
    default boolean isRunning() {
        return rounds().goOn();
    }
}
