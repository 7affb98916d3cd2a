package servitor.standins;

import java.util.HashSet;
import java.util.Iterator;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;

/** What a request of the chat-completions format must look like; the strictest of servers take nothing else. */
final class ChatForm {
    private static final Set<String> KEYS = Set.of(
            "model",
            "messages",
            "temperature",
            "top_p",
            "n",
            "stream",
            "stream_options",
            "stop",
            "max_tokens",
            "max_completion_tokens",
            "presence_penalty",
            "frequency_penalty",
            "seed",
            "user",
            "tools",
            "tool_choice",
            "parallel_tool_calls",
            "response_format");
    private static final Set<String> ROLES = Set.of("system", "user", "assistant", "tool");
    private static final Pattern NAME = Pattern.compile("[a-zA-Z0-9_-]{1,64}");

    private ChatForm() {}

    /** What is wrong with a request, in words; empty when nothing is. */
    static Optional<String> fault(JsonNode body) {
        for (String key : body.propertyNames()) {
            if (!KEYS.contains(key)) {
                return Optional.of("‘" + key + "’ is nothing that the format knows");
            }
        }
        return messages(body.path("messages"))
                .or(() -> tools(body.path("tools")))
                .or(() -> format(body.path("response_format")));
    }

    /** Each call of a tool is answered before anything else is said. */
    private static Optional<String> messages(JsonNode messages) {
        Set<String> unanswered = new HashSet<>();
        for (Iterator<JsonNode> all = messages.iterator(); all.hasNext(); ) {
            JsonNode message = all.next();
            String role = message.path("role").asString("");
            if (!ROLES.contains(role)) {
                return Optional.of("‘" + role + "’ is no role");
            } else if (role.equals("tool")) {
                if (!unanswered.remove(message.path("tool_call_id").asString(""))
                        || !message.path("content").isString()) {
                    return Optional.of("a message of a tool answers no call before it, or holds no text");
                }
            } else if (!unanswered.isEmpty()) {
                return Optional.of("calls of tools weren't answered: " + unanswered);
            } else if (!isSaid(message.path("content"))
                    && message.path("tool_calls").isEmpty()) {
                return Optional.of("a message of " + role + " says nothing");
            }
            for (JsonNode call : message.path("tool_calls")) {
                JsonNode function = call.path("function");
                if (!call.path("type").asString("").equals("function")
                        || !NAME.matcher(function.path("name").asString("")).matches()
                        || !function.path("arguments").isString()
                        || !unanswered.add(call.path("id").asString(""))) {
                    return Optional.of("a call of a tool has no id of its own, name or arguments as text");
                }
            }
        }
        return unanswered.isEmpty() ? Optional.empty() : Optional.of("calls of tools weren't answered: " + unanswered);
    }

    private static boolean isSaid(JsonNode content) {
        if (content.isString()) {
            return true;
        }
        return content.isArray()
                && !content.isEmpty()
                && content.valueStream()
                        .allMatch(part -> Set.of("text", "image_url")
                                .contains(part.path("type").asString("")));
    }

    private static Optional<String> tools(JsonNode tools) {
        Set<String> names = new HashSet<>();
        for (JsonNode tool : tools) {
            JsonNode function = tool.path("function");
            String name = function.path("name").asString("");
            if (!tool.path("type").asString("").equals("function")
                    || !NAME.matcher(name).matches()
                    || !names.add(name)
                    || !function.path("parameters").path("type").asString("").equals("object")) {
                return Optional.of(
                        "‘" + name + "’ is no tool with a name of its own and parameters that are an object");
            }
        }
        return tools.isArray() && tools.isEmpty() ? Optional.of("‘tools’ is empty") : Optional.empty();
    }

    private static Optional<String> format(JsonNode format) {
        String type = format.path("type").asString("");
        if (format.isMissingNode() || type.equals("text") || type.equals("json_object")) {
            return Optional.empty();
        }
        JsonNode schema = format.path("json_schema");
        if (!type.equals("json_schema")
                || !NAME.matcher(schema.path("name").asString("")).matches()
                || !schema.path("schema").isObject()) {
            return Optional.of("‘response_format’ has no type, name or schema");
        }
        return schema.path("strict").asBoolean(false) ? closed(schema.path("schema"), "the answer") : Optional.empty();
    }

    /** Strict schemas say of each object that it has these fields, all of them, and no others. */
    private static Optional<String> closed(JsonNode schema, String where) {
        JsonNode properties = schema.path("properties");
        if (schema.path("type").asString("").equals("object")) {
            Set<String> required = new HashSet<>();
            schema.path("required").forEach(name -> required.add(name.asString("")));
            if (schema.path("additionalProperties").asBoolean(true)
                    || !required.equals(new HashSet<>(properties.propertyNames()))) {
                return Optional.of(
                        where + " isn't closed: it needs ‘additionalProperties: false’ and every field required");
            }
        }
        for (var property : properties.properties()) {
            Optional<String> fault = closed(property.getValue(), "‘" + property.getKey() + "’");
            if (fault.isPresent()) {
                return fault;
            }
        }
        return schema.has("items") ? closed(schema.path("items"), "the items of " + where) : Optional.empty();
    }
}
