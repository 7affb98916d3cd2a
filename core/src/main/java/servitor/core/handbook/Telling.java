package servitor.core.handbook;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import servitor.core.expression.BadExpression;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;
import servitor.core.handbook.Tool.SettleWith;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** The tools behind {@code tell}: calls like any other, which the service carries out itself. */
public final class Telling {
    /** Writes a note on the case that the requester reads. */
    public static final String REPLY = "case.reply";
    /** Writes a note on the case that people of the house read. */
    public static final String NOTE = "case.note";
    /** Sends a mail. It can't be called back, and must not go out twice. */
    public static final String MAIL = "case.mail";
    /** Writes into a room of a chat server. */
    public static final String CHAT = "case.chat";
    /** Looks whether a mail was sent. */
    public static final String FIND_MAIL = "case.find-mail";

    /** Whoever the case is for, as {@code to} says it. */
    public static final String REQUESTER = "requester";
    /** Begins what names a person in {@code to}. */
    public static final String PERSON = "person:";

    private static final String TO = "to";
    private static final String TEXT = "text";
    private static final String KEY = "key";
    /** A mail server that was slow has filed the mail by then. */
    private static final Duration FILED = Duration.ofSeconds(5);

    private Telling() {}

    /** All of them, by name. */
    public static Map<String, Tool> tools() {
        Map<String, Tool> tools = new LinkedHashMap<>();
        Stream.of(
                        tool(REPLY, "Writes a note on the case that the requester reads.", Effect.WRITE, TEXT),
                        tool(NOTE, "Writes a note on the case that people of the house read.", Effect.WRITE, TO, TEXT),
                        tool(MAIL, "Sends a mail about the case to the address on record.", Effect.ONCE, TO, TEXT),
                        tool(CHAT, "Writes into the room of a desk or group.", Effect.WRITE, TO, TEXT),
                        tool(FIND_MAIL, "Looks whether a mail about the case was sent.", Effect.READ, KEY))
                .forEach(tool -> tools.put(tool.name(), tool));
        return tools;
    }

    /** The tool that tells {@code to} something by {@code by}, which isn't {@link Channel#SAME_WAY}. */
    public static String by(Channel by, String to) {
        return switch (by) {
            case MAIL -> MAIL;
            case CHAT -> CHAT;
            default -> to.equals(REQUESTER) ? REPLY : NOTE;
        };
    }

    /** Whether a call of {@code tool} tells somebody something. */
    public static boolean tells(String tool) {
        return List.of(REPLY, NOTE, MAIL, CHAT).contains(tool);
    }

    private static Tool tool(String name, String description, Effect effect, String... inputs) {
        ObjectNode schema = Json.object().put("type", "object").put("additionalProperties", false);
        ObjectNode properties = schema.putObject("properties");
        for (String input : inputs) {
            properties.putObject(input).put("type", "string").put("minLength", 1);
            schema.withArray("required").add(input);
        }
        boolean looks = name.equals(FIND_MAIL);
        return new Tool(
                name,
                Tool.HOUSE,
                description,
                null,
                effect,
                WayOfWorking.ALONE,
                false,
                schema,
                looks ? found() : Json.object(),
                List.of(inputs).contains(TO) ? Set.of(TO) : Set.of(),
                looks ? Set.of() : Set.of(TEXT),
                Map.of(),
                Set.of(),
                Set.of(),
                false,
                Map.of(),
                List.of(),
                Map.of(),
                name.equals(MAIL) ? lookedUp() : null,
                null,
                name.equals(MAIL) ? Duration.ofSeconds(30) : Tool.TIME_LIMIT,
                new Binding.BuiltIn(),
                Place.top("tools/"));
    }

    private static ObjectNode found() {
        ObjectNode found = Json.object().put("type", "object");
        found.putObject("properties").putObject("found").put("type", "boolean");
        found.putArray("required").add("found");
        return found;
    }

    /** A mail that isn't found wasn't sent only where the server files copies; otherwise the lookup fails, and people are asked. */
    private static SettleWith lookedUp() {
        try {
            return new SettleWith(
                    FIND_MAIL,
                    Template.parse(Json.object().put(KEY, "${key}")),
                    Expression.parse("found.found"),
                    Template.parse(Json.object()),
                    FILED,
                    true);
        } catch (BadExpression e) {
            throw new IllegalStateException("the lookup is ours", e);
        }
    }
}
