package servitor.core.handbook;

import java.util.List;
import java.util.Map;
import java.util.Set;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** The tool behind {@code open}: a call like any other, which the service carries out itself. */
public final class Opening {
    /** Opens another case for the one that is worked on. */
    public static final String OPEN = "case.open";

    /** The kind of case to open; its desk is where it is opened. */
    public static final String KIND = "kind";
    /** Whose case it is, by {@code requester.id}; whoever this one is for when it is left out. */
    public static final String FOR = "for";
    /** The group, or the person by {@code person:ID}, who is to see to it. */
    public static final String OWNER = "owner";
    /** What it is to this case, such as {@code isolation}. */
    public static final String RELATION = "relation";
    /** How long it may take (ISO 8601). */
    public static final String WITHIN = "within";

    private Opening() {}

    /** Its declaration. Asked for again with the same key, it answers with the case that is there. */
    public static Tool tool() {
        return new Tool(
                OPEN,
                Tool.HOUSE,
                "Opens another case for the one that is worked on, at the desk of its kind.",
                null,
                Effect.WRITE,
                WayOfWorking.ALONE,
                false,
                inputs(),
                outputs(),
                Set.of(KIND, FOR, OWNER),
                Set.of("subject", "text", "fields"),
                Map.of(),
                Set.of(),
                Set.of(),
                true,
                Map.of(),
                List.of(),
                Map.of(),
                null,
                null,
                Tool.TIME_LIMIT,
                new Binding.BuiltIn(),
                Place.top("tools/"));
    }

    private static ObjectNode inputs() {
        ObjectNode schema = Json.object().put("type", "object").put("additionalProperties", false);
        ObjectNode properties = schema.putObject("properties");
        for (String name : List.of(KIND, "subject", "text", FOR, OWNER, RELATION)) {
            properties.putObject(name).put("type", "string").put("minLength", 1);
        }
        ((ObjectNode) properties.get(RELATION)).put("pattern", "^[a-z][a-z0-9-]{0,39}$");
        properties.putObject("fields").put("type", "object");
        properties.putObject(WITHIN).put("type", "string").put("pattern", "^P");
        schema.putArray("required").add(KIND).add("subject");
        return schema;
    }

    private static ObjectNode outputs() {
        ObjectNode schema = Json.object().put("type", "object");
        for (String name : List.of("id", KIND)) {
            schema.withObject("properties").putObject(name).put("type", "string");
            schema.withArray("required").add(name);
        }
        return schema;
    }
}
