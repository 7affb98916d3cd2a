package servitor.core.handbook;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import servitor.core.expression.Template;
import servitor.core.shape.Shape;

/** Reads a file of {@code intake/}, and checks it against the kinds it fills. */
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
                    Suggest.mend(from, Intake.WAYS));
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

    static void check(Intake intake, Handbook handbook, ExpressionRule expressions, Findings findings) {
        Places places = intake.places();
        Map<String, Shape> scope = Map.of(Intake.MESSAGE, intake.message(), "now", Shape.TEXT);
        if (intake.when() != null) {
            expressions.condition(intake.when(), places.of("when"), scope, List.of());
        }
        Map<String, Template> texts = new LinkedHashMap<>();
        texts.put("subject", intake.subject());
        texts.put("text", intake.text());
        texts.put("once-per", intake.oncePer());
        texts.put("requester", intake.requester());
        texts.put("language", intake.language());
        texts.forEach((key, template) -> {
            if (template != null) {
                expressions.template(template, part -> places.of(key), scope, List.of());
            }
        });
        Kind kind = handbook.kinds().get(intake.kind());
        if (kind == null) {
            Checker.unknown(
                    findings, Code.UNKNOWN_KIND, intake.kind(), handbook.kinds().keySet(), places.of("kind"));
        }
        intake.fields().forEach((name, template) -> {
            Place place = places.of("fields." + name);
            expressions.template(
                    template,
                    part -> places.of("fields." + name + (part.isEmpty() ? "" : "." + part)),
                    scope,
                    List.of());
            Kind.Field field = kind == null ? null : kind.fields().get(name);
            if (field != null) {
                expressions.input(name, template, field.schema(), place, scope);
            } else if (kind != null) {
                Checker.unknown(
                        findings, Code.UNKNOWN_FIELD, name, kind.fields().keySet(), place);
            }
        });
        if (kind != null) {
            kind.fields().values().stream()
                    .filter(field -> field.required() && !intake.fields().containsKey(field.name()))
                    .forEach(field -> findings.error(
                            places.of("fields"),
                            Code.MISSING_FIELD,
                            "‘" + kind.title() + "’ needs the field ‘" + field.name() + "’, and nothing fills it.",
                            "Add ‘" + field.name() + ": \"${message.…}\"’ under ‘fields’."));
        }
    }
}
