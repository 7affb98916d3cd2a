package servitor.core.handbook.check;

import java.time.DateTimeException;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.Set;
import java.util.TreeSet;
import servitor.core.expression.Template;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Open;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;

/** That a case which a step opens is one that can be opened, and that no cases open each other without an end. */
final class OpenRule {
    private final Handbook handbook;
    private final Findings findings;

    OpenRule(Handbook handbook, Findings findings) {
        this.handbook = handbook;
        this.findings = findings;
    }

    void check(Step step, Open open) {
        Kind kind = handbook.kinds().get(open.kind());
        if (kind == null) {
            findings.unknown(Code.UNKNOWN_KIND, open.kind(), handbook.kinds().keySet(), step.placeOf("open"));
            return;
        }
        fields(step, open, kind);
        owner(step, open);
        within(step, open);
    }

    private void fields(Step step, Open open, Kind kind) {
        Template fields = open.inputs().field("fields");
        fields.fieldNames()
                .forEach(name -> findings.unknown(
                        Code.UNKNOWN_FIELD, name, kind.fields().keySet(), step.placeOf("with.fields." + name)));
        boolean plain = fields.expressions().isEmpty() || !fields.fieldNames().isEmpty();
        kind.fields().values().stream()
                .filter(field ->
                        plain && field.required() && !fields.fieldNames().contains(field.name()))
                .forEach(field -> findings.error(
                        step.placeOf("with"),
                        Code.MISSING_FIELD,
                        "‘" + kind.title() + "’ needs the field ‘" + field.name() + "’.",
                        "Add it under ‘fields’."));
    }

    private void owner(Step step, Open open) {
        open.inputs()
                .field(Opening.OWNER)
                .asConstant()
                .map(owner -> owner.asString(""))
                .filter(owner -> !owner.isEmpty() && !owner.startsWith("person:"))
                .ifPresent(owner -> {
                    Set<String> known = new TreeSet<>(handbook.groups().keySet());
                    known.addAll(handbook.desks().keySet());
                    findings.unknown(Code.UNKNOWN_GROUP, owner, known, step.placeOf("with." + Opening.OWNER));
                });
    }

    private void within(Step step, Open open) {
        String within = open.inputs()
                .field(Opening.WITHIN)
                .asConstant()
                .map(value -> value.asString(""))
                .orElse("");
        try {
            if (!within.isEmpty()) {
                Duration.parse(within);
            }
        } catch (DateTimeException e) {
            findings.error(
                    step.placeOf("with." + Opening.WITHIN),
                    Code.DURATION,
                    "‘" + within + "’ is no length of time.",
                    "Write it as ISO 8601, such as PT4H or P2D.");
        }
    }

    /** A case may lead to others, but not back to one of its own kind. */
    void circles() {
        for (Runbook page : handbook.runbooks().values()) {
            for (Step step : page.steps()) {
                if (step.verb() instanceof Open open) {
                    page.kinds().stream()
                            .filter(kind -> leadsTo(open.kind(), kind))
                            .sorted()
                            .findFirst()
                            .ifPresent(kind -> findings.error(
                                    step.placeOf("open"),
                                    Code.OPENS_IN_CIRCLE,
                                    "A case ‘" + kind + "’ opens another ‘" + kind + "’ by this: it would be refused.",
                                    "Open another kind, or take one of the ‘open’ steps out."));
                }
            }
        }
    }

    private boolean leadsTo(String from, String wanted) {
        Set<String> seen = new HashSet<>();
        Deque<String> open = new ArrayDeque<>(Set.of(from));
        while (!open.isEmpty()) {
            String kind = open.pop();
            if (kind.equals(wanted)) {
                return true;
            }
            if (seen.add(kind)) {
                open.addAll(openedBy(kind));
            }
        }
        return false;
    }

    private Set<String> openedBy(String kind) {
        Set<String> kinds = new LinkedHashSet<>();
        for (Runbook page : handbook.runbooks().values()) {
            for (Step step : page.kinds().contains(kind) ? page.steps() : java.util.List.<Step>of()) {
                if (step.verb() instanceof Verb.Open open) {
                    kinds.add(open.kind());
                }
            }
        }
        return kinds;
    }
}
