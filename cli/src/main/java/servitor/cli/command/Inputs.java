package servitor.cli.command;

import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.cli.client.Client;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.StringNode;

/** Inputs given as {@code name=value}: a value that is JSON is taken as that, anything else as the text it is. */
final class Inputs {
    private Inputs() {}

    static Map<String, JsonNode> read(@Nullable Map<String, String> given) {
        Map<String, JsonNode> inputs = new LinkedHashMap<>();
        if (given != null) {
            given.forEach((name, value) -> inputs.put(name, value(value)));
        }
        return inputs;
    }

    private static JsonNode value(String text) {
        try {
            JsonNode read = Client.JSON.readTree(text);
            return read == null || read.isMissingNode() ? StringNode.valueOf(text) : read;
        } catch (JacksonException e) {
            return StringNode.valueOf(text);
        }
    }
}
