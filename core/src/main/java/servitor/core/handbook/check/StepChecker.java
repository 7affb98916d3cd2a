package servitor.core.handbook.check;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import servitor.core.expression.Template;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.House;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Place;
import servitor.core.handbook.Priority;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Assess;
import servitor.core.handbook.Verb.Await;
import servitor.core.handbook.Verb.Call;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.Verb.Each;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.Follow;
import servitor.core.handbook.Verb.HandOver;
import servitor.core.handbook.Verb.Offer;
import servitor.core.handbook.Verb.Open;
import servitor.core.handbook.Verb.Pursue;
import servitor.core.handbook.Verb.Tell;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.shape.Shape;

/** Checks what a step says: names, inputs and expressions, by its verb. */
final class StepChecker {
    /** What one verb's steps are held to. */
    private interface Rule<V extends Verb> {
        void check(StepChecker checker, Step step, V verb, Map<String, Shape> scope);
    }

    private static final Map<Class<? extends Verb>, Rule<?>> RULES = new LinkedHashMap<>();

    static {
        rule(Call.class, StepChecker::call);
        rule(Open.class, StepChecker::open);
        rule(Assess.class, StepChecker::assess);
        rule(Decide.class, StepChecker::decide);
        rule(Draft.class, StepChecker::draft);
        rule(Pursue.class, StepChecker::pursue);
        rule(Approve.class, StepChecker::approve);
        rule(Tell.class, StepChecker::tell);
        rule(Verb.Set.class, StepChecker::set);
        rule(Await.class, StepChecker::await);
        rule(Each.class, StepChecker::each);
        rule(
                Follow.class,
                (checker, step, follow, scope) ->
                        checker.followed(step, follow.page(), "follow", follow.with(), scope));
        rule(Verb.Read.class, StepChecker::read);
        rule(HandOver.class, StepChecker::handOver);
        rule(Finish.class, StepChecker::finish);
    }

    private final Handbook handbook;
    private final Runbook page;
    private final Findings findings;
    private final Flow flow;
    private final ExpressionRule expressions;
    private final List<String> saved;

    StepChecker(Handbook handbook, Runbook page, Flow flow, Findings findings) {
        this.handbook = handbook;
        this.page = page;
        this.findings = findings;
        this.flow = flow;
        this.expressions = new ExpressionRule(findings);
        this.saved = page.steps().stream()
                .map(step -> step.verb().save())
                .filter(java.util.Objects::nonNull)
                .distinct()
                .toList();
    }

    private static <V extends Verb> void rule(Class<V> verb, Rule<V> rule) {
        RULES.put(verb, rule);
    }

    private void known(Code code, String name, java.util.Collection<String> known, Place place) {
        findings.unknown(code, name, known, place);
    }

    /** The verbs that have a rule. */
    static Set<Class<? extends Verb>> checked() {
        return RULES.keySet();
    }

    /** Checks the step against the names and shapes in scope where it stands. */
    void check(Step step, Map<String, Shape> scope) {
        if (step.model() != null) {
            known(Code.UNKNOWN_MODEL, step.model(), handbook.house().models().keySet(), step.placeOf("model"));
        }
        apply(Objects.requireNonNull(RULES.get(step.verb().getClass())), step, scope);
    }

    @SuppressWarnings("unchecked") // the table pairs each rule with its own verb
    private <V extends Verb> void apply(Rule<V> rule, Step step, Map<String, Shape> scope) {
        rule.check(this, step, (V) step.verb(), scope);
    }

    private void decide(Step step, Decide decide, Map<String, Shape> scope) {
        if (decide.table() != null) {
            template(step, "decide", decide.table().of(), scope);
            new TableRule(findings)
                    .check(step, decide.table(), Scopes.shapeOf(decide.table().of(), scope));
        }
        for (int i = 0; i < decide.branches().size(); i++) {
            expressions.condition(decide.branches().get(i).when(), step.placeOf("decide." + i + ".when"), scope, saved);
        }
    }

    private void assess(Step step, Assess assess, Map<String, Shape> scope) {
        if (assess.about() != null) {
            template(step, "about", assess.about(), scope);
        }
    }

