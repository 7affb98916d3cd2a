package servitor.service.api;

import org.springframework.boot.health.contributor.Health;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.stereotype.Component;
import servitor.service.reading.Readings;

/** Whether what reads documents is contained; without that, documents of which it is only claimed whom they are from aren't opened. */
@Component("reader")
class ReadingHealth implements HealthIndicator {
    private final Readings readings;

    ReadingHealth(Readings readings) {
        this.readings = readings;
    }

    @Override
    public Health health() {
        return Health.up()
                .withDetail("reading", readings.isContained() ? "contained" : "not contained: install bubblewrap")
                .build();
    }
}
