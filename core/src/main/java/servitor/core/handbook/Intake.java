package servitor.core.handbook;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * How messages of one outside system become cases.
 *
 * @param name the file name without its ending; part of the address that messages are sent to
 * @param from the way messages come: {@code webhook} or {@code mail}
 * @param mailbox where mails are; null for what comes another way
 * @param kind the kind of case they become
 * @param message what a message holds; whatever else comes with it is left out
 * @param when which messages become a case; null for all of them
 * @param oncePer what makes a message the same as an earlier one, which then opens nothing; null for nothing
 * @param requester the account or name of the person a case is for; null for whoever sends the message
 * @param belongs what a mail belongs to that is in no thread of ours
 * @param acknowledge what whoever opens a case by mail hears at once, by language over {@code case} ({@link #ACKNOWLEDGED}); null for
 *     nothing
 * @param fields how the fields of a case are filled, by their names
 */
public record Intake(
        String name,
        String title,
        String from,
        @Nullable Mailbox mailbox,
        String kind,
        Shape.Fields message,
        @Nullable Expression when,
        @Nullable Template oncePer,
        @Nullable Template requester,
        Template subject,
        Template text,
        @Nullable Template language,
        Belongs belongs,
        @Nullable Acknowledgement acknowledge,
        Map<String, Template> fields,
        Places places) {

    /** The ways messages can come. */
    public static final String WEBHOOK = "webhook";

    public static final String MAIL = "mail";
    public static final List<String> WAYS = List.of(WEBHOOK, MAIL);

    /** What is known of every mail. {@code proof} is what our own mail server's word about its sender is worth. */
    public static final Shape.Fields OF_MAIL = ofMail();

    /**
     * A folder of a mail server.
     *
     * @param taken the folder that mails are moved to once they are taken in; empty when they are only flagged
     */
    public record Mailbox(String connection, String folder, String taken) {
        /** Whether both are the same folder, whatever becomes of what is taken in. */
        public boolean isSameAs(Mailbox other) {
            return connection.equals(other.connection) && folder.equals(other.folder);
        }

        @Override
        public String toString() {
            return folder + " of " + connection + (taken.isEmpty() ? "" : ", moved to " + taken);
        }
    }

    public static final String MESSAGE = "message";

    /** What a mail belongs to that is in no thread of ours. */
    public enum Belongs {
        /** A case of its own. */
        NEW_CASE,
        /** The newest open case that its sender has asked for at the desk, if it is proven who sent it; else a case of its own. */
        NEWEST_OPEN;

        public String word() {
            return Words.of(this);
        }
    }

    /** What is known of a case when it is acknowledged. */
    public static final Shape.Fields ACKNOWLEDGED =
            Shape.Fields.of(Map.of("id", Shape.TEXT, "subject", Shape.TEXT, "kind", Shape.TEXT));

    /** An acknowledgement in several languages; in the first one for those who have asked in none of them. */
    public record Acknowledgement(Map<String, Template> byLanguage) {
        public Acknowledgement {
            byLanguage = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(byLanguage));
        }

        /** What is said of {@code aCase} ({@link Intake#ACKNOWLEDGED}) to somebody who asked in {@code language}. */
        public String words(ObjectNode aCase, String language) throws EvaluationFailed {
            Template meant = byLanguage.getOrDefault(
                    language,
                    byLanguage.getOrDefault(
                            language.split("-", 2)[0],
                            byLanguage.values().iterator().next()));
            return String.valueOf(Intake.words(meant, Map.of("case", TracedValue.of(aCase, Origin.HANDBOOK))));
        }
    }

    public Intake {
        fields = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(fields));
    }

    private static Shape.Fields ofMail() {
        Map<String, Shape> mail = new LinkedHashMap<>();
        List.of("from", "name").forEach(name -> mail.put(name, Shape.TEXT));
        List.of("to", "cc").forEach(name -> mail.put(name, new Shape.ListOf(Shape.TEXT)));
        List.of("subject", "text", "folder", "language").forEach(name -> mail.put(name, Shape.TEXT));
        mail.put("size", Shape.WHOLE);
        mail.put("proof", new Shape.OneOf(List.of(Proof.VERIFIED.word(), Proof.CLAIMED.word())));
        mail.put("headers", listOf("name", Shape.TEXT, "value", Shape.TEXT));
        mail.put("attachments", listOf("name", Shape.TEXT, "type", Shape.TEXT, "size", Shape.WHOLE));
        return Shape.Fields.of(mail);
    }

    private static Shape listOf(Object... namesAndShapes) {
        Map<String, Shape> fields = new LinkedHashMap<>();
        for (int i = 0; i < namesAndShapes.length; i += 2) {
            fields.put((String) namesAndShapes[i], (Shape) namesAndShapes[i + 1]);
        }
        return new Shape.ListOf(Shape.Fields.of(fields));
    }

    /** What becomes of a message. */
    public sealed interface Outcome {}

    /** A case it asks for; {@code key} is null when each message counts for itself. */
    public record Asked(
            @Nullable String key,
            @Nullable String requester,
            String subject,
            String text,
            @Nullable String language,
            Map<String, JsonNode> fields)
            implements Outcome {}

    /** The condition leaves it out. */
    public record LeftOut(String why) implements Outcome {}

    /** It isn't what is declared, or something can't be filled from it. */
    public record Unreadable(List<String> faults) implements Outcome {}

    /**
     * Reads one message; never throws, whatever it holds.
     *
     * @param now the time of its arrival, in ISO 8601
     */
    public Outcome read(JsonNode sent, String now) {
        JsonNode known = declared(message, sent);
        List<String> faults = Schemas.violations(message.schema(), known);
        if (!faults.isEmpty()) {
            return new Unreadable(faults);
        }
        Map<String, TracedValue> scope = Map.of(
                MESSAGE,
                TracedValue.of(message.fit(known), Origin.REQUESTER),
                "now",
                TracedValue.of(Json.of(now), Origin.HANDBOOK));
        try {
            if (when != null && !when.holds(Map.of(MESSAGE, message.fit(known), "now", Json.of(now)))) {
                return new LeftOut("the condition ‘" + when.text().strip() + "’ doesn't hold");
            }
            Map<String, JsonNode> filled = new LinkedHashMap<>();
            for (Map.Entry<String, Template> field : fields.entrySet()) {
                filled.put(field.getKey(), field.getValue().fill(scope).value());
            }
            return new Asked(
                    words(oncePer, scope),
                    words(requester, scope),
                    String.valueOf(words(subject, scope)),
                    String.valueOf(words(text, scope)),
                    words(language, scope),
                    filled);
        } catch (EvaluationFailed e) {
            return new Unreadable(List.of(String.valueOf(e.getMessage())));
        }
    }

    private static @Nullable String words(@Nullable Template template, Map<String, TracedValue> scope)
            throws EvaluationFailed {
        if (template == null) {
            return null;
        }
        JsonNode value = template.fill(scope).value();
        return value.isString() ? value.stringValue() : Json.write(value);
    }

    /** The parts of {@code value} that {@code shape} declares: large messages are cut down to what is needed. */
    private static JsonNode declared(Shape shape, JsonNode value) {
        if (shape instanceof Shape.Fields map && value.isObject()) {
            ObjectNode kept = Json.object();
            map.fields()
                    .forEach((name, field) -> Optional.ofNullable(value.get(name))
                            .ifPresent(part -> kept.set(name, declared(field.shape(), part))));
            return kept;
        }
        if (shape instanceof Shape.ListOf list && value.isArray()) {
            var kept = Json.mapper().createArrayNode();
            value.forEach(item -> kept.add(declared(list.item(), item)));
            return kept;
        }
        return value;
    }
}
