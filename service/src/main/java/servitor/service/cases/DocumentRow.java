package servitor.service.cases;

import java.time.Instant;

/**
 * A list of documents leaves {@code content} empty, and most of a long {@code text}.
 *
 * @param outcome the word of what came of reading it; empty for those that came before documents were read
 */
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
        String outcome,
        int pages,
        byte[] content) {}
