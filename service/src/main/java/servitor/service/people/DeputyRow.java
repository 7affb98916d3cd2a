package servitor.service.people;

import java.time.Instant;

/** That somebody answers approvals for a person, from {@code since} and before {@code until}. */
public record DeputyRow(String person, String deputy, Instant since, Instant until, String setBy) {
    /** Whether it holds now. */
    public boolean isNow(Instant now) {
        return !now.isBefore(since) && now.isBefore(until);
    }
}
