package servitor.cli.command;

import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.MissingNode;
import tools.jackson.databind.node.StringNode;

/**
 * Inputs given as {@code name=value}. What a tool takes as a text is the text as it stands, however much it looks like a number;
 * where that isn't known, a value that is JSON is taken as that, and anything else as the text it is.
 */
final class Inputs {
    private Inputs() {}

    /** What somebody gives as JSON. */
    static JsonNode json(String text) {
        try {
            return Client.JSON.readTree(text);
        } catch (JacksonException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, "‘" + text + "’ isn't JSON: " + e.getOriginalMessage());
        }
    }

    static Map<String, JsonNode> read(@Nullable Map<String, String> given) {
        Map<String, JsonNode> inputs = new LinkedHashMap<>();
        if (given != null) {
            given.forEach((name, value) -> inputs.put(name, value(value)));
        }
        return inputs;
    }

    /** Inputs of a tool of the current edition, by the types it takes; not everybody may see these. */
    static Map<String, JsonNode> of(Client client, String tool, @Nullable Map<String, String> given) {
        Map<String, JsonNode> inputs = read(given);
        if (given != null && !given.isEmpty()) {
            JsonNode types = types(client, tool);
            given.forEach((name, text) -> {
                if (types.path(name).path("type").asString("").equals("string")) {
                    inputs.put(name, StringNode.valueOf(text));
                }
            });
        }
        return inputs;
    }

    private static JsonNode types(Client client, String tool) {
        try {
            return client.get("/api/tools")
                    .valueStream()
                    .filter(one -> one.path("name").asString("").equals(tool))
                    .findFirst()
                    .map(one -> one.path("inputs").path("properties"))
                    .orElseGet(MissingNode::getInstance);
        } catch (Trouble e) {
            if (e.code() == ExitCode.NOT_ALLOWED) {
                return MissingNode.getInstance();
            }
            throw e;
        }
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
