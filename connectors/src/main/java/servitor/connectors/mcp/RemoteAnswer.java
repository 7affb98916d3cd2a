package servitor.connectors.mcp;

import io.modelcontextprotocol.spec.McpSchema;
import java.util.List;
import java.util.StringJoiner;
import servitor.core.engine.Reply;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import tools.jackson.databind.JsonNode;

/**
 * What a tool of a server answered. Its answer is what it says in structure, or else its words. What else it sends (images, sounds,
 * links, resources) is told in a line each, and kept whole as material.
 */
final class RemoteAnswer {
    private static final int LONGEST_REASON = 300;
    private static final int LONGEST_KEPT = 500_000;

    private final StringJoiner words = new StringJoiner("\n");
    private final StringJoiner kept = new StringJoiner("\n");

    private RemoteAnswer(List<McpSchema.Content> contents) {
        contents.forEach(this::take);
    }

    static Reply of(McpSchema.CallToolResult result) {
        RemoteAnswer answer = new RemoteAnswer(result.content() == null ? List.of() : result.content());
        Reply reply = answer.reply(result);
        return answer.kept.length() == 0 ? reply : new Reply.WithTranscript(reply, answer.kept.toString());
    }

    private Reply reply(McpSchema.CallToolResult result) {
        String text = words.toString();
        if (Boolean.TRUE.equals(result.isError())) {
            String detail = text.length() <= LONGEST_REASON ? text : text.substring(0, LONGEST_REASON);
            return new Reply.Refused(Problem.INVALID, "the tool answered: " + detail);
        }
        JsonNode said = result.structuredContent() == null ? read(text) : Json.of(result.structuredContent());
        return Outside.fault(said)
                .<Reply>map(fault -> new Reply.Unreadable("the tool's answer can't be taken: " + fault))
                .orElseGet(() -> new Reply.Answered(200, said));
    }

    private static JsonNode read(String text) {
        try {
            JsonNode read = Outside.read(text);
            return read.isObject() ? read : Json.object().put("text", text);
        } catch (MalformedJson e) {
            return Json.object().put("text", text);
        }
    }

    private void take(McpSchema.Content content) {
        if (content instanceof McpSchema.TextContent text) {
            words.add(text.text());
        } else if (content instanceof McpSchema.ImageContent image) {
            keep("an image, " + image.mimeType(), image.data());
        } else if (content instanceof McpSchema.AudioContent sound) {
            keep("a sound, " + sound.mimeType(), sound.data());
        } else if (content instanceof McpSchema.ResourceLink link) {
            keep("a link, " + link.name(), link.uri());
        } else if (content instanceof McpSchema.EmbeddedResource embedded) {
            resource(embedded.resource());
        } else {
            keep("something of a kind that isn't known, " + content.type(), "");
        }
    }

    private void resource(McpSchema.ResourceContents resource) {
        String what = "a resource, " + resource.uri();
        if (resource instanceof McpSchema.TextResourceContents text) {
            keep(what, text.text());
        } else if (resource instanceof McpSchema.BlobResourceContents blob) {
            keep(what, blob.blob());
        }
    }

    private void keep(String what, String content) {
        boolean fits = kept.length() + content.length() <= LONGEST_KEPT;
        words.add("[" + what + ": " + (fits ? "kept with the call" : "too long to be kept") + "]");
        kept.add("= " + what);
        kept.add(fits ? content : "(" + content.length() + " characters, too long to be kept)");
    }
}
