package servitor.service.api;

import java.time.Duration;
import org.springframework.boot.health.contributor.Health;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.stereotype.Component;
import servitor.service.dispatch.Dispatcher;
import servitor.service.ledger.Writer;

/** Whether the service moves: a writer or dispatcher that stands still is no health, whatever else answers. */
@Component("movement")
class MovementHealth implements HealthIndicator {
    private static final Duration WRITING = Duration.ofSeconds(30);
    private static final Duration LOOKING = Duration.ofMinutes(1);

    private final Writer writer;
    private final Dispatcher dispatcher;

    MovementHealth(Writer writer, Dispatcher dispatcher) {
        this.writer = writer;
        this.dispatcher = dispatcher;
    }

    @Override
    public Health health() {
        boolean writes = writer.isAlive()
                && writer.busyFor().filter(busy -> busy.compareTo(WRITING) > 0).isEmpty();
        boolean dispatches = dispatcher.isAlive() && dispatcher.sinceLastPass().compareTo(LOOKING) < 0;
        Health.Builder health = writes && dispatches ? Health.up() : Health.down();
        return health.withDetail("writer", writes ? "moves" : "stands still")
                .withDetail("dispatcher", dispatches ? "moves" : "stands still")
                .build();
    }
}
