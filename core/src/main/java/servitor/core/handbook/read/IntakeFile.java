package servitor.core.handbook.read;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import servitor.core.expression.Template;
import servitor.core.handbook.Intake;
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
            "fields");

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
        keys.needed("subject");
        Map<String, Template> fields = new LinkedHashMap<>();
        keys.entries("fields").forEach((field, value) -> fields.put(field, keys.template(value)));
        return new Intake(
                name,
                keys.required("title"),
                from,
                keys.required("kind"),
                new ShapeReader(findings).map(keys.needed("message")),
                keys.condition("when"),
                keys.has("once-per") ? keys.template("once-per") : null,
                keys.has("requester") ? keys.template("requester") : null,
                keys.template("subject"),
                keys.template("text"),
                keys.has("language") ? keys.template("language") : null,
                fields,
                keys.places());
    }
}