    private void read(Step step, Verb.Read read, Map<String, Shape> scope) {
        template(step, "named", read.named(), scope);
        if (!read.document().equals(Verb.Read.ANY)) {
            List<String> documents = new ArrayList<>(List.of(Verb.Read.ANY));
            page.kinds().stream()
                    .map(handbook.kinds()::get)
                    .filter(java.util.Objects::nonNull)
                    .forEach(kind -> documents.addAll(kind.documents().keySet()));
            known(Code.UNKNOWN_DOCUMENT, read.document(), documents, step.placeOf("read"));
        }
        if (read.asksModel() && step.prose().isBlank()) {
            findings.hint(
                    step.placeOf("values"),
                    Code.MISSING_PROSE,
                    "A model looks for values without labels, and is told nothing more.",
                    "Say under the heading what they are and where they usually stand.");
        }
    }

    private void draft(Step step, Draft draft, Map<String, Shape> scope) {
        if (draft.about() != null) {
            template(step, "about", draft.about(), scope);
        }
        boolean list = step.places().has("language.0");
        for (int i = 0; i < draft.languages().size(); i++) {
            template(
                    step, list ? "language." + i : "language", draft.languages().get(i), scope);
        }
    }

    private void tell(Step step, Tell tell, Map<String, Shape> scope) {
        template(step, "tell", tell.to(), scope);
        template(step, "text", tell.text(), scope);
        new TellRule(handbook, page, findings).check(step, tell);
    }

    private void set(Step step, Verb.Set set, Map<String, Shape> scope) {
        template(step, "set", set.changes(), scope);
        fieldsSet(step, set);
    }

    private void await(Step step, Await await, Map<String, Shape> scope) {
        if (await.until() != null) {
            template(step, "until", await.until(), scope);
        }
        if (await.what() == Verb.Awaited.CASE && !await.named().isEmpty()) {
            inScope(await.named(), step.placeOf("named"), scope);
            if (scope.containsKey(await.named())
                    && Scopes.kindOf(scope.get(await.named())).isEmpty()) {
                findings.error(
                        step.placeOf("named"),
                        Code.AWAIT,
                        "‘" + await.named() + "’ isn't one case that a step has opened.",
                        "Name what a step with ‘open’ saves.");
            }
        }
    }

    private void each(Step step, Each each, Map<String, Shape> scope) {
        template(step, "each", each.in(), scope);
        Map<String, Shape> inside = new LinkedHashMap<>(scope);
        Shape list = Scopes.shapeOf(each.in(), scope);
        if (!(list instanceof Shape.ListOf) && !(list instanceof Shape.Anything)) {
            findings.error(
                    step.placeOf("each"),
                    Code.TYPES,
                    "‘each’ needs a list and is given " + list.words() + ".",
                    "Give it a list, as in ‘each: \"${order.items}\"’.");
        }
        inside.put(each.as(), list instanceof Shape.ListOf items ? items.item() : Shape.ANYTHING);
        followed(step, each.page(), "follow", each.with(), inside);
    }

    private void handOver(Step step, HandOver handOver, Map<String, Shape> scope) {
        if (handOver.to() != null) {
            known(Code.UNKNOWN_GROUP, handOver.to(), groupsAndDesks(), step.placeOf("hand-over"));
        }
        template(step, "why", handOver.why(), scope);
    }

    private void finish(Step step, Finish finish, Map<String, Shape> scope) {
        if (finish.summary() != null) {
            template(step, "summary", finish.summary(), scope);
        }
        gives(step, scope);
    }

    private void template(Step step, String key, Template template, Map<String, Shape> scope) {
        expressions.template(
                template, inside -> step.placeOf(inside.isEmpty() ? key : key + "." + inside), scope, saved);
    }

    private void call(Step step, Call call, Map<String, Shape> scope) {
        Tool tool = handbook.tools().get(call.tool());
        if (tool == null) {
            template(step, "with", call.inputs(), scope);
            known(Code.UNKNOWN_TOOL, call.tool(), handbook.tools().keySet(), step.placeOf("call"));
            return;
        }
        called(step, tool, call.inputs(), scope);
    }

    private void open(Step step, Open open, Map<String, Shape> scope) {
        called(step, handbook.tool(Opening.OPEN), open.inputs(), scope);
        new OpenRule(handbook, findings).check(step, open);
    }

    private void called(Step step, Tool tool, Template inputs, Map<String, Shape> scope) {
        template(step, "with", inputs, scope);
        inputs(step, "with", tool, inputs, scope);
        Set<String> given = inputs.fieldNames();
        tool.given().path("required").forEach(name -> {
            if (!given.contains(name.asString(""))) {
                findings.error(
                        step.placeOf("with"),
                        Code.MISSING_INPUT,
                        "‘" + tool.name() + "’ needs the input ‘" + name.asString("") + "’.",
                        "Add it under ‘with’.");
            }
        });
    }

