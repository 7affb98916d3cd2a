package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalState;
import servitor.core.consent.Plan;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Offer;
import servitor.core.handbook.Verb.Pursue;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Offered;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.RunInput.ApprovalClosed;
import servitor.core.run.RunInput.FeedbackGiven;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.StepProgress.Advice;
import servitor.core.run.StepProgress.Pursuit;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What a model says it means to do, before it does anything, and whenever it finds that it has to go about it otherwise. People of the
 * desk see it; where the page says so they approve it. Calls that no line of it covers are put to people as another plan.
 */
final class PursuitPlan {
    /** The model's way to change its plan. */
    static final String TOOL = "case.plan";
    /** How often people may want another plan before anything is done. */
    private static final int MOST_ROUNDS = 3;

    private PursuitPlan() {}

    private static Pursuit pursuit(TransitionBuilder turn) {
        return Objects.requireNonNull(turn.memory().pursuit());
    }

    /** The tools that a plan may name. */
    private static List<String> tools(Pursue verb) {
        return verb.tools().stream().map(Offer::tool).toList();
    }

    static Offered offered(Pursue verb) {
        return new Offered(
                TOOL,
                "Says that you mean to go about it otherwise, with the whole plan from here on. People see it, and you can do nothing beyond it.",
                PromptLayout.planned(tools(verb)).schema());
    }

    /** Takes the first plan of a model; false after the way of a problem, or while people are asked. */
    static boolean begin(TransitionBuilder turn, Pursue verb, ModelAnswered answered) {
        Plan plan;
        try {
            plan = valid(turn, verb, answered.answer().path("plan"));
        } catch (IllegalArgumentException e) {
            turn.problem(Problem.INVALID, "the model was asked for a plan and gave none: " + e.getMessage());
            return false;
        }
        turn.remember(turn.memory().pursuing(pursuit(turn).planned(plan, answered.tokens())));
        turn.log(TrailWord.PLANNED, ModelWork.record(answered).set("plan", plan.json()));
        return agreed(
                turn,
                verb,
                plan,
                turn.agent().title() + " means to: ",
                answered.answer().path("reason").asString(""));
    }

    /** The first plan was answered; whether the model may go on. */
    static boolean approved(TransitionBuilder turn, ApprovalClosed closed) {
        if (closed.state() == ApprovalState.APPROVED) {
            return true;
        } else if (closed.state() == ApprovalState.EXPIRED) {
            turn.problem(Problem.EXPIRED, "nobody answered in time");
        } else {
            turn.problem(Problem.DECLINED, closed.reason());
        }
        return false;
    }

    /** People want the first plan otherwise: the model is to make another, unless they have said so too often. */
    static boolean wantedOtherwise(TransitionBuilder turn, FeedbackGiven feedback) {
        String step = turn.step().address();
        if (left(turn) <= 0) {
            turn.problem(
                    Problem.EXHAUSTED, "the plan was sent back once too often; the last words: " + feedback.said());
            return false;
        }
        turn.remember(turn.memory()
                .advised(new Advice(feedback.by(), feedback.said()))
                .sentBack(step)
                .pursuing(pursuit(turn).planned(null, 0)));
        return true;
    }

    private static int left(TransitionBuilder turn) {
        return MOST_ROUNDS - turn.memory().rounds().getOrDefault(turn.step().address(), 0);
    }

    /** The model wants another plan than it has. */
    static void revise(TransitionBuilder turn, Pursue verb, Wanted wanted) {
        List<String> wrong = Schemas.violations(offered(verb).inputs(), wanted.args());
        Plan plan;
        try {
            if (!wrong.isEmpty()) {
                throw new IllegalArgumentException(String.join("; ", wrong));
            }
            plan = valid(turn, verb, wanted.args().path("plan"));
        } catch (IllegalArgumentException e) {
            PursueHandler.tell(turn, verb, Problem.INVALID.word() + ": " + e.getMessage(), null, true);
            return;
        }
        turn.log(TrailWord.PLANNED, Json.object().put("revised", true).set("plan", plan.json()));
        if (agreed(turn, verb, plan, turn.agent().title() + " now means to: ", "The plan is another one now.")) {
            take(turn, verb, plan);
        }
    }

