package servitor.service.editions;

import java.time.Instant;

/** An engineer's word for what somebody else publishes of their desk. */
public record ConsentRow(String digest, String desk, String person, Instant at) {}
