package servitor.service.editions;

import java.time.Instant;

/**
 * A handbook that somebody wants to publish and others have to agree to first.
 *
 * @param files by their paths, as JSON
 * @param state {@code open}, {@code agreed} or {@code declined}
 * @param answeredBy who answered last; empty while nobody has
 * @param reason why it was declined; empty otherwise
 */
public record WishRow(
        String digest,
        String person,
        String note,
        String files,
        Instant asked,
        String state,
        String answeredBy,
        String reason) {
    static final String OPEN = "open";
    static final String AGREED = "agreed";
    static final String DECLINED = "declined";
}
