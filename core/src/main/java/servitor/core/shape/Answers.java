package servitor.core.shape;

import servitor.core.shape.Shape.Fields;
import tools.jackson.databind.node.ObjectNode;

/** What every typed answer of a model looks like: its own fields, or {@code answer}, with {@code reason} and {@code sure}. */
public final class Answers {
    private Answers() {}

    public static Fields shape(Shape answer) {
        return own(answer).with("reason", Shape.TEXT).with("sure", Shape.NUMBER);
    }

    /** The fields of an answer without what every answer has. */
    public static Fields own(Shape answer) {
        return answer instanceof Fields map ? map : Fields.of(java.util.Map.of("answer", answer));
    }

    /** The JSON Schema that an answer is held to. */
    public static ObjectNode schema(Shape answer) {
        ObjectNode schema = shape(answer).schema();
        ObjectNode properties = (ObjectNode) schema.get("properties");
        properties.putObject("reason").put("type", "string").put("maxLength", 2_000);
        properties.putObject("sure").put("type", "number").put("minimum", 0).put("maximum", 1);
        return schema;
    }
}
