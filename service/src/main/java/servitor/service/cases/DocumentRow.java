package servitor.service.cases;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A list of documents leaves {@code content} empty, and most of a long {@code text}.
 *
 * @param type its media type, by its content where that is known
 * @param tables as pages see them; null where they aren't known
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
        @Nullable String tables,
        byte[] content) {
    /** How much of a document's text pages are given, in characters. */
    private static final int LONGEST_TEXT = 10_000;

    /** The document as pages see it. */
    public ObjectNode toPages() {
        boolean whole = text.length() <= LONGEST_TEXT;
        ObjectNode seen = Json.object()
                .put("id", id)
                .put("name", name)
                .put("type", type)
                .put("size", size)
                .put("outcome", outcome)
                .put("pages", pages)
                .put("text", whole ? text : text.substring(0, LONGEST_TEXT))
                .put("whole", whole);
        return tables == null ? seen : seen.set("tables", Json.read(tables, JsonNode.class));
    }
}
