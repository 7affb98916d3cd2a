package servitor.core.handbook.read;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.BadExpression;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Intake.Mailbox;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;
import servitor.core.intake.LinePattern;
import servitor.core.intake.Schedule;
import servitor.core.shape.Shape;

/** Reads a file of {@code intake/}. */
final class IntakeFile {
    private static final List<String> KEYS = List.of(
            "title",
            "from",
            "kind",
            "message",
            "when",
            "once-per",
            "requester",
            "subject",
            "text",
            "language",
            "fields",
            "connection",
            "cron",
            "pattern",
            "folder",
            "taken",
            "belongs-to",
            "count-within",
            "relations",
            "acknowledge");
    private static final List<String> BELONGS = List.of(Intake.NewCase.WORD, Intake.NewestOpen.WORD);
    /** What says nothing where messages come in a way. */
    private static final Map<String, List<String>> USELESS = Map.of(
            Intake.MAIL,
            List.of("message", "once-per", "count-within", "relations", "cron", "pattern"),
            Intake.WEBHOOK,
            List.of("folder", "taken", "acknowledge", "cron", "pattern"),
            Intake.SCHEDULE,
            List.of("message", "once-per", "count-within", "connection", "folder", "taken", "acknowledge", "pattern"),
            Intake.LINES,
            List.of("folder", "taken", "acknowledge", "cron", "once-per"));

    private IntakeFile() {}

    static Intake read(String name, Yaml yaml, Findings findings) {
        Keys keys = Keys.of(yaml, findings, KEYS);
        String from = keys.required("from");
        if (!from.isEmpty() && !Intake.WAYS.contains(from)) {
            findings.error(
                    keys.value("from").place(),
                    Code.INTAKE,
                    "‘" + from + "’ is no way for messages to come.",
                    Suggest.remedy(from, Intake.WAYS));
        }
        boolean mail = from.equals(Intake.MAIL);
        boolean posted = !mail && !from.equals(Intake.SCHEDULE);
        USELESS.getOrDefault(from, List.of()).forEach(key -> {
            if (keys.has(key)) {
                findings.error(
                        keys.value(key).place(),
                        Code.INTAKE,
                        "‘" + key + "’ says nothing where messages come by " + from + ".",
                        mail ? "Leave it out: what a mail holds is known, and each counts once." : "Leave it out.");
            }
        });
        if (!mail) {
            keys.needed("subject");
        }
        Intake.Belongs belongs = mail ? ofMail(keys, findings) : ofEvent(keys);
        if (keys.has("count-within") && !(belongs instanceof Intake.Matching)) {
            findings.error(
                    keys.value("count-within").place(),
                    Code.INTAKE,
                    "‘count-within’ says nothing where each message opens a case of its own.",
                    "Say under ‘belongs-to’ which open case a message belongs to.");
        }
        LinePattern pattern = from.equals(Intake.LINES) && keys.has("pattern") ? pattern(keys, findings) : null;
        return new Intake(
                name,
                keys.required("title"),
                from,
                posted && keys.has("connection") ? keys.text("connection") : null,
                pattern,
                from.equals(Intake.SCHEDULE) ? schedule(keys, findings) : null,
                mail
                        ? new Mailbox(keys.required("connection"), keys.text("folder", "INBOX"), keys.text("taken", ""))
                        : null,
                keys.required("kind"),
                pattern == null ? message(keys, from, findings) : pattern.shape(),
                keys.condition("when"),
                keys.has("once-per") ? keys.template("once-per") : null,
                keys.has("requester") ? keys.template("requester") : mail ? of("from") : null,
                mail && !keys.has("subject") ? of("subject") : keys.template("subject"),
                mail && !keys.has("text") ? of("text") : keys.template("text"),
                keys.has("language") ? keys.template("language") : null,
                belongs,
                keys.duration("count-within"),
                keys.has("acknowledge") ? acknowledge(keys) : null,
                templates(keys, "fields"),
                templates(keys, "relations"),
                keys.places());
    }

    private static Shape.Fields message(Keys keys, String from, Findings findings) {
        return switch (from) {
            case Intake.MAIL -> Intake.OF_MAIL;
            case Intake.SCHEDULE -> Intake.OF_SCHEDULE;
            default -> new ShapeReader(findings).map(keys.needed("message"));
        };
    }

    /** The groups of the pattern are what a line holds. */
    private static @Nullable LinePattern pattern(Keys keys, Findings findings) {
        if (keys.has("message")) {
            findings.error(
                    keys.value("message").place(),
                    Code.INTAKE,
                    "‘message’ says nothing beside ‘pattern’: the named groups are what a line holds.",
                    "Leave one of them out; lines of JSON need no pattern.");
        }
        try {
            return LinePattern.of(keys.text("pattern", ""));
        } catch (IllegalArgumentException e) {
            findings.error(
                    keys.value("pattern").place(),
                    Code.INTAKE,
                    "This is no pattern: " + e.getMessage() + ".",
                    "Write it as RE2 has it, with named groups such as (?P<unit>[a-z]+).");
            return null;
        }
    }

    private static @Nullable Schedule schedule(Keys keys, Findings findings) {
        String cron = keys.required("cron");
        try {
            return cron.isEmpty() ? null : Schedule.of(cron);
        } catch (IllegalArgumentException e) {
            findings.error(
                    keys.value("cron").place(),
                    Code.INTAKE,
                    "‘" + cron + "’ is no schedule: " + e.getMessage() + ".",
                    "Write minute, hour, day of the month, month and day of the week, as in \"30 6 * * 1-5\".");
            return null;
        }
    }

    private static Map<String, Template> templates(Keys keys, String key) {
        Map<String, Template> templates = new LinkedHashMap<>();
        keys.entries(key).forEach((name, value) -> templates.put(name, keys.template(value)));
        return templates;
    }

    /** What a message of a system belongs to is a condition on open cases. */
    private static Intake.Belongs ofEvent(Keys keys) {
        boolean none = keys.text("belongs-to", "").equals(Intake.NewCase.WORD);
        Expression condition = none ? null : keys.condition("belongs-to");
        return condition == null ? new Intake.NewCase() : new Intake.Matching(condition);
    }

    private static Intake.Belongs ofMail(Keys keys, Findings findings) {
        String word = keys.text("belongs-to", Intake.NewCase.WORD);
        if (!BELONGS.contains(word)) {
            findings.error(
                    keys.value("belongs-to").place(),
                    Code.INTAKE,
                    "A mail can't belong to ‘" + word + "’.",
                    Suggest.remedy(word, BELONGS));
        }
        return word.equals(Intake.NewestOpen.WORD) ? new Intake.NewestOpen() : new Intake.NewCase();
    }

    /** One text for all, or a text for each language. */
    private static Intake.Acknowledgement acknowledge(Keys keys) {
        Map<String, Template> texts = new LinkedHashMap<>();
        if (keys.value("acknowledge").isMap()) {
            keys.entries("acknowledge").forEach((language, text) -> texts.put(language, keys.template(text)));
        }
        if (texts.isEmpty()) {
            texts.put("", keys.template("acknowledge"));
        }
        return new Intake.Acknowledgement(texts);
    }

    private static Template of(String field) {
        try {
            return Template.parse("${message." + field + "}");
        } catch (BadExpression e) {
            throw new IllegalStateException("a field of every mail", e);
        }
    }
}
