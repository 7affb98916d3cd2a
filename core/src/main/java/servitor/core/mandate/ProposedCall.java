package servitor.core.mandate;

import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import servitor.core.origin.Traced;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A call somebody proposes, before any verdict.
 *
 * @param agent on whose mandate
 * @param inputs each input with where it came from
 * @param sources per input, the looked-up record it was a field of
 */
public record ProposedCall(String agent, String tool, Map<String, Traced> inputs, Map<String, JsonNode> sources) {
    public ProposedCall {
        inputs = new LinkedHashMap<>(inputs);
        sources = Map.copyOf(sources);
    }

    /** The inputs as one JSON object. */
    public ObjectNode args() {
        ObjectNode args = Json.object();
        inputs.forEach((name, input) -> args.set(name, input.value()));
        return args;
    }

    /** What identifies the call for approvals: tool and inputs. */
    public String digest() {
        return Json.digest(Json.object().put("tool", tool).set("args", args()));
    }

    public @Nullable Traced input(String name) {
        return inputs.get(name);
    }
}
