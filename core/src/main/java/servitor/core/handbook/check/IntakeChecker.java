package servitor.core.handbook.check;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Place;
import servitor.core.handbook.Places;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.shape.Shape;

/** Checks an intake against the kind of case it fills. */
final class IntakeChecker {
    private IntakeChecker() {}

    /** What is acknowledged is sent by the desk, and says what is known of a case then. */
    private static void acknowledged(
            Intake intake, @Nullable Kind kind, Handbook handbook, ExpressionRule expressions, Findings findings) {
        if (intake.acknowledge() == null) {
            return;
        }
        Place place = intake.places().of("acknowledge");
        intake.acknowledge()
                .byLanguage()
                .forEach((language, text) ->
                        expressions.template(text, part -> place, Map.of("case", Intake.ACKNOWLEDGED), List.of()));
        if (kind != null && handbook.letterheadOf(kind.desk()).isEmpty()) {
            findings.error(
                    place,
                    Code.TELL,
                    "The desk ‘" + kind.desk() + "’ sends no mails, so that nothing can be acknowledged.",
                    "Add ‘mail’ with ‘connection’ and ‘from’ to the desk in desks.yaml.");
        }
    }

    /** What a message belongs to is asked of the open cases of its kind. */
    private static void belongs(Intake intake, @Nullable Kind kind, ExpressionRule expressions) {
        if (intake.belongs() instanceof Intake.Matching matching && kind != null) {
            Map<String, Shape> scope = new LinkedHashMap<>(intake.names());
            scope.put("case", Intake.openCase(kind.shape()));
            expressions.condition(matching.to(), intake.places().of("belongs-to"), scope, List.of());
        }
    }

    static void check(Intake intake, Handbook handbook, ExpressionRule expressions, Findings findings) {
        Places places = intake.places();
        Map<String, Shape> scope = intake.names();
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
        acknowledged(intake, kind, handbook, expressions, findings);
        if (kind == null) {
            findings.unknown(Code.UNKNOWN_KIND, intake.kind(), handbook.kinds().keySet(), places.of("kind"));
        }
        belongs(intake, kind, expressions);
        boolean scheduled = intake.from().equals(Intake.SCHEDULE);
        if ((intake.hook() != null || scheduled) && intake.requester() == null) {
            findings.error(
                    places.of(scheduled ? "cron" : "connection"),
                    Code.MISSING_KEY,
                    "Nothing says whose cases these are: "
                            + (scheduled
                                    ? "a schedule is no person."
                                    : "who signs a message is a system, and no person."),
                    "Add ‘requester’: a person's id, account or address.");
        }
        intake.relations()
                .forEach((name, template) ->
                        expressions.template(template, part -> places.of("relations." + name), scope, List.of()));
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
                findings.unknown(Code.UNKNOWN_FIELD, name, kind.fields().keySet(), place);
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
