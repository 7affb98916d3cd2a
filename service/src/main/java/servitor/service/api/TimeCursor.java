package servitor.service.api;

import java.time.Instant;
import java.time.format.DateTimeParseException;

/** Where a part of a list by time ended: at which time, and with which of those that share it. */
record TimeCursor(Instant time, String id) {
    /** Reads what an earlier answer gave as {@code next}. */
    static TimeCursor of(String cursor) {
        int between = cursor.indexOf('~');
        try {
            return new TimeCursor(
                    Instant.parse(cursor.substring(0, Math.max(0, between))), cursor.substring(between + 1));
        } catch (DateTimeParseException e) {
            throw new IllegalArgumentException("‘cursor’ must be what an earlier answer gave as ‘next’.", e);
        }
    }

    @Override
    public String toString() {
        return time + "~" + id;
    }
}
