package servitor.core.handbook;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Expression;
import servitor.core.expression.Path;
import servitor.core.expression.Sameness;
import servitor.core.expression.Template;
import servitor.core.intake.LinePattern;
import servitor.core.intake.OutsideEvent;
import servitor.core.intake.Schedule;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.shape.Shape;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.MissingNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * How messages of one outside system become cases.
 *
 * @param name the file name without its ending; part of the address that messages are sent to
 * @param from the way messages come: {@code webhook}, {@code mail}, {@code schedule} or {@code lines}
 * @param hook the connection of the system that signs its messages; null where they come with somebody's token, or another way
 * @param pattern what is read of a line of text; null for lines of JSON, and for what comes another way
 * @param schedule when it opens a case by itself; null for what comes another way
 * @param mailbox where mails are; null for what comes another way
 * @param kind the kind of case they become
 * @param message what a message holds; whatever else comes with it is left out
 * @param when which messages become a case; null for all of them
 * @param oncePer what makes a message the same as an earlier one, which then opens nothing; null for nothing
 * @param requester the account or name of the person a case is for; null for whoever sends the message
 * @param belongs which case a message belongs to instead of opening one; for a mail, when it is in no thread of ours
 * @param countWithin how long after the last message a further one to the same case is only counted; null for never
 * @param acknowledge what whoever opens a case by mail hears at once, by language over {@code case} ({@link #ACKNOWLEDGED}); null for
 *     nothing
 * @param fields how the fields of a case are filled, by their names
 * @param relations what a new case is related to, by what it is to it
 */
public record Intake(
        String name,
        String title,
        String from,
        @Nullable String hook,
        @Nullable LinePattern pattern,
        @Nullable Schedule schedule,
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
        @Nullable Duration countWithin,
        @Nullable Acknowledgement acknowledge,
        Map<String, Template> fields,
        Map<String, Template> relations,
        Places places) {

    /** The ways messages can come. */
    public static final String WEBHOOK = "webhook";

    public static final String MAIL = "mail";
    public static final String SCHEDULE = "schedule";
    public static final String LINES = "lines";
    public static final List<String> WAYS = List.of(WEBHOOK, MAIL, SCHEDULE, LINES);

    /** What is known when a schedule fires: the time by the clock on the wall of the house. */
    public static final Shape.Fields OF_SCHEDULE =
            Shape.Fields.of(Map.of("at", Shape.TEXT, "date", Shape.DATE, "time", Shape.TEXT));

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
    private static final int MOST_IGNORED = 50;

    public static final String EVENT = "event";
    public static final String CASE = "case";

    /** What is known of every message that a system posts, beside what it holds; all of it may be empty. */
    public static final Shape.Fields OF_EVENT = Shape.Fields.of(Map.of(
            "id", Shape.TEXT, "source", Shape.TEXT, "type", Shape.TEXT, "subject", Shape.TEXT, "time", Shape.TEXT));

    /** Which case a message belongs to. */
    public sealed interface Belongs {
        /** As the file says it. */
        String words();
    }

    /** A case of its own. */
    public record NewCase() implements Belongs {
        public static final String WORD = "new-case";

        @Override
        public String words() {
            return WORD;
        }
    }

    /** The newest open case that a mail's sender has asked for at the desk, if it is proven who sent it; else a case of its own. */
    public record NewestOpen() implements Belongs {
        public static final String WORD = "newest-open";

        @Override
        public String words() {
            return WORD;
        }
    }

    /** The newest open case of the intake's kind that {@code to} holds of, over {@link Intake#openCase}; else a case of its own. */
    public record Matching(Expression to) implements Belongs {
        @Override
        public String words() {
            return to.text();
        }
    }

    /** What a condition knows of an open case that a message may belong to; {@code relations} are lists by what they are to it. */
    public static Shape.Fields openCase(Shape.Fields fields) {
        Map<String, Shape> known = new LinkedHashMap<>();
        List.of("id", "subject", "requester", "state", "priority").forEach(name -> known.put(name, Shape.TEXT));
        known.put("labels", new Shape.ListOf(Shape.TEXT));
        known.put("fields", fields);
        known.put("relations", Shape.ANYTHING);
        return Shape.Fields.of(known);
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
        relations = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(relations));
    }

    /** The names that its expressions know, with what they look like. */
    public Map<String, Shape> names() {
        Map<String, Shape> names = new LinkedHashMap<>(Map.of(MESSAGE, message, "now", Shape.TEXT));
        if (mailbox == null) {
            names.put(EVENT, OF_EVENT);
        }
        return names;
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

    /**
     * A case it asks for; {@code key} is null when each message counts for itself.
     *
     * @param message what is read of it
     */
    public record Asked(
            JsonNode message,
            @Nullable String key,
            @Nullable String requester,
            String subject,
            String text,
            @Nullable String language,
            Map<String, JsonNode> fields,
            Map<String, String> relations)
            implements Outcome {}

    /**
     * The condition leaves it out.
     *
     * @param asked what it says all the same, for the case it may belong to; null when that can't be filled
     */
    public record LeftOut(String why, @Nullable Asked asked) implements Outcome {}

    /** It isn't what is declared, or something can't be filled from it. */
    public record Unreadable(List<String> faults) implements Outcome {}

    /**
     * Reads one message; never throws, whatever it holds.
     *
     * @param now the time of its arrival, in ISO 8601
     */
    public Outcome read(JsonNode sent, String now) {
        return read(OutsideEvent.plain("", sent), now);
    }

    /** The same of a message of which more is known than what it holds. */
    public Outcome read(OutsideEvent event, String now) {
        JsonNode data = event.data();
        if (pattern != null && data.isString()) {
            Optional<ObjectNode> read = pattern.read(data.stringValue());
            if (read.isEmpty()) {
                return new LeftOut("the pattern isn't found in it", null);
            }
            data = read.get();
        }
        return readData(event, data, now);
    }

    private Outcome readData(OutsideEvent event, JsonNode data, String now) {
        JsonNode known = declared(message, data);
        List<String> faults = Schemas.violations(message.schema(), known);
        if (!faults.isEmpty()) {
            return new Unreadable(faults);
        }
        Map<String, JsonNode> plain = Map.of(MESSAGE, message.fit(known), EVENT, event.head(), "now", Json.of(now));
        Map<String, TracedValue> scope = new LinkedHashMap<>();
        plain.forEach((name, value) ->
                scope.put(name, TracedValue.of(value, name.equals("now") ? Origin.HANDBOOK : Origin.REQUESTER)));
        try {
            if (when != null && !when.holds(plain)) {
                return new LeftOut(
                        "the condition ‘" + when.text().strip() + "’ doesn't hold",
                        belongs instanceof Matching ? filled(scope) : null);
            }
            return asked(scope);
        } catch (EvaluationFailed e) {
            return new Unreadable(List.of(String.valueOf(e.getMessage())));
        }
    }

    private @Nullable Asked filled(Map<String, TracedValue> scope) {
        try {
            return asked(scope);
        } catch (EvaluationFailed e) {
            return null;
        }
    }

    private Asked asked(Map<String, TracedValue> scope) throws EvaluationFailed {
        Map<String, JsonNode> filled = new LinkedHashMap<>();
        for (Map.Entry<String, Template> field : fields.entrySet()) {
            filled.put(field.getKey(), field.getValue().fill(scope).value());
        }
        Map<String, String> related = new LinkedHashMap<>();
        for (Map.Entry<String, Template> relation : relations.entrySet()) {
            related.put(relation.getKey(), String.valueOf(words(relation.getValue(), scope)));
        }
        return new Asked(
                Objects.requireNonNull(scope.get(MESSAGE)).value(),
                words(oncePer, scope),
                words(requester, scope),
                String.valueOf(words(subject, scope)),
                String.valueOf(words(text, scope)),
                words(language, scope),
                filled,
                related);
    }

    /**
     * Tells of open cases ({@link #openCase}) whether a message belongs to them. A condition that has no value there doesn't hold.
     *
     * @param asked what was read of {@code event}
     */
    public Predicate<JsonNode> about(Asked asked, OutsideEvent event, String now) {
        if (!(belongs instanceof Matching matching)) {
            return aCase -> false;
        }
        Map<String, JsonNode> scope =
                new HashMap<>(Map.of(MESSAGE, asked.message(), EVENT, event.head(), "now", Json.of(now)));
        List<Predicate<JsonNode>> needed = matching.to().samenesses().stream()
                .flatMap(same -> ruledOut(same, scope).stream())
                .toList();
        return aCase -> needed.stream().allMatch(one -> one.test(aCase)) && holds(matching.to(), scope, aCase);
    }

    private static boolean holds(Expression condition, Map<String, JsonNode> scope, JsonNode aCase) {
        try {
            Map<String, JsonNode> all = new HashMap<>(scope);
            all.put(CASE, aCase);
            return condition.holds(all);
        } catch (EvaluationFailed e) {
            return false;
        }
    }

    /** Most cases are ruled out by a text that has to be the same in the message and in the case, without asking the condition. */
    private static Optional<Predicate<JsonNode>> ruledOut(Sameness same, Map<String, JsonNode> scope) {
        boolean caseFirst = same.one().root().equals(CASE);
        if (caseFirst == same.other().root().equals(CASE) || caseFirst && same.member()) {
            return Optional.empty();
        }
        JsonNode said = at(caseFirst ? same.other() : same.one(), scope);
        Path where = caseFirst ? same.one() : same.other();
        return said.isString() ? Optional.of(aCase -> has(at(where, Map.of(CASE, aCase)), said)) : Optional.empty();
    }

    /** Whether a value of a case may be {@code said}, or have it. */
    private static boolean has(JsonNode value, JsonNode said) {
        return value.isArray() ? value.valueStream().anyMatch(said::equals) : !value.isString() || value.equals(said);
    }

    private static JsonNode at(Path path, Map<String, JsonNode> scope) {
        JsonNode value = scope.getOrDefault(path.root(), MissingNode.getInstance());
        for (String field : path.fields()) {
            value = value.path(field);
        }
        return value;
    }

    private static @Nullable String words(@Nullable Template template, Map<String, TracedValue> scope)
            throws EvaluationFailed {
        if (template == null) {
            return null;
        }
        JsonNode value = template.fill(scope).value();
        return value.isString() ? value.stringValue() : Json.write(value);
    }

    /** Where {@code sent} holds something that isn't read, such as {@code order.notes}; at most {@link #MOST_IGNORED} of them. */
    public List<String> ignored(JsonNode sent) {
        List<String> ignored = new ArrayList<>();
        ignored("", message, sent, ignored);
        return ignored.stream().distinct().limit(MOST_IGNORED).toList();
    }

    private static void ignored(String at, Shape shape, JsonNode value, List<String> ignored) {
        if (shape instanceof Shape.Fields map && value.isObject()) {
            value.properties().forEach(part -> {
                String path = at.isEmpty() ? part.getKey() : at + "." + part.getKey();
                Shape.Field field = map.fields().get(part.getKey());
                if (field == null) {
                    ignored.add(path);
                } else {
                    ignored(path, field.shape(), part.getValue(), ignored);
                }
            });
        } else if (shape instanceof Shape.ListOf list && value.isArray()) {
            value.forEach(item -> ignored(at, list.item(), item, ignored));
        }
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
