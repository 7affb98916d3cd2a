package servitor.service.editions;

import java.time.Instant;

/** A published handbook. */
public record EditionRow(int number, String digest, String note, String publishedBy, Instant published) {}
