package servitor.service.runs;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalRequest;

/** When people are reminded of an approval: after shares of the time they have. */
public final class Reminders {
    private Reminders() {}

    /** The time of the reminder after {@code given} have been given; null when there is none left. */
    public static @Nullable Instant next(ApprovalRequest request, Instant opened, int given) {
        Duration within = request.within();
        List<Double> shares = request.remind().stream().sorted().toList();
        return within == null || given >= shares.size()
                ? null
                : opened.plusMillis((long) (within.toMillis() * shares.get(given)));
    }
}
