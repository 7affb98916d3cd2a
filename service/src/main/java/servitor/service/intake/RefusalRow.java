package servitor.service.intake;

import java.time.Instant;

/** How many messages to an intake weren't from whom they had to be, within an hour, for the same reason. */
public record RefusalRow(String intake, Instant since, String reason, long times, Instant latest) {}