    private void inputs(Step step, String key, Tool tool, Template inputs, Map<String, Shape> scope) {
        var properties = tool.given().path("properties");
        for (String name : inputs.fieldNames()) {
            Place place = step.placeOf(key + "." + name);
            if (properties.has(name)) {
                expressions.input(name, inputs.field(name), properties.get(name), place, scope);
            } else {
                known(Code.UNKNOWN_INPUT, name, new ArrayList<>(properties.propertyNames()), place);
            }
        }
    }

    private void pursue(Step step, Pursue pursue, Map<String, Shape> scope) {
        int at = 0;
        for (Offer offer : pursue.tools()) {
            Tool tool = handbook.tools().get(offer.tool());
            String key = "tools." + at++ + "." + offer.tool();
            template(step, key, offer.fixed(), scope);
            if (tool == null) {
                known(Code.UNKNOWN_TOOL, offer.tool(), handbook.tools().keySet(), step.placeOf(key));
            } else {
                inputs(step, key, tool, offer.fixed(), scope);
            }
        }
        asked(step, "of", pursue.of(), scope);
        List<String> offered = pursue.tools().stream().map(Offer::tool).toList();
        pursue.confirm().forEach(tool -> known(Code.UNKNOWN_TOOL, tool, offered, step.placeOf("confirm")));
        Optional.ofNullable(handbook.agents().get(page.agent()))
                .map(agent -> agent.at(step).model())
                .filter(model -> Optional.ofNullable(handbook.house().models().get(model))
                        .filter(one -> !one.can().contains(House.Ability.TOOLS))
                        .isPresent())
                .ifPresent(model -> findings.error(
                        step.placeOf("tools"),
                        Code.MODEL_CANT,
                        "The model ‘" + model + "’ of ‘" + page.agent() + "’ can't ask for tools to be called.",
                        "Choose another model, write ‘tools’ under ‘can’ of this one, or use steps with ‘call’."));
    }

    private void approve(Step step, Approve approve, Map<String, Shape> scope) {
        template(step, "approve", approve.question(), scope);
        if (approve.time().until() != null) {
            template(step, "until", approve.time().until(), scope);
        }
        if (approve.time().working()
                && handbook.desks().containsKey(page.desk())
                && handbook.desks().get(page.desk()).hours() == null) {
            findings.error(
                    step.placeOf("within"),
                    Code.HOURS,
                    "‘" + page.desk() + "’ has never said when it works, so working hours can't be counted.",
                    "Give the desk ‘hours’ in desks.yaml, or write a length of time such as P1D.");
        }
        if (approve.validWhile() != null) {
            expressions.condition(approve.validWhile(), step.placeOf("valid-while"), scope, saved);
        }
        asked(step, "of", approve.of(), scope);
        asked(step, "not", approve.not(), scope);
        if (approve.edit() != null) {
            inScope(approve.edit(), step.placeOf("edit"), scope);
        }
        template(step, "choices", approve.choices(), scope);
        List<String> fields = approve.form() == null
                ? List.of()
                : List.copyOf(approve.form().fields().keySet());
        approve.choices()
                .fieldNames()
                .forEach(name -> known(Code.UNKNOWN_FIELD, name, fields, step.placeOf("choices." + name)));
        approve.show().forEach(name -> inScope(name, step.placeOf("show"), scope));
        if (approve.forStep() != null) {
            Step about = page.step(approve.forStep()).orElse(null);
            if (about == null) {
                Checker.unknownStep(findings, page, approve.forStep(), step.placeOf("for"));
            } else if (!(about.verb() instanceof Call)) {
                findings.error(
                        step.placeOf("for"),
                        Code.FOR_STEP,
                        "‘" + about.title() + "’ makes no call that could be approved beforehand.",
                        "Name a step with ‘call’.");
            } else {
                template(about, "with", ((Call) about.verb()).inputs(), scope);
            }
        }
        if (approve.rounds() > 0 && approve.edit() != null) {
            new FeedbackRule(handbook, page, flow, findings).check(step, approve.edit());
        }
    }

