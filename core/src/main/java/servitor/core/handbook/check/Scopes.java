package servitor.core.handbook.check;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.expression.Typing;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Priority;
import servitor.core.handbook.Proof;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.shape.Shape;
import servitor.core.shape.Shape.Field;
import servitor.core.shape.Shape.Fields;

/**
 * Which names stand at which step of a handbook's pages, and what their values look like: those that every way to the
 * step has saved. Worked out page by page when asked for.
 */
public final class Scopes {
    /** Names that every page has without saving them. */
    static final List<String> GIVEN = List.of("case", "requester", "desk", "takes", "run", "now");

    private static final Fields REQUESTER = Fields.of(Map.of(
                    "id", Shape.TEXT,
                    "name", Shape.TEXT,
                    "account", Shape.TEXT,
                    "manager", Shape.TEXT,
                    "groups", new Shape.ListOf(Shape.TEXT)))
            .with("proof", new Shape.OneOf(Proof.words()));
    private static final Fields PROBLEM =
            Fields.of(Map.of("name", Shape.TEXT, "step", Shape.TEXT, "detail", Shape.TEXT, "says", Shape.TEXT));
    private static final Shape RUN = new Fields(Map.of(
            "id", new Field(Shape.TEXT, true),
            "page", new Field(Shape.TEXT, true),
            "edition", new Field(Shape.WHOLE, true),
            "problem", new Field(PROBLEM, false)));

    private final Handbook handbook;
    private final Map<String, Map<String, Map<String, Shape>>> worked = new HashMap<>();
    private final Map<String, Fields> gives = new HashMap<>();
    private final Set<String> inWork = new HashSet<>();

    public Scopes(Handbook handbook) {
        this.handbook = handbook;
    }

    /** The shapes of all names in scope at {@code step} of {@code page}; empty when no way leads there. */
    public Optional<Map<String, Shape>> at(Runbook page, Step step) {
        Map<String, Map<String, Shape>> known = worked.get(page.name());
        if (known == null) {
            if (!inWork.add(page.name())) {
                return Optional.empty(); // pages that follow each other in a circle: a finding of its own
            }
            known = work(page);
            worked.put(page.name(), known);
            inWork.remove(page.name());
        }
        return Optional.ofNullable(known.get(step.address()));
    }

    /** For a step that no way leads to, which is a finding of its own: every name there is, saved or given. */
    Map<String, Shape> anywhere(Runbook page) {
        Map<String, Shape> scope = new LinkedHashMap<>(given(page));
        page.steps().forEach(step -> {
            if (step.verb().save() != null) {
                scope.put(step.verb().save(), Shape.ANYTHING);
            }
        });
        return scope;
    }

    /** What {@code page} gives whoever follows it. */
    Fields givenBy(Runbook page) {
        Fields known = gives.get(page.name());
        if (known != null) {
            return known;
        }
        Map<String, Shape> shapes = new LinkedHashMap<>();
        for (Step step : page.steps()) {
            if (step.verb() instanceof Verb.Finish) {
                at(page, step)
                        .ifPresent(scope -> page.gives()
                                .forEach((name, template) -> shapes.merge(name, shapeOf(template, scope), Shape::or)));
            }
        }
        Fields given = Fields.of(shapes);
        if (!inWork.contains(page.name())) {
            gives.put(page.name(), given);
        }
        return given;
    }

    /** The shape of a filled template. */
    static Shape shapeOf(Template template, Map<String, Shape> scope) {
        List<Template.Placed> expressions = template.expressions();
        if (expressions.size() == 1
                && expressions.get(0).whole()
                && expressions.get(0).key().isEmpty()) {
            var whole = expressions.get(0).expression();
            Shape at = whole.asPath()
                    .map(path -> {
                        Shape shape = scope.getOrDefault(path.root(), Shape.ANYTHING);
                        for (String field : path.fields()) {
                            shape = shape.field(field).map(Field::shape).orElse(Shape.ANYTHING);
                        }
                        return shape;
                    })
                    .orElse(Shape.ANYTHING);
            return at instanceof Shape.Anything ? Typing.check(whole, scope).shape() : at;
        }
        if (!template.fieldNames().isEmpty()) {
            Map<String, Shape> fields = new LinkedHashMap<>();
            template.fieldNames().forEach(name -> fields.put(name, shapeOf(template.field(name), scope)));
            return Fields.of(fields);
        }
        if (expressions.isEmpty()) {
            return template.asConstant().map(Scopes::shapeOf).orElse(Shape.ANYTHING);
        }
        return expressions.get(0).key().isEmpty() ? Shape.TEXT : Shape.ANYTHING;
    }

    private static Shape shapeOf(tools.jackson.databind.JsonNode constant) {
        if (constant.isString()) {
            return Shape.TEXT;
        } else if (constant.isBoolean()) {
            return Shape.YES_NO;
        } else if (constant.isNumber()) {
            return constant.isIntegralNumber() ? Shape.WHOLE : Shape.NUMBER;
        }
        return Shape.ANYTHING;
    }

