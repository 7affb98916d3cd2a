package servitor.core.handbook.read;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import servitor.core.expression.BadExpression;
import servitor.core.expression.Template;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Intake.Mailbox;
import servitor.core.handbook.Words;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;

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
            "folder",
            "taken",
            "belongs-to",
            "acknowledge");
    private static final List<String> NOT_OF_MAIL = List.of("message", "once-per");
    private static final List<String> OF_MAIL_ONLY =
            List.of("connection", "folder", "taken", "belongs-to", "acknowledge");

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
        (mail ? NOT_OF_MAIL : OF_MAIL_ONLY).forEach(key -> {
            if (keys.has(key)) {
                findings.error(
                        keys.value(key).place(),
                        Code.INTAKE,
                        "‘" + key + "’ says nothing where messages come by " + (mail ? "mail" : from) + ".",
                        mail ? "Leave it out: what a mail holds is known, and each counts once." : "Leave it out.");
            }
        });
        if (!mail) {
            keys.needed("subject");
        }
        Map<String, Template> fields = new LinkedHashMap<>();
        keys.entries("fields").forEach((field, value) -> fields.put(field, keys.template(value)));
        return new Intake(
                name,
                keys.required("title"),
                from,
                mail
                        ? new Mailbox(keys.required("connection"), keys.text("folder", "INBOX"), keys.text("taken", ""))
                        : null,
                keys.required("kind"),
                mail ? Intake.OF_MAIL : new ShapeReader(findings).map(keys.needed("message")),
                keys.condition("when"),
                keys.has("once-per") ? keys.template("once-per") : null,
                keys.has("requester") ? keys.template("requester") : mail ? of("from") : null,
                mail && !keys.has("subject") ? of("subject") : keys.template("subject"),
                mail && !keys.has("text") ? of("text") : keys.template("text"),
                keys.has("language") ? keys.template("language") : null,
                belongs(keys, findings),
                keys.has("acknowledge") ? acknowledge(keys) : null,
                fields,
                keys.places());
    }

    private static Intake.Belongs belongs(Keys keys, Findings findings) {
        String word = keys.text("belongs-to", Intake.Belongs.NEW_CASE.word());
        return Words.find(Intake.Belongs.class, word).orElseGet(() -> {
            findings.error(
                    keys.value("belongs-to").place(),
                    Code.INTAKE,
                    "A mail can't belong to ‘" + word + "’.",
                    Suggest.remedy(word, Words.all(Intake.Belongs.class)));
            return Intake.Belongs.NEW_CASE;
        });
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
