package servitor.core.handbook;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What sort of case; declares the fields a case of this kind has.
 *
 * @param openTo who is offered it, beside the people of its desk: groups, desks (for those who work there), {@link #STAFF},
 *     {@link #EVERYBODY} or {@link #PUBLIC}
 * @param personal whether its cases hold what nobody should read in a mail or a chat room: there only a link is sent
 * @param files what whoever asks may attach
 * @param documents what cases of this kind come with, by name
 * @param resolveWithin how long a case may be open before it is late; null for any time
 */
public record Kind(
        String name,
        String title,
        String desk,
        Set<String> openTo,
        boolean personal,
        FileRule files,
        Map<String, NeededDocument> documents,
        @Nullable Duration resolveWithin,
        Map<String, Field> fields,
        Places places) {
    /** Everybody who is signed in and has a role. */
    public static final String EVERYBODY = "everybody";
    /** Everybody, also those who can't sign in: they confirm by mail what they ask. */
    public static final String PUBLIC = "public";
    /** Everybody who works at some desk. */
    public static final String STAFF = "staff";

    /** What pages call the titles of the documents that a case lacks. */
    public static final String MISSING = "missing";

    public Kind {
        fields = new LinkedHashMap<>(fields);
        documents = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(documents));
        openTo = Set.copyOf(openTo);
    }

    /**
     * Whether somebody is offered cases of this kind.
     *
     * @param groups of the person
     * @param desks where the person works; empty for whoever only asks
     */
    public boolean isOpenTo(Set<String> groups, Set<String> desks) {
        return desks.contains(desk)
                || openTo.contains(EVERYBODY)
                || isPublic()
                || openTo.contains(STAFF) && !desks.isEmpty()
                || openTo.stream().anyMatch(groups::contains)
                || openTo.stream().anyMatch(desks::contains);
    }

    /** Whether people can ask who can't sign in. */
    public boolean isPublic() {
        return openTo.contains(PUBLIC);
    }

    /** Who is offered it beside its desk, in words. */
    public String offered() {
        return openTo.isEmpty() ? "nobody else" : String.join(", ", new TreeSet<>(openTo));
    }

    /**
     * One field of a case.
     *
     * @param type {@code text}, {@code number}, {@code yes/no} or {@code date}
     * @param pattern a regular expression a text must match; empty for none
     * @param hint what the requester is told beside the field; may be empty
     */
    public record Field(String name, String title, String type, boolean required, String pattern, String hint) {
        public Shape shape() {
            return switch (type) {
                case "number" -> Shape.NUMBER;
                case "yes/no" -> Shape.YES_NO;
                case "date" -> Shape.DATE;
                default -> Shape.TEXT;
            };
        }

        /** What is wrong, as somebody would say it: a pattern is told by its hint. */
        private String wrong(String violation) {
            if (!pattern.isEmpty() && violation.contains("pattern")) {
                return "‘" + title + "’ doesn't look right"
                        + (hint.isEmpty() ? "" : ": " + hint.strip().replaceFirst("\\.$", ""));
            }
            return switch (type) {
                case "number" -> "‘" + title + "’ must be a number";
                case "yes/no" -> "‘" + title + "’ must be yes or no";
                case "date" -> "‘" + title + "’ must be a date, such as 2026-05-31";
                default -> "‘" + title + "’: " + violation;
            };
        }

        public ObjectNode schema() {
            ObjectNode schema = shape().schema();
            if (type.equals("text")) {
                schema.put("maxLength", 4_000);
            }
            if (!pattern.isEmpty()) {
                schema.put("pattern", pattern);
            }
            return schema;
        }
    }

    /** What the fields of a case of this kind look like to a condition. */
    public Shape.Fields shape() {
        Map<String, Shape.Field> shapes = new LinkedHashMap<>();
        fields.values().forEach(field -> shapes.put(field.name(), new Shape.Field(field.shape(), field.required())));
        return new Shape.Fields(shapes);
    }

    /** The titles of the documents that a case lacks; {@code view} is the case as pages see it. */
    public List<String> missingIn(JsonNode view) {
        return documents.values().stream()
                .filter(document -> document.isMissingIn(view))
                .map(NeededDocument::title)
                .toList();
    }

    /** JSON Schema of the fields of a case of this kind. */
    public ObjectNode schema() {
        ObjectNode schema = Json.object().put("type", "object").put("additionalProperties", false);
        ObjectNode properties = schema.putObject("properties");
        var required = schema.putArray("required");
        fields.values().forEach(field -> {
            properties.set(field.name(), field.schema());
            if (field.required()) {
                required.add(field.name());
            }
        });
        return schema;
    }

    /** Everything that is wrong with the fields of a new case, in words for who fills them in; empty when they are right. */
    public List<String> violations(JsonNode values) {
        List<String> wrong = new ArrayList<>();
        fields.values().forEach(field -> {
            JsonNode value = values.path(field.name());
            boolean empty = value.isMissingNode()
                    || value.isNull()
                    || value.isString() && value.asString("").isBlank();
            if (empty && field.required()) {
                wrong.add("/" + field.name() + ": ‘" + field.title() + "’ is missing");
            } else if (!value.isMissingNode()) {
                Schemas.violations(field.schema(), value).stream()
                        .limit(1)
                        .forEach(violation -> wrong.add("/" + field.name() + ": " + field.wrong(violation)));
            }
        });
        values.propertyNames().stream()
                .filter(name -> !fields.containsKey(name))
                .forEach(name -> wrong.add("/" + name + ": this kind of case has no such field"));
        return wrong;
    }
}
