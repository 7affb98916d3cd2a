package servitor.core.handbook;

import org.jspecify.annotations.Nullable;

/**
 * A team that owns cases of its own.
 *
 * @param mail what its mails look like; null when it sends none
 * @param room where it is told things by chat; null when it isn't
 * @param hours when it works; null when it never said, and then it always does
 * @param asking how people are told that approvals about its cases wait
 */
public record Desk(
        String name,
        String title,
        @Nullable Letterhead mail,
        @Nullable String room,
        @Nullable WorkingHours hours,
        Asking asking) {}
