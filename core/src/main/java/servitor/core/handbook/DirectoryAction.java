package servitor.core.handbook;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import servitor.core.json.Json;
import tools.jackson.databind.node.ObjectNode;

/** What can be done in a staff directory. Inputs and answers are the same whatever the directory's own schema is. */
public enum DirectoryAction {
    FIND_PERSON(Effect.READ, List.of("account"), person()),
    FIND_PEOPLE(Effect.READ, List.of("words"), Json.object().<ObjectNode>set("people", list(person()))),
    GROUPS(
            Effect.READ,
            List.of("account"),
            Json.object().<ObjectNode>set("groups", list(Json.object().put("type", "string")))),
    UNLOCK(Effect.WRITE, List.of("account"), done("unlocked")),
    SET_PASSWORD(Effect.WRITE, List.of("account", "password"), done("changed")),
    ADD_MEMBER(Effect.WRITE, List.of("account", "group"), done("changed")),
    REMOVE_MEMBER(Effect.WRITE, List.of("account", "group"), done("changed"));

    private final Effect effect;
    private final List<String> inputs;
    private final ObjectNode outputs;

    DirectoryAction(Effect effect, List<String> inputs, ObjectNode outputs) {
        this.effect = effect;
        this.inputs = inputs;
        this.outputs = outputs;
    }

    public Effect effect() {
        return effect;
    }

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** JSON Schema of what it needs. */
    public ObjectNode inputs() {
        ObjectNode properties = Json.object();
        inputs.forEach(name -> {
            ObjectNode input = properties.putObject(name).put("type", "string").put("minLength", 1);
            input.put("maxLength", name.equals("words") ? 200 : 100);
            if (name.equals("account")) {
                input.put("format", "account");
            }
        });
        return object(properties).put("additionalProperties", false);
    }

    /** JSON Schema of what it answers. */
    public ObjectNode outputs() {
        return object(outputs);
    }

    private static ObjectNode object(ObjectNode properties) {
        ObjectNode schema = Json.object().put("type", "object");
        schema.set("properties", properties.deepCopy());
        schema.set("required", Json.of(properties.propertyNames()));
        return schema;
    }

    private static ObjectNode person() {
        ObjectNode person = Json.object();
        Map.of("account", "string", "name", "string", "mail", "string", "title", "string", "locked", "boolean")
                .entrySet()
                .stream()
                .sorted(Map.Entry.comparingByKey())
                .forEach(e -> person.set(e.getKey(), Json.object().put("type", e.getValue())));
        ((ObjectNode) person.get("account")).put("format", "account");
        person.set("groups", list(Json.object().put("type", "string")));
        return person;
    }

    private static ObjectNode done(String name) {
        ObjectNode answer = Json.object();
        answer.set("account", Json.object().put("type", "string").put("format", "account"));
        answer.set(name, Json.object().put("type", "boolean"));
        return answer;
    }

    private static ObjectNode list(ObjectNode item) {
        ObjectNode schema = Json.object().put("type", "array");
        schema.set("items", item.has("type") && item.get("type").isString() ? item : object(item));
        return schema;
    }
}
