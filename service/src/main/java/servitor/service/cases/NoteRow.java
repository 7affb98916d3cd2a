package servitor.service.cases;

import java.time.Instant;

/**
 * A note on a case.
 *
 * @param audience {@code requester} or {@code staff}
 * @param written marks text a machine wrote
 * @param channel the way it came or went out
 * @param told whom of the house it was told; empty for everybody who may read it
 * @param proof how well it is known who wrote it; empty where that is no question
 * @param mail the mail it came as; empty for none
 */
public record NoteRow(
        String id,
        String caseId,
        Instant at,
        String author,
        String audience,
        boolean written,
        String text,
        String channel,
        String told,
        String proof,
        String mail) {}
