package servitor.service.cases;

import java.time.Instant;

/** A list of documents leaves {@code text} and {@code content} empty. */
public record DocumentRow(
        String id,
        String caseId,
        Instant at,
        String author,
        String name,
        String type,
        int size,
        String digest,
        String text,
        byte[] content) {}
