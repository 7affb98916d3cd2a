package servitor.service.api;

import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.jackson.JacksonComponent;
import servitor.core.json.Json;
import servitor.core.json.Outside;
import tools.jackson.core.JsonParser;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.ObjectReader;
import tools.jackson.databind.ValueDeserializer;
import tools.jackson.databind.node.NullNode;

/** Values of any shape that a request brings: exact numbers, and within the bounds of everything that comes from outside. */
@JacksonComponent(type = JsonNode.class)
class OutsideNode extends ValueDeserializer<JsonNode> {
    private static final ObjectReader READER =
            Json.mapper().readerFor(JsonNode.class).without(DeserializationFeature.FAIL_ON_TRAILING_TOKENS);

    /** A value that may be left out; null when it is, or when it is said to be null. */
    static @Nullable JsonNode given(@Nullable JsonNode node) {
        return node == null || node.isNull() ? null : node;
    }

    @Override
    public JsonNode deserialize(JsonParser parser, DeserializationContext context) {
        JsonNode node = READER.readValue(parser);
        Optional<String> fault = Outside.fault(node);
        return fault.isPresent() ? context.reportInputMismatch(JsonNode.class, "%s", fault.get()) : node;
    }

    @Override
    public Object getNullValue(DeserializationContext context) {
        return NullNode.getInstance();
    }
}
