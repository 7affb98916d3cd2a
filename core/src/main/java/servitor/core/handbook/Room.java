package servitor.core.handbook;

import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Template;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A room of a chat server that desks and groups are told things in, by a web hook.
 *
 * @param connection where its hook is
 * @param body what is sent, over {@code message} ({@link #MESSAGE}); null for a body by the Standard Webhooks convention
 */
public record Room(
        String name,
        String title,
        String connection,
        @Nullable Template body,
        Places places) {
    public static final String MESSAGE = "message";

    /** What is known of a message: {@code text} is empty for a personal case, of which only {@code link} is told. */
    public static final Shape.Fields OF_MESSAGE = Shape.Fields.of(Map.of(
            "headline", Shape.TEXT,
            "text", Shape.TEXT,
            "link", Shape.TEXT,
            "case", Shape.TEXT,
            "desk", Shape.TEXT,
            "to", Shape.TEXT));

    /** What is sent of a message. */
    public JsonNode filled(ObjectNode message, String at) throws EvaluationFailed {
        return body == null
                ? Json.object().put("type", "case.told").put("timestamp", at).set("data", message)
                : body.fill(Map.of(MESSAGE, TracedValue.of(message, Origin.HANDBOOK)))
                        .value();
    }
}