    /** Names of groups and desks stand plain; who is found out at run time stands in an expression. */
    private void asked(Step step, String key, List<Template> who, Map<String, Shape> scope) {
        boolean list = step.places().has(key + ".0");
        for (int i = 0; i < who.size(); i++) {
            String at = list ? key + "." + i : key;
            template(step, at, who.get(i), scope);
            who.get(i)
                    .asPath()
                    .filter(path -> path.toString().equals("requester.id"))
                    .ifPresent(
                            path -> findings.error(
                                    step.placeOf(at),
                                    Code.OWN_REQUEST,
                                    "This asks the requester, and nobody decides on their own request.",
                                    "Name a group, a desk, or ‘${requester.manager}’; ask the requester with ‘tell’ and ‘await: reply’."));
            who.get(i).asConstant().ifPresent(constant -> {
                if (!constant.asString("").startsWith("person:")) {
                    known(Code.UNKNOWN_GROUP, constant.asString(""), groupsAndDesks(), step.placeOf(at));
                }
            });
        }
    }

    private void inScope(String name, Place place, Map<String, Shape> scope) {
        if (!scope.containsKey(name) && saved.contains(name)) {
            findings.error(
                    place,
                    Code.NOT_SAVED,
                    "‘" + name + "’ isn't saved on every way that leads here.",
                    "Save it on each of them, or lead the others elsewhere.");
        } else {
            known(Code.UNKNOWN_NAME, name, scope.keySet(), place);
        }
    }

    private void followed(Step step, String name, String key, Template with, Map<String, Shape> scope) {
        template(step, "with", with, scope);
        Runbook followed = handbook.runbooks().get(name);
        if (followed == null) {
            known(Code.UNKNOWN_PAGE, name, handbook.runbooks().keySet(), step.placeOf(key));
            return;
        }
        Map<String, Shape.Field> takes = followed.takes().fields();
        for (String given : with.fieldNames()) {
            Shape.Field field = takes.get(given);
            if (field == null) {
                known(Code.UNKNOWN_INPUT, given, takes.keySet(), step.placeOf("with." + given));
            } else {
                expressions.input(
                        given, with.field(given), field.shape().schema(), step.placeOf("with." + given), scope);
            }
        }
        takes.keySet().stream()
                .filter(needed -> !with.fieldNames().contains(needed))
                .forEach(needed -> findings.error(
                        step.placeOf("with"),
                        Code.MISSING_INPUT,
                        "‘" + followed.title() + "’ takes ‘" + needed + "’.",
                        "Add it under ‘with’."));
    }

    private void fieldsSet(Step step, Verb.Set set) {
        Set<String> fields = new LinkedHashSet<>();
        page.kinds().stream()
                .map(handbook.kinds()::get)
                .filter(java.util.Objects::nonNull)
                .forEach(kind -> fields.addAll(kind.fields().keySet()));
        if (!fields.isEmpty()) {
            set.changes()
                    .field("fields")
                    .fieldNames()
                    .forEach(name -> known(Code.UNKNOWN_FIELD, name, fields, step.placeOf("set.fields." + name)));
        }
        set.changes().field("priority").asConstant().ifPresent(value -> {
            if (!value.asString("").isEmpty() && !Priority.words().contains(value.asString(""))) {
                known(Code.UNKNOWN_OPTION, value.asString(""), Priority.words(), step.placeOf("set.priority"));
            }
        });
    }

    private void gives(Step step, Map<String, Shape> scope) {
        page.gives()
                .forEach((name, template) -> template.expressions()
                        .forEach(placed -> placed.expression().paths().forEach(path -> {
                            if (!scope.containsKey(path.root())) {
                                findings.error(
                                        page.placeOf("gives." + name),
                                        Code.GIVES,
                                        "The page gives ‘" + name + "’, but ‘" + path.root()
                                                + "’ isn't saved on every way to ‘" + step.title() + "’.",
                                        "Save it on every way, or leave it out of ‘gives’.");
                            }
                        })));
        page.gives().forEach((name, template) -> {
            if (template.expressions().stream()
                    .allMatch(placed ->
                            placed.expression().paths().stream().allMatch(path -> scope.containsKey(path.root())))) {
                expressions.template(template, inside -> page.placeOf("gives." + name), scope, saved);
            }
        });
    }

    private Set<String> groupsAndDesks() {
        Set<String> names = new HashSet<>(handbook.groups().keySet());
        names.addAll(handbook.desks().keySet());
        return names;
    }
}
