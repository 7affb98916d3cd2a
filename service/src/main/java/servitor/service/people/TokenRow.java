package servitor.service.people;

import java.time.Instant;

/** A token, by its digest. */
public record TokenRow(String hash, String person, String label, Instant created, Instant expires) {}