    /** Another plan, or a call beyond the one there is, was answered. */
    static void revised(TransitionBuilder turn, Pursue verb, Wanted wanted, ApprovalClosed closed) {
        if (closed.state() == ApprovalState.EXPIRED) {
            turn.problem(Problem.EXPIRED, "nobody answered in time");
        } else if (closed.state() != ApprovalState.APPROVED) {
            PursueHandler.tell(
                    turn, verb, "declined: " + closed.reason() + ". The plan you had still holds.", null, false);
        } else if (wanted.tool().equals(TOOL)) {
            take(turn, verb, Plan.of(wanted.args().path("plan")));
        } else {
            turn.remember(turn.memory().pursuing(pursuit(turn).widened(wider(turn, verb, wanted))));
            PursueHandler.take(turn, verb, wanted);
        }
    }

    /** People want another plan than the one that the model wanted instead of its first. */
    static void otherwise(TransitionBuilder turn, Pursue verb, FeedbackGiven feedback) {
        PursueHandler.tell(
                turn,
                verb,
                "people want it otherwise: " + feedback.said()
                        + ". The plan you had still holds; put another to them with ‘" + TOOL + "’.",
                null,
                false);
    }

    private static void take(TransitionBuilder turn, Pursue verb, Plan plan) {
        turn.remember(turn.memory().pursuing(pursuit(turn).planned(plan, 0)));
        PursueHandler.tell(turn, verb, "This is your plan now.", null, false);
    }

    /**
     * Holds a call against the plan. What acts or reads what is personal is done only as planned; other reads, too, unless the page lets
     * them be. A call beyond the plan is put to people as a new plan.
     *
     * @return whether the call may be proposed now; it has taken its line of the plan then
     */
    static boolean covers(TransitionBuilder turn, Pursue verb, Tool tool, ProposedCall call) {
        Plan plan = pursuit(turn).plan();
        boolean free = !tool.effect().acts() && !tool.personal() && verb.looksFreely();
        if (verb.plan() == Verb.Plan.NONE || plan == null || free) {
            return true;
        }
        Map<String, String> inputs = new LinkedHashMap<>();
        call.inputs().forEach((name, input) -> inputs.put(name, Plan.text(input.value())));
        Optional<Integer> line =
                resolved(turn, plan).covering(tool.name(), inputs, pursuit(turn).taken());
        if (line.isPresent()) {
            turn.remember(turn.memory().pursuing(pursuit(turn).takes(line.get())));
            return true;
        }
        Plan wider;
        try {
            wider = wider(turn, verb, pursuit(turn).wanted().get(0));
        } catch (IllegalArgumentException e) {
            PursueHandler.tell(turn, verb, "refused: that is beyond your plan, and " + e.getMessage(), null, true);
            return false;
        }
        turn.log(
                TrailWord.PLANNED,
                Json.object().put("revised", true).put("beyond", true).set("plan", wider.json()));
        if (!agreed(
                turn,
                verb,
                wider,
                turn.agent().title() + " now means to: ",
                "It wants to do more than the plan holds: the last line is new.")) {
            return false;
        }
        turn.remember(turn.memory().pursuing(pursuit(turn).widened(wider)));
        turn.remember(turn.memory().pursuing(pursuit(turn).takes(wider.lines().size() - 1)));
        return true;
    }

    /** The plan with a line for the very call that is wanted. */
    private static Plan wider(TransitionBuilder turn, Pursue verb, Wanted wanted) {
        Map<String, String> with = new LinkedHashMap<>();
        free(turn, verb, wanted.tool()).stream()
                .filter(wanted.args()::has)
                .forEach(name -> with.put(name, Plan.text(wanted.args().get(name))));
        Tool tool = turn.edition().handbook().tool(wanted.tool());
        return Objects.requireNonNull(pursuit(turn).plan())
                .and(new Plan.Line("Beyond the plan so far: " + tool.title(), tool.name(), with, 1));
    }

    /** The plan with the values that its handles of concealed ones stand for. */
    private static Plan resolved(TransitionBuilder turn, Plan plan) {
        return new Plan(plan.lines().stream()
                .map(line -> new Plan.Line(line.does(), line.tool(), resolved(turn, line), line.atMost()))
                .toList());
    }

    private static Map<String, String> resolved(TransitionBuilder turn, Plan.Line line) {
        Map<String, String> with = new LinkedHashMap<>();
        line.with().forEach((name, is) -> {
            Tool tool = turn.edition().handbook().tool(line.tool());
            String type = Concealed.typeOf(name, PursueHandler.schemaOf(tool, name));
            with.put(
                    name,
                    Concealed.of(turn.memory().concealed(), Json.of(is), type)
                            .map(found -> Plan.text(found.value()))
                            .orElse(is));
        });
        return with;
    }

