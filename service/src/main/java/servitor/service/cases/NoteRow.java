package servitor.service.cases;

import java.time.Instant;

/** {@code audience} is {@code requester} or {@code staff}; {@code written} marks text a machine wrote. */
public record NoteRow(
        String id, String caseId, Instant at, String author, String audience, boolean written, String text) {}
