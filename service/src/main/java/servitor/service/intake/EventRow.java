package servitor.service.intake;

import java.time.Instant;

/**
 * A message of an outside system, and what became of it.
 *
 * @param id a digest of the intake and of what makes the message the same as another
 * @param sender the person or the connection that it came from
 * @param source where it happened, as the message says; may be empty
 * @param named its id there; may be empty
 * @param became {@link Taken.Outcome}
 * @param caseId the case it is about; empty when it became none
 * @param reason why it became none; empty when it became one
 * @param size of what it said, in characters
 */
public record EventRow(
        String id,
        String intake,
        Instant received,
        String sender,
        String source,
        String named,
        String became,
        String caseId,
        String reason,
        int size) {}