    /** A plan whose lines fix only inputs that there are and that the model may choose. */
    private static Plan valid(TransitionBuilder turn, Pursue verb, JsonNode given) {
        Plan plan = Plan.of(given);
        for (Plan.Line line : plan.lines()) {
            Set<String> inputs = line.takesTool() ? Set.copyOf(free(turn, verb, line.tool())) : Set.of();
            line.with().keySet().stream()
                    .filter(name -> !inputs.contains(name))
                    .findFirst()
                    .ifPresent(name -> {
                        throw new IllegalArgumentException(
                                "‘" + line.tool() + "’ has no input ‘" + name + "’ that you choose");
                    });
        }
        return plan;
    }

    /** The inputs of a tool that a model chooses here, in their order. */
    private static List<String> free(TransitionBuilder turn, Pursue verb, String tool) {
        Set<String> fixed =
                offer(verb, tool).map(offer -> offer.fixed().fieldNames()).orElse(Set.of());
        return turn.edition().handbook().tool(tool).given().path("properties").properties().stream()
                .map(Map.Entry::getKey)
                .filter(name -> !fixed.contains(name))
                .toList();
    }

    private static Optional<Offer> offer(Pursue verb, String tool) {
        return verb.tools().stream().filter(one -> one.tool().equals(tool)).findFirst();
    }

    /** Tells people the plan; true when nobody has to answer first. */
    private static boolean agreed(TransitionBuilder turn, Pursue verb, Plan plan, String begins, String why) {
        ArrayNode lines = shown(turn, verb, plan);
        if (lines == null) {
            return false;
        }
        if (verb.plan() != Verb.Plan.APPROVE) {
            turn.command(new Command.NoteForStaff(turn.usage().nextId(), begins + words(lines)));
            return true;
        }
        ObjectNode sheet = Json.object().set("plan", lines);
        sheet.putObject("feedback").put("left", Math.max(1, left(turn)));
        if (verb.looksFreely()) {
            sheet.put("looks", "freely");
        }
        PursuitQuestion.open(
                turn,
                verb,
                turn.agent().title() + "’s plan at ‘" + turn.step().title() + "’: " + acts(turn, plan),
                sheet.put("why", why));
        return false;
    }

    /** What the plan changes: the tools it names that do more than look. */
    private static String acts(TransitionBuilder turn, Plan plan) {
        String acts = plan.tools().stream()
                .map(name -> turn.edition().handbook().tool(name))
                .filter(tool -> tool.effect().acts())
                .map(tool -> tool.title().toLowerCase(Locale.ROOT))
                .sorted()
                .collect(Collectors.joining(", "));
        return acts.isEmpty() ? "it only looks" : acts;
    }

    /**
     * The plan as people see it: each line with its tool, what it is given by the plan and by the page, what is chosen later, and how
     * often; null after the way of a problem.
     */
    private static @Nullable ArrayNode shown(TransitionBuilder turn, Pursue verb, Plan plan) {
        ArrayNode lines = Json.mapper().createArrayNode();
        for (Plan.Line line : resolved(turn, plan).lines()) {
            ObjectNode shown = lines.addObject().put("does", line.does());
            if (!line.takesTool()) {
                continue;
            }
            Tool tool = turn.edition().handbook().tool(line.tool());
            Offer offer = offer(verb, line.tool()).orElseThrow();
            TracedValue fixed = turn.fill(offer.fixed());
            if (fixed == null) {
                return null;
            }
            ObjectNode with = Json.object();
            fixed.value().properties().forEach(e -> with.set(e.getKey(), e.getValue()));
            line.with().forEach(with::put);
            shown.put("tool", tool.name())
                    .put("title", tool.title())
                    .put("effect", tool.effect().word())
                    .put("at-most", line.atMost())
                    .set("with", with);
            shown.set(
                    "chosen-later",
                    Json.of(free(turn, verb, line.tool()).stream()
                            .filter(name -> !line.with().containsKey(name))
                            .toList()));
        }
        return lines;
    }

    /** The shown lines in words, for a note. */
    private static String words(ArrayNode lines) {
        return lines.valueStream()
                .map(line -> {
                    if (!line.has("tool")) {
                        return line.path("does").asString("");
                    }
                    String with = line.path("with").isEmpty() ? "" : ": " + Plain.words(line.path("with"));
                    int most = line.path("at-most").asInt(1);
                    return line.path("does").asString("") + " ("
                            + line.path("tool").asString("") + with + (most == 1 ? "" : ", at most " + most + " times")
                            + ")";
                })
                .collect(Collectors.joining("; "));
    }
}
