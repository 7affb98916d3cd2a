package servitor.service.dispatch;

import io.github.resilience4j.circuitbreaker.CircuitBreaker;
import io.github.resilience4j.circuitbreaker.CircuitBreakerConfig;
import io.github.resilience4j.circuitbreaker.CircuitBreakerRegistry;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.core.engine.Outcome;
import servitor.service.connections.Connections;

/**
 * What goes out over each connection: how much at once, and nothing for a while when it keeps failing. Safe for use by
 * several threads.
 */
@Component
public class ConnectionLimits {
    private static final Logger LOG = LoggerFactory.getLogger(ConnectionLimits.class);
    private static final Duration REST = Duration.ofSeconds(20);

    private final Clock clock;
    private final Connections connections;
    private final Map<String, Integer> inFlight = new ConcurrentHashMap<>();
    private final Map<String, Instant> resting = new ConcurrentHashMap<>();
    private final CircuitBreakerRegistry breakers;

    ConnectionLimits(Clock clock, Connections connections) {
        this.clock = clock;
        this.connections = connections;
        this.breakers = CircuitBreakerRegistry.of(CircuitBreakerConfig.custom()
                .slidingWindowSize(10)
                .minimumNumberOfCalls(6)
                .failureRateThreshold(60)
                .permittedNumberOfCallsInHalfOpenState(2)
                .waitDurationInOpenState(REST)
                .automaticTransitionFromOpenToHalfOpenEnabled(false)
                .build());
    }

    private CircuitBreaker breaker(String line) {
        return breakers.circuitBreaker(line);
    }

    /** The connections that nothing is sent to, and until when. */
    public Map<String, Instant> resting() {
        resting.entrySet().removeIf(rests -> !clock.instant().isBefore(rests.getValue()));
        return new TreeMap<>(resting);
    }

    private boolean isResting(String line) {
        Instant until = resting.get(line);
        return until != null && clock.instant().isBefore(until);
    }

    /** How many more calls may be sent over a connection now: none while it rests. */
    int room(String line) {
        if (line.isEmpty()) {
            return Integer.MAX_VALUE;
        }
        return isResting(line) ? 0 : Math.max(0, connections.atOnce(line) - inFlight.getOrDefault(line, 0));
    }

    /** Counts a call that is about to be sent; whoever does it releases it afterwards. */
    void reserve(String line) {
        inFlight.merge(line, 1, Integer::sum);
    }

    void release(String line) {
        inFlight.merge(line, -1, Integer::sum);
    }

    /** Counts what came of a call; when too many fail in a row of ten, the connection rests. */
    void note(String line, Outcome outcome) {
        if (line.isEmpty()) {
            return;
        }
        if (outcome instanceof Outcome.WithTranscript with) {
            note(line, with.outcome());
            return;
        }
        CircuitBreaker breaker = breaker(line);
        if (breaker.getState() == CircuitBreaker.State.OPEN && !isResting(line)) {
            breaker.transitionToHalfOpenState();
        }
        if (outcome instanceof Outcome.TryAgain again) {
            breaker.onError(0, TimeUnit.NANOSECONDS, new IllegalStateException(again.detail()));
        } else {
            breaker.onSuccess(0, TimeUnit.NANOSECONDS);
        }
        if (breaker.getState() == CircuitBreaker.State.OPEN && !isResting(line)) {
            Instant until = clock.instant().plus(REST);
            resting.put(line, until);
            LOG.warn("The connection ‘{}’ keeps failing; nothing is sent to it until {}.", line, until);
        }
    }
}
