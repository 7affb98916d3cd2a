package servitor.service.runs;

import java.time.Instant;

/** An emergency stop that stands. */
public record StopRow(String what, String name, String reason, String stoppedBy, Instant at) {}
