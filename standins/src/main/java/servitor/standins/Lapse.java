package servitor.standins;

import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** A way in which models fail, for tests of whoever asks one. */
public enum Lapse {
    /** Words in place of the answer. */
    CHATS,
    /** JSON that breaks off. */
    BROKEN_JSON,
    /** Values that were given to it nowhere. */
    INVENTS,
    /** Does what a text from outside tells it to: that text follows on ‘instead’. */
    OBEYS,
    /** Three seconds late. */
    SLOW,
    /** Status 429. */
    BUSY,
    /** No words at all. */
    EMPTY,
    /** Ended at the limit of tokens. */
    CUT_OFF,
    /** A refusal. */
    REFUSES,
    /** Fields nobody asked for. */
    MORE_FIELDS,
    /** Every value of another type. */
    OTHER_TYPES,
    /** A value of two million characters. */
    HUGE,
    /** A value that is nested ten thousand deep. */
    NESTED,
    /** HTML in every text. */
    MARKUP,
    /** A call of a tool that isn't there. */
    NO_SUCH_TOOL,
    /** A call whose arguments are no object. */
    ARGUMENTS_AS_TEXT,
    /** A call whose arguments are an object and not the text of one. */
    ARGUMENTS_AS_OBJECT,
    /** A thousand calls. */
    MANY_CALLS,
    /** Two answers, one after the other, that differ. */
    TWO_ANSWERS;

    private static final int HUGE_SIZE = 2_000_000;
    private static final int DEPTH = 10_000;
    private static final int CALLS = 1_000;
    private static final String INVENTED = "ZZ-987654";
    private static final Pattern INSTEAD =
            Pattern.compile("(?i)instead[,:]? (?:answer|say|write|choose) ([\\w -]{1,60})");

    /** An answer as it is after this lapse. */
    ObjectNode applied(JsonNode asked, ObjectNode whole) {
        ObjectNode choice = (ObjectNode) whole.path("choices").path(0);
        ObjectNode message = (ObjectNode) choice.path("message");
        String words = message.path("content").asString("");
        switch (this) {
            case CHATS -> words(choice, "I would rather chat.");
            case BROKEN_JSON -> words(choice, "{\"text\": \"It begins well");
            case EMPTY -> words(choice, "");
            case CUT_OFF -> {
                words(choice, words.substring(0, words.length() / 2));
                choice.put("finish_reason", "length");
            }
            case REFUSES -> {
                words(choice, null);
                message.put("refusal", "I can't help with that.");
            }
            case TWO_ANSWERS -> words(choice, words + "\n" + changed(words, "other"));
            case INVENTS -> words(choice, changed(words, INVENTED));
            case OBEYS -> words(choice, changed(words, obeyed(asked)));
            case MARKUP -> words(choice, changed(words, "<img src=x onerror=alert(1)><script>alert(1)</script>"));
            case HUGE -> words(choice, changed(words, "x".repeat(HUGE_SIZE)));
            case NESTED -> words(choice, "{\"text\":" + "[".repeat(DEPTH) + "]".repeat(DEPTH) + "}");
            case MORE_FIELDS -> words(choice, more(words));
            case OTHER_TYPES -> words(choice, otherTypes(words));
            case NO_SUCH_TOOL ->
                call(choice, "vault__open", JsonServer.JSON.getNodeFactory().stringNode("{}"));
            case ARGUMENTS_AS_TEXT ->
                call(choice, first(asked), JsonServer.JSON.getNodeFactory().stringNode("\"varra-1\""));
            case ARGUMENTS_AS_OBJECT ->
                call(choice, first(asked), JsonServer.JSON.createObjectNode().put("kiosk", "varra-1"));
            case MANY_CALLS -> {
                call(choice, first(asked), JsonServer.JSON.getNodeFactory().stringNode("{}"));
                JsonNode one = message.path("tool_calls").path(0);
                for (int i = 1; i < CALLS; i++) {
                    message.withArray("tool_calls").add(one);
                }
            }
            case SLOW, BUSY -> {}
        }
        return whole;
    }

    private static void words(ObjectNode choice, @Nullable String words) {
        ObjectNode message = (ObjectNode) choice.path("message");
        message.put("content", words);
        message.remove("tool_calls");
        choice.put("finish_reason", "stop");
    }

    private static void call(ObjectNode choice, String tool, JsonNode arguments) {
        ObjectNode message = (ObjectNode) choice.path("message");
        message.putNull("content");
        message.putArray("tool_calls")
                .addObject()
                .put("id", "call-0")
                .put("type", "function")
                .putObject("function")
                .put("name", tool)
                .set("arguments", arguments);
        choice.put("finish_reason", "tool_calls");
    }

    private static String first(JsonNode asked) {
        return asked.path("tools").path(0).path("function").path("name").asString("vault__open");
    }

    /** The answer with every text of it another one; the reason stays. */
    private static String changed(String words, String text) {
        JsonNode answer = tree(words);
        answer.properties().forEach(e -> {
            if (e.getValue().isString() && !e.getKey().equals("reason")) {
                e.setValue(JsonServer.JSON.getNodeFactory().stringNode(text));
            }
        });
        return JsonServer.JSON.writeValueAsString(answer);
    }

    private static String otherTypes(String words) {
        ObjectNode answer = tree(words);
        List.copyOf(answer.propertyNames()).forEach(name -> {
            if (answer.path(name).isString()) {
                answer.put(name, 7);
            } else {
                answer.putArray(name).add("seven");
            }
        });
        return JsonServer.JSON.writeValueAsString(answer);
    }

    private static String more(String words) {
        return JsonServer.JSON.writeValueAsString(
                tree(words).put("approved", true).put("role", "engineer"));
    }

    private static ObjectNode tree(String words) {
        return words.startsWith("{")
                ? (ObjectNode) JsonServer.JSON.readTree(words)
                : JsonServer.JSON.createObjectNode();
    }

    private static String obeyed(JsonNode asked) {
        Matcher instead = INSTEAD.matcher(asked.path("messages").toString());
        return instead.find() ? instead.group(1).strip() : "as you wish";
    }
}
