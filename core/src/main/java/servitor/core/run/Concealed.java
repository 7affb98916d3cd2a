package servitor.core.run;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.origin.Spelling;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.Prompt.Exchange;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A value that models never see: they are told its handle, such as {@code [iban-1]}, and may give that as an input of the same
 * type. Only there it becomes the value again, on the way to the gate.
 *
 * @param handle what models are told instead
 * @param type the format of the field it came in, or the field's name
 */
public record Concealed(String handle, JsonNode value, String type) {
    private static final int SHORTEST = 3;

    /** Remembers the fields of an answer that its tool conceals. */
    static void remember(TransitionBuilder turn, Tool tool, JsonNode answer) {
        List<Concealed> more = new ArrayList<>(turn.memory().concealed());
        int known = more.size();
        for (String path : tool.conceal()) {
            gather(List.of(path.split("\\.")), answer, tool.outputs(), more);
        }
        if (more.size() > known) {
            turn.remember(turn.memory().conceals(more));
        }
    }

    private static void gather(List<String> path, JsonNode at, JsonNode schema, List<Concealed> found) {
        if (at.isArray()) {
            at.forEach(item -> gather(path, item, schema.path("items"), found));
        } else if (!path.isEmpty()) {
            JsonNode field = schema.path("properties").path(path.get(0));
            JsonNode value = at.path(path.get(0));
            if (path.size() > 1 || value.isArray()) {
                gather(path.subList(1, path.size()), value, field, found);
            } else if (value.isValueNode() && !value.isNull() && !text(value).isBlank()) {
                add(value, typeOf(path.get(0), field), found);
            }
        } else if (at.isValueNode() && !at.isNull()) {
            add(at, "value", found);
        }
    }

    private static void add(JsonNode value, String type, List<Concealed> found) {
        if (found.stream().noneMatch(one -> one.value.equals(value))) {
            long before = found.stream().filter(one -> one.type.equals(type)).count();
            found.add(new Concealed("[" + type + "-" + (before + 1) + "]", value, type));
        }
    }

    /** The type of a field, by which a handle may stand in for a value: its format, or its name where it has none. */
    static String typeOf(String name, JsonNode schema) {
        return schema.path("format").asString(name);
    }

    /** The same with every concealed value as its handle, wherever it stands. */
    static JsonNode hide(List<Concealed> concealed, JsonNode value) {
        if (concealed.isEmpty()) {
            return value;
        } else if (value.isObject()) {
            ObjectNode copy = Json.object();
            value.properties().forEach(e -> copy.set(e.getKey(), hide(concealed, e.getValue())));
            return copy;
        } else if (value.isArray()) {
            ArrayNode copy = Json.mapper().createArrayNode();
            value.forEach(item -> copy.add(hide(concealed, item)));
            return copy;
        }
        for (Concealed one : concealed) {
            if (one.is(value)) {
                return Json.of(one.handle);
            }
        }
        return value.isString() ? Json.of(hide(concealed, value.stringValue())) : value;
    }

    /** Whether {@code other} is this value as a whole: however it is spelled, and as a number or a text, if it is long enough. */
    private boolean is(JsonNode other) {
        if (!other.isValueNode() || other.isNull() || other.isBoolean()) {
            return false;
        }
        return text(value).equals(text(other)) && other.isNumber() == value.isNumber()
                || spellings().contains(Spelling.plain(text(other)));
    }

    /** The letters and digits of the value, in each form that it may be written in; none when it is too short to tell. */
    private Set<String> spellings() {
        Set<String> forms = new LinkedHashSet<>();
        forms.add(Spelling.plain(text(value)));
        if (value.isNumber() && value.decimalValue().stripTrailingZeros().scale() > 0) {
            BigDecimal number = value.decimalValue();
            forms.add(Spelling.plain(number.setScale(Math.max(2, number.scale()), RoundingMode.HALF_UP)
                    .toPlainString()));
        }
        forms.removeIf(form -> form.length() < SHORTEST);
        return forms;
    }

    /** The same words with every concealed value as its handle, however it is spelled. */
    static String hide(List<Concealed> concealed, String words) {
        String hidden = words;
        List<Concealed> longest = concealed.stream()
                .sorted(Comparator.comparing((Concealed one) -> text(one.value).length())
                        .reversed())
                .toList();
        for (Concealed one : longest) {
            for (String form : one.spellings()) {
                hidden = Spelling.replace(hidden, form, one.handle);
            }
        }
        return hidden;
    }

    /** An answer as a person is shown it who tries a tool out: what the tool conceals stands as its handle. */
    public static JsonNode shown(Tool tool, JsonNode answer) {
        return hide(of(tool, answer), answer);
    }

    /** Words that came along with an answer, such as a transcript, without what the tool conceals. */
    public static String shown(Tool tool, JsonNode answer, String words) {
        return hide(of(tool, answer), words);
    }

    private static List<Concealed> of(Tool tool, JsonNode answer) {
        List<Concealed> found = new ArrayList<>();
        for (String path : tool.conceal()) {
            gather(List.of(path.split("\\.")), answer, tool.outputs(), found);
        }
        return found;
    }

    /** A prompt with nothing concealed in it. */
    static Prompt hide(List<Concealed> concealed, Prompt prompt) {
        if (concealed.isEmpty()) {
            return prompt;
        }
        return new Prompt(
                prompt.model(),
                prompt.layout(),
                hide(concealed, prompt.system()),
                hide(concealed, prompt.user()),
                prompt.contract(),
                prompt.tools(),
                prompt.exchanges().stream()
                        .map(one -> new Exchange(one.wanted(), hide(concealed, one.result())))
                        .toList(),
                prompt.pictures(),
                prompt.parts().stream()
                        .map(part -> new Prompt.Part(part.from(), hide(concealed, part.text())))
                        .toList());
    }

    /** The value of a handle that a model gave as an input; empty when it is no handle, or not of the input's type. */
    static Optional<Concealed> of(List<Concealed> concealed, JsonNode input, String type) {
        return concealed.stream()
                .filter(one -> one.handle.equals(input.asString("")) && one.type.equals(type))
                .findFirst();
    }

    /** Whether an input holds a handle anywhere in it. */
    static boolean holdsHandle(List<Concealed> concealed, JsonNode input) {
        String all = Json.write(input);
        return concealed.stream().anyMatch(one -> all.contains(one.handle));
    }

    private static String text(JsonNode value) {
        return value.isNumber() ? value.decimalValue().stripTrailingZeros().toPlainString() : value.asString("");
    }
}
