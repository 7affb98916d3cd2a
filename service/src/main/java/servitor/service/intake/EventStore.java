package servitor.service.intake;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Messages of outside systems as they are kept: what became of each, and for a while what it said. */
@Component
public class EventStore {
    private static final Duration TOLD = Duration.ofHours(24);

    private final EventMapper events;

    EventStore(EventMapper events) {
        this.events = events;
    }

    Optional<EventRow> find(String id) {
        return Optional.ofNullable(events.find(id));
    }

    /** What came to an intake last, the newest first. */
    List<EventRow> latest(String intake, int most) {
        return events.latest(intake, most);
    }

    /** What a message said; empty once it is forgotten, or when it was one of many that were only counted. */
    Optional<String> payload(String id) {
        return Optional.ofNullable(events.payload(id));
    }

    /** Keeps one that hasn't come before. */
    void insert(EventRow row) {
        events.insert(row);
    }

    /** Keeps one that has come before and become nothing. */
    void put(EventRow row) {
        events.put(row);
    }

    void keep(EventRow row, String payload) {
        events.putPayload(row.id(), payload, row.received());
    }

    Optional<RepeatRow> repeat(String caseId, String intake) {
        return Optional.ofNullable(events.repeat(caseId, intake));
    }

    /** What was counted of a case, by intake. */
    public List<RepeatRow> repeats(String caseId) {
        return events.repeats(caseId);
    }

    void count(RepeatRow row) {
        events.count(row);
    }

    /** So many messages to {@code intake} weren't from whom they had to be. */
    void refused(String intake, String reason, long times, Instant now) {
        Instant hour = now.truncatedTo(ChronoUnit.HOURS);
        if (events.refusedAgain(intake, hour, reason, times, now) == 0) {
            events.refused(intake, hour, reason, times, now);
        }
    }

    /** What was refused within the last day, the latest first. */
    List<RefusalRow> refusals(String intake, Instant now) {
        return events.refusals(intake, now.minus(TOLD));
    }

    /** Forgets what messages said that came before {@code before}, and those that became nothing. */
    void forget(Instant before) {
        events.forgetPayloads(before);
        events.forgetLeftOut(before);
        events.forgetRefusals(before);
    }
}
