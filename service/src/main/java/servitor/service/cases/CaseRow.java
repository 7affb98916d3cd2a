package servitor.service.cases;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.CaseState;
import servitor.service.people.DeskCase;

/**
 * A case as the table holds it; {@code labels} and {@code fields} are JSON, {@code channel} is the way it came in.
 *
 * @param title what staff call it while they work on it; empty for its subject
 * @param owner who is to see to it: a group, or {@code person:ID}; empty for its desk
 * @param openedFor the case that it was opened for by a step; null for any other
 */
public record CaseRow(
        String id,
        long number,
        String desk,
        String kind,
        String requester,
        String proof,
        String channel,
        String openedBy,
        String subject,
        String title,
        String text,
        String language,
        String priority,
        String labels,
        String fields,
        String state,
        @Nullable String waitingFor,
        @Nullable Instant due,
        String owner,
        @Nullable String openedFor,
        Instant created,
        Instant updated,
        int version)
        implements DeskCase {
    /** Whether it is done with, until somebody opens it again. */
    public boolean isDone() {
        return CaseState.DONE.contains(state);
    }

    /** Whether it is open although it was due. */
    public boolean isLate(Instant now) {
        return due != null && due.isBefore(now) && !isDone();
    }

    /** The next version, of {@code now}, standing elsewhere. */
    public CaseRow standing(String nowState, @Nullable String nowWaitingFor, Instant now) {
        return next(title, priority, labels, fields, nowState, nowWaitingFor, now);
    }

    /** The next version, of {@code now}, with other content. */
    public CaseRow holding(String nowTitle, String nowPriority, String nowLabels, String nowFields, Instant now) {
        return next(nowTitle, nowPriority, nowLabels, nowFields, state, waitingFor, now);
    }

    private CaseRow next(
            String nowTitle,
            String nowPriority,
            String nowLabels,
            String nowFields,
            String nowState,
            @Nullable String nowWaitingFor,
            Instant now) {
        return new CaseRow(
                id,
                number,
                desk,
                kind,
                requester,
                proof,
                channel,
                openedBy,
                subject,
                nowTitle,
                text,
                language,
                nowPriority,
                nowLabels,
                nowFields,
                nowState,
                nowWaitingFor,
                due,
                owner,
                openedFor,
                created,
                now,
                version + 1);
    }
}
