package servitor.core.mandate;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A call somebody proposes, before any verdict.
 *
 * @param agent on whose mandate
 * @param inputs each input with where it came from
 * @param sources per input, the looked-up record it was a field of
 * @param places per input, where its value stands, such as {@code booking.paid}; missing for what stands nowhere
 * @param chain the agents whose models had this page started, outermost first: their mandates hold as well
 * @param confirm why people confirm it whatever the mandates allow, in words; empty where they needn't
 */
public record ProposedCall(
        String agent,
        String tool,
        Map<String, TracedValue> inputs,
        Map<String, JsonNode> sources,
        Map<String, String> places,
        List<String> chain,
        String confirm) {
    public ProposedCall {
        confirm = confirm == null ? "" : confirm; // calls kept by earlier versions needn't be confirmed
        places = places == null ? Map.of() : Map.copyOf(places);
        chain = chain == null ? List.of() : List.copyOf(chain); // calls kept by earlier versions have none
        inputs = new LinkedHashMap<>(inputs);
        sources = Map.copyOf(sources);
    }

    public ProposedCall(String agent, String tool, Map<String, TracedValue> inputs, Map<String, JsonNode> sources) {
        this(agent, tool, inputs, sources, Map.of(), List.of(), "");
    }

    public ProposedCall(
            String agent,
            String tool,
            Map<String, TracedValue> inputs,
            Map<String, JsonNode> sources,
            Map<String, String> places,
            List<String> chain) {
        this(agent, tool, inputs, sources, places, chain, "");
    }

    /** The same, of which people say yes first, whatever the mandates allow. */
    public ProposedCall confirmed(String why) {
        return new ProposedCall(agent, tool, inputs, sources, places, chain, why);
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

    public @Nullable TracedValue input(String name) {
        return inputs.get(name);
    }
}
