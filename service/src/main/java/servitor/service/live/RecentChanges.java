package servitor.service.live;

import java.util.ArrayDeque;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import servitor.service.ledger.LedgerTransaction.Changed;

/**
 * What has changed of late, each with an id by which somebody who was away goes on (HTML, server-sent events: {@code Last-Event-ID}).
 * Ids hold for one start of the service. Used by one thread.
 */
final class RecentChanges {
    private static final int MOST = 2_000;
    private static final Pattern ID = Pattern.compile("([0-9a-f]{8})-([0-9]{1,18})");

    private final String start = UUID.randomUUID().toString().substring(0, 8);
    private final ArrayDeque<Past> changes = new ArrayDeque<>();
    private long newest;

    /** A change with its id. */
    record Past(String id, long number, Changed change) {}

    Past add(Changed change) {
        newest++;
        Past past = new Past(newest(), newest, change);
        changes.addLast(past);
        if (changes.size() > MOST) {
            changes.removeFirst();
        }
        return past;
    }

    /** The id of the newest one, or of the beginning. */
    String newest() {
        return start + "-" + newest;
    }

    /** What came after an id, in order; empty when that can't be told any more. Nothing for somebody's first look. */
    Optional<List<Past>> since(@Nullable String id) {
        if (id == null) {
            return Optional.of(List.of());
        }
        Matcher parts = ID.matcher(id);
        if (!parts.matches() || !parts.group(1).equals(start)) {
            return Optional.empty();
        }
        long seen = Long.parseLong(parts.group(2));
        return seen > newest || seen < newest - changes.size()
                ? Optional.empty()
                : Optional.of(
                        changes.stream().filter(past -> past.number() > seen).toList());
    }
}
