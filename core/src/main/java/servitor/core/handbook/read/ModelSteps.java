package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import servitor.core.expression.Template;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Assess;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.Verb.Offer;
import servitor.core.handbook.Verb.Plan;
import servitor.core.handbook.Verb.Pursue;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.shape.Shape;

/** Reads the steps that a model works in. */
final class ModelSteps {
    /** How many turns of a conversation a step may remember word for word. */
    private static final int MOST_TURNS = 50;
    /** What a model may look at beyond its plan: nothing, or whatever isn't personal. */
    private static final String PLANNED = "planned";

    private static final String FREELY = "freely";

    private ModelSteps() {}

    static Verb assess(Keys keys, Findings findings) {
        if (!List.of("", "case", "document").contains(keys.text("assess", ""))) {
            findings.error(
                    keys.value("assess").place(),
                    Code.SHAPE,
                    "‘" + keys.text("assess", "") + "’ can't be assessed.",
                    "Write ‘assess: case’, or ‘assess: document’, and the question in the prose; ‘about’ says what else the model sees.");
        }
        Double unsureBelow = keys.share("unsure-below");
        Map<String, String> ways = keys.goWays(List.of(Assess.SURE, Assess.UNSURE));
        if (unsureBelow != null && !ways.containsKey(Assess.UNSURE)) {
            findings.error(
                    keys.placeOf("unsure-below"),
                    Code.SURE,
                    "Nothing says where to go when the model is less sure than that.",
                    "Write ‘go: { sure: <step>, unsure: <step> }’.");
        }
        return new Assess(
                answer(keys, findings),
                keys.has("about") ? keys.template("about") : null,
                unsureBelow,
                keys.upTo("remember", MOST_TURNS),
                keys.required("save"),
                ways);
    }

    private static Shape answer(Keys keys, Findings findings) {
        if (!keys.has("answer")) {
            keys.required("answer");
            return Shape.ANYTHING;
        }
        Shape shape = new ShapeReader(findings).read(keys.value("answer"));
        if (shape instanceof Shape.Fields map) {
            ShapeReader.CARRIED.stream()
                    .filter(map.fields()::containsKey)
                    .forEach(name -> findings.error(
                            keys.value("answer").placeOf(name),
                            Code.SHAPE,
                            "‘" + name + "’ is carried by every answer of a model already.",
                            "Leave it out, or use another name."));
        }
        return shape;
    }

    static Verb draft(Keys keys, Findings findings) {
        if (!keys.text("draft", "").equals("text")) {
            findings.error(
                    keys.value("draft").place(),
                    Code.DRAFT,
                    "‘" + keys.text("draft", "") + "’ can't be drafted.",
                    "Write ‘draft: text’.");
        }
        List<Template> languages = new ArrayList<>();
        Yaml language = keys.value("language");
        if (language.isList()) {
            language.items().forEach(item -> languages.add(keys.template(item)));
        } else {
            languages.add(keys.has("language") ? keys.template("language") : Keys.constant("en"));
        }
        if (languages.isEmpty() || languages.size() > 12) {
            findings.error(
                    language.place(), Code.DRAFT, "A draft is in one to twelve languages.", "List them: [en, de].");
        }
        return new Draft(
                keys.has("about") ? keys.template("about") : null,
                languages,
                keys.number("max-words", 200),
                keys.text("tone", ""),
                keys.yes("cite"),
                keys.upTo("remember", MOST_TURNS),
                keys.required("save"));
    }

    static Verb pursue(Keys keys, Findings findings) {
        keys.text("pursue");
        List<Offer> offers = new ArrayList<>();
        for (Yaml item : keys.value("tools").items()) {
            if (item.isMap()) {
                item.entries().forEach((tool, fixed) -> offers.add(new Offer(tool, keys.inputs(fixed))));
            } else {
                offers.add(new Offer(item.text(), Keys.noInputs()));
            }
        }
        if (offers.isEmpty()) {
            findings.error(
                    keys.place(),
                    Code.MISSING_KEY,
                    "‘tools’ is missing: there is nothing the model could do.",
                    "List the tools it may call; ‘{ tool: { input: value } }’ fixes an input.");
        }
        String plan = keys.text("plan", "none");
        if (!List.of("none", "show", "approve").contains(plan)) {
            findings.error(
                    keys.value("plan").place(),
                    Code.PLAN,
                    "‘" + plan + "’ is no way to treat a plan.",
                    "Write none, show or approve.");
            plan = "none";
        }
        String looks = keys.text("looks", PLANNED);
        if (!List.of(PLANNED, FREELY).contains(looks) || keys.has("looks") && plan.equals("none")) {
            findings.error(
                    keys.value("looks").place(),
                    Code.PLAN,
                    plan.equals("none")
                            ? "‘looks’ says what may be looked at beyond a plan, and there is no plan."
                            : "‘" + looks + "’ is no way to treat what the model looks at.",
                    "Write ‘looks: freely’ beside ‘plan: show’ or ‘plan: approve’, or leave it out.");
        }
        Keys limits = Keys.of(
                keys.has("limits") ? keys.value("limits") : Yaml.empty(keys.place()),
                findings,
                List.of("calls", "model-tokens"));
        Shape answer = answer(keys, findings);
        if (answer instanceof Shape.Fields map
                && map.fields().containsKey(Pursue.DONE)
                && !map.fields().get(Pursue.DONE).shape().equals(Shape.YES_NO)) {
            findings.warning(
                    keys.value("answer").placeOf(Pursue.DONE),
                    Code.SHAPE,
                    "‘" + Pursue.DONE
                            + "’ is this page’s own here, so the model can’t say by it that nothing was done.",
                    "Write ‘done: yes/no’, leave it out, or give the field another name.");
        }
        return new Pursue(
                offers,
                answer,
                Plan.valueOf(plan.toUpperCase(java.util.Locale.ROOT)),
                looks.equals(FREELY),
                keys.templates("of"),
                keys.texts("confirm"),
                keys.number("questions", 0),
                limits.number("calls", 12),
                limits.number("model-tokens", 20_000),
                keys.required("save"));
    }
}
