package servitor.connectors.model;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import servitor.connectors.model.ChatModel.Calls;
import servitor.connectors.model.ChatModel.Declined;
import servitor.connectors.model.ChatModel.Nothing;
import servitor.connectors.model.ChatModel.Said;
import servitor.connectors.model.ChatModel.Structured;
import servitor.connectors.model.ChatModel.Usage;
import servitor.connectors.model.ChatModel.Words;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.json.Outside;
import servitor.core.prompt.Prompt.Wanted;
import tools.jackson.databind.JsonNode;

/** Reads what a server of the chat-completions format answered. */
final class ChatAnswer {
    /** English text has about as many; it is only used where a server doesn't count. */
    private static final int CHARACTERS_A_TOKEN = 4;
    /** How many calls are taken from one answer. */
    private static final int MOST_CALLS = 64;

    private ChatAnswer() {}

    /** {@code asked} is how many characters the question had. */
    static Said read(JsonNode body, int asked) {
        JsonNode choice = body.path("choices").path(0);
        JsonNode message = choice.path("message");
        String words = words(message.path("content"));
        Usage usage = usage(body, asked, words.length());
        String ended = choice.path("finish_reason").asString("");
        String refusal = message.path("refusal").asString("");
        if (!refusal.isBlank()) {
            return new Declined("the model declined: " + shortened(refusal), usage);
        }
        if (ended.equals("content_filter")) {
            return new Declined("the model's server held its answer back", usage);
        }
        if (message.path("tool_calls").isArray() && !message.path("tool_calls").isEmpty()) {
            return calls(message.path("tool_calls"), usage);
        }
        if (ended.equals("length")) {
            return new Words(words, "it was cut off at the limit of tokens", usage);
        }
        if (words.isBlank()) {
            return new Nothing(new Reply.Unreadable("the model server's answer has no words in it"));
        }
        try {
            return new Structured(FoundJson.in(words), words, usage);
        } catch (MalformedJson e) {
            return new Words(words, "it isn't JSON: " + e.getMessage(), usage);
        }
    }

    /** The words of a content that is a text, or a list of parts. */
    private static String words(JsonNode content) {
        return content.isArray()
                ? content.valueStream()
                        .map(part -> part.path("text").asString(""))
                        .collect(Collectors.joining())
                : content.isString() ? content.stringValue() : "";
    }

    private static Usage usage(JsonNode body, int asked, int answered) {
        JsonNode counted = body.path("usage");
        int tokens = counted.path("total_tokens")
                .asInt(counted.path("prompt_tokens").asInt(0)
                        + counted.path("completion_tokens").asInt(0));
        boolean estimated = tokens <= 0;
        String model = body.path("model").asString("");
        return estimated
                ? new Usage(model, (asked + answered) / CHARACTERS_A_TOKEN + 1, asked / CHARACTERS_A_TOKEN, true)
                : new Usage(
                        model,
                        tokens,
                        Math.max(
                                0,
                                Math.min(tokens, counted.path("prompt_tokens").asInt(0))),
                        false);
    }

    private static Said calls(JsonNode calls, Usage usage) {
        if (calls.size() > MOST_CALLS) {
            return new Words(
                    "", "it wants " + calls.size() + " calls at once, at most " + MOST_CALLS + " are taken", usage);
        }
        List<Wanted> wanted = new ArrayList<>();
        for (JsonNode call : calls) {
            String name = call.path("function").path("name").asString("").replace("__", ".");
            JsonNode given = call.path("function").path("arguments");
            try {
                JsonNode args = arguments(given);
                if (!args.isObject()) {
                    throw new MalformedJson("the arguments of " + name + " are no object", null);
                }
                wanted.add(new Wanted(call.path("id").asString(""), name, args));
            } catch (MalformedJson e) {
                return new Words(Json.write(call), "it isn't JSON: the call's arguments: " + e.getMessage(), usage);
            }
        }
        return new Calls(wanted, usage);
    }

    /** The arguments, which the format has as the text of an object; some servers send the object itself. */
    private static JsonNode arguments(JsonNode given) throws MalformedJson {
        if (given.isObject()) {
            return given;
        }
        return given.asString("").isBlank() ? Json.object() : Outside.read(given.asString(""));
    }

    private static String shortened(String words) {
        String line = words.replaceAll("\\s+", " ").strip();
        return line.length() <= 300 ? line : line.substring(0, 299) + "…";
    }
}