    private Map<String, Map<String, Shape>> work(Runbook page) {
        Map<String, Map<String, Shape>> at = new HashMap<>();
        if (page.steps().isEmpty()) {
            return at;
        }
        Flow flow = new Flow(page);
        Deque<Step> open = new ArrayDeque<>();
        at.put(page.steps().get(0).address(), given(page));
        open.add(page.steps().get(0));
        page.step(page.onTrouble()).ifPresent(step -> {
            at.put(step.address(), given(page));
            open.add(step);
        });
        while (!open.isEmpty()) {
            Step step = open.poll();
            Map<String, Shape> scope = Objects.requireNonNull(at.get(step.address()));
            for (Flow.Way way : flow.waysOut(step)) {
                Map<String, Shape> after = after(way, scope);
                page.step(way.to()).ifPresent(next -> {
                    Map<String, Shape> before = at.get(next.address());
                    Map<String, Shape> both = before == null ? after : meet(before, after);
                    if (!both.equals(before)) {
                        at.put(next.address(), both);
                        open.add(next);
                    }
                });
            }
        }
        return at;
    }

    private static Map<String, Shape> meet(Map<String, Shape> one, Map<String, Shape> other) {
        Map<String, Shape> both = new LinkedHashMap<>();
        one.forEach((name, shape) -> {
            if (other.containsKey(name)) {
                both.put(name, shape.or(other.get(name)));
            }
        });
        return both;
    }

    private Map<String, Shape> after(Flow.Way way, Map<String, Shape> scope) {
        String save = way.from().verb().save();
        if (save == null || !way.saves()) {
            return scope;
        }
        Map<String, Shape> after = new LinkedHashMap<>(scope);
        after.put(save, way.from().verb().result(way.on(), known(scope)));
        return after;
    }

    /** What verbs' results are made of, where {@code scope} is known. */
    private Verb.Known known(Map<String, Shape> scope) {
        return new Verb.Known() {
            @Override
            public Shape answerOf(String name) {
                Tool tool = handbook.tools().get(name);
                return tool == null ? Shape.ANYTHING : Shape.ofSchema(tool.outputs());
            }

            @Override
            public Shape givenBy(String page) {
                return given(page);
            }

            @Override
            public Shape messageTo(String name) {
                Intake intake = handbook.intake().get(name);
                return intake == null || intake.mailbox() != null ? Shape.ANYTHING : intake.message();
            }

            @Override
            public Shape givenByCase(String opened) {
                return kindOf(scope.get(opened))
                        .flatMap(handbook::startedBy)
                        .<Shape>map(page -> Scopes.this.givenBy(page))
                        .orElse(Shape.ANYTHING);
            }

            @Override
            public Shape of(Template template) {
                return shapeOf(template, scope);
            }
        };
    }

    /** The kind of a case that a step has opened, by the shape of what it saved; empty for anything else. */
    static Optional<String> kindOf(@Nullable Shape opened) {
        return opened == null
                ? Optional.empty()
                : opened.field(Opening.KIND)
                        .map(Field::shape)
                        .filter(Shape.OneOf.class::isInstance)
                        .map(kind -> ((Shape.OneOf) kind).options())
                        .filter(options -> options.size() == 1)
                        .map(options -> options.get(0));
    }

    private Shape given(String page) {
        Runbook followed = handbook.runbooks().get(page);
        return followed == null ? Shape.ANYTHING : givenBy(followed);
    }

    /** What every step of {@code page} can read from the start. */
    private Map<String, Shape> given(Runbook page) {
        Map<String, Shape> given = new LinkedHashMap<>();
        given.put("case", ((Fields) caseOf(page.kinds())).with(Kind.MISSING, new Shape.ListOf(Shape.TEXT)));
        given.put("requester", REQUESTER);
        given.put("desk", Shape.TEXT);
        given.put("takes", page.takes());
        given.put("run", RUN);
        given.put("now", Shape.TEXT);
        return given;
    }

    /** What is known of a case of {@code kind} when it is changed. */
    Map<String, Shape> onChange(String kind) {
        return Map.of("case", caseOf(List.of(kind)), "requester", REQUESTER, "desk", Shape.TEXT, "now", Shape.TEXT);
    }

    /** A case of one of {@code kinds}; with no kinds, of any. */
    Shape caseOf(List<String> kinds) {
        Shape fields = null;
        for (String name : kinds) {
            Kind kind = handbook.kinds().get(name);
            Shape own = kind == null ? Shape.ANYTHING : kind.shape();
            fields = fields == null ? own : fields.or(own);
        }
        Map<String, Shape> shapes = new LinkedHashMap<>();
        List.of("id", "desk", "subject", "text", "language", "state").forEach(name -> shapes.put(name, Shape.TEXT));
        shapes.put("kind", handbook.kinds().isEmpty() ? Shape.TEXT : kindNames());
        shapes.put("channel", new Shape.OneOf(Channel.IN));
        shapes.put("priority", new Shape.OneOf(Priority.words()));
        shapes.put("labels", new Shape.ListOf(Shape.TEXT));
        shapes.put("documents", new Shape.ListOf(Verb.Awaited.IN_CASE));
        shapes.put("fields", fields == null ? Shape.ANYTHING : fields);
        return Fields.of(shapes);
    }

    private Shape kindNames() {
        return new Shape.OneOf(handbook.kinds().keySet().stream().sorted().toList());
    }

    /** What a mandate's condition can read when {@code tool} is called. */
    Map<String, Shape> inMandate(Tool tool) {
        Map<String, Shape> scope = new LinkedHashMap<>();
        Shape args = Shape.ofSchema(tool.inputs());
        scope.put("args", args);
        scope.put("case", caseOf(List.of()));
        scope.put("requester", REQUESTER);
        scope.put("agent", Fields.of(Map.of("name", Shape.TEXT)));
        scope.put("run", RUN);
        scope.put("now", Shape.TEXT);
        return scope;
    }
}
