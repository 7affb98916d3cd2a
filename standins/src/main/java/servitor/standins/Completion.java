package servitor.standins;

import java.util.List;
import java.util.concurrent.atomic.AtomicLong;
import org.jspecify.annotations.Nullable;
import servitor.standins.model.Mind;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What the model server answers, whole or as a stream, in the forms of the chat-completions format. */
final class Completion {
    private static final int CHARACTERS_A_TOKEN = 4;
    private static final long CREATED = 1_767_225_600;
    private static final AtomicLong COUNT = new AtomicLong();

    private Completion() {}

    static ObjectNode of(JsonNode asked, Mind.Said said) {
        String content = said instanceof Mind.Words words ? words.text() : null;
        List<ObjectNode> calls = said instanceof Mind.Calls some ? some.calls() : List.of();
        String user = Mind.user(asked);
        int limit = asked.path("max_completion_tokens")
                .asInt(asked.path("max_tokens").asInt(Integer.MAX_VALUE));
        int tokens = content == null ? 20 : content.length() / CHARACTERS_A_TOKEN + 1;
        boolean cut = content != null && tokens > limit;
        String words = content != null && cut ? content.substring(0, limit * CHARACTERS_A_TOKEN - 1) : content;
        ObjectNode answer = head("chat.completion");
        ObjectNode choice = answer.putArray("choices").addObject().put("index", 0);
        ObjectNode message = choice.putObject("message").put("role", "assistant");
        message.put("content", words);
        message.putNull("refusal");
        if (!calls.isEmpty()) {
            message.putArray("tool_calls").addAll(calls);
        }
        choice.put("finish_reason", !calls.isEmpty() ? "tool_calls" : cut ? "length" : "stop");
        int sent = Math.min(tokens, limit);
        answer.putObject("usage")
                .put("prompt_tokens", user.length() / CHARACTERS_A_TOKEN)
                .put("completion_tokens", sent)
                .put("total_tokens", user.length() / CHARACTERS_A_TOKEN + sent);
        return answer;
    }

    private static ObjectNode head(String object) {
        return JsonServer.JSON
                .createObjectNode()
                .put("id", "chatcmpl-" + COUNT.incrementAndGet())
                .put("object", object)
                .put("created", CREATED)
                .put("model", Models.NAME + " (a stand-in)");
    }

    /** The same as events: who speaks, the words in two parts, the end, and what was used if that is asked for. */
    static String events(JsonNode asked, ObjectNode whole) {
        JsonNode choice = whole.path("choices").path(0);
        JsonNode message = choice.path("message");
        String words = message.path("content").asString("");
        StringBuilder events = new StringBuilder();
        part(events, JsonServer.JSON.createObjectNode().put("role", "assistant"), null);
        if (message.has("tool_calls")) {
            for (int i = 0; i < message.path("tool_calls").size(); i++) {
                ObjectNode delta = JsonServer.JSON.createObjectNode();
                delta.putArray("tool_calls")
                        .add(((ObjectNode) message.path("tool_calls").path(i).deepCopy()).put("index", i));
                part(events, delta, null);
            }
        }
        for (String piece :
                new String[] {words.substring(0, words.length() / 2), words.substring(words.length() / 2)}) {
            if (!piece.isEmpty()) {
                part(events, JsonServer.JSON.createObjectNode().put("content", piece), null);
            }
        }
        part(
                events,
                JsonServer.JSON.createObjectNode(),
                choice.path("finish_reason").stringValue());
        if (asked.path("stream_options").path("include_usage").asBoolean(false)) {
            ObjectNode last = head("chat.completion.chunk");
            last.putArray("choices");
            event(events, last.set("usage", whole.path("usage")));
        }
        return events.append("data: [DONE]\n\n").toString();
    }

    private static void part(StringBuilder events, ObjectNode delta, @Nullable String ended) {
        ObjectNode part = head("chat.completion.chunk");
        ObjectNode choice = part.putArray("choices").addObject().put("index", 0);
        choice.set("delta", delta);
        choice.put("finish_reason", ended);
        event(events, part);
    }

    private static void event(StringBuilder events, JsonNode data) {
        events.append("data: ").append(JsonServer.JSON.writeValueAsString(data)).append("\n\n");
    }
}
