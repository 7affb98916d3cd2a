package servitor.core.run;

import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.stream.Collectors;
import servitor.core.approval.ApprovalState;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb.Offer;
import servitor.core.handbook.Verb.Plan;
import servitor.core.handbook.Verb.Pursue;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.prompt.Prompt.Offered;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.RunInput.ApprovalClosed;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What a model says it means to do, step by step, before it does anything, and whenever it finds that it has to go about it
 * otherwise. People of the desk see it; where the page says so they approve it, and each later one, too.
 */
final class PursuitPlan {
    /** The model's way to change its plan. */
    static final String TOOL = "case.plan";

    private PursuitPlan() {}

    /** The tools that a plan may name. */
    static List<String> tools(Pursue verb) {
        return verb.tools().stream().map(Offer::tool).toList();
    }

    static Offered offered(Pursue verb) {
        return new Offered(
                TOOL,
                "Says that you mean to go about it otherwise, with the whole plan from here on. People see it.",
                PromptLayout.planned(tools(verb)).schema());
    }

    /** Takes the first plan of a model; false after the way of a problem, or while people are asked. */
    static boolean begin(TransitionBuilder turn, Pursue verb, ModelAnswered answered) {
        JsonNode plan = words(answered.answer().path("plan"));
        if (plan.isEmpty()) {
            turn.problem(Problem.INVALID, "the model was asked for a plan and gave none");
            return false;
        }
        turn.remember(turn.memory()
                .pursuing(Objects.requireNonNull(turn.memory().pursuit()).planned(plan, answered.tokens())));
        turn.log(TrailWord.PLANNED, ModelWork.record(answered).set("plan", plan));
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

    /** The model wants another plan than it has. */
    static void revise(TransitionBuilder turn, Pursue verb, Wanted wanted) {
        List<String> wrong = Schemas.violations(offered(verb).inputs(), wanted.args());
        if (!wrong.isEmpty()) {
            PursueHandler.tell(turn, verb, Problem.INVALID.word() + ": " + String.join("; ", wrong), null, true);
            return;
        }
        JsonNode plan = words(wanted.args().path("plan"));
        turn.log(TrailWord.PLANNED, Json.object().put("revised", true).set("plan", plan));
        if (agreed(turn, verb, plan, turn.agent().title() + " now means to: ", "The plan is another one now.")) {
            take(turn, verb, plan);
        }
    }

    /** The other plan was answered. */
    static void revised(TransitionBuilder turn, Pursue verb, Wanted wanted, ApprovalClosed closed) {
        if (closed.state() == ApprovalState.APPROVED) {
            take(turn, verb, words(wanted.args().path("plan")));
        } else if (closed.state() == ApprovalState.EXPIRED) {
            turn.problem(Problem.EXPIRED, "nobody answered in time");
        } else {
            PursueHandler.tell(
                    turn, verb, "declined: " + closed.reason() + ". The plan you had still holds.", null, false);
        }
    }

    private static void take(TransitionBuilder turn, Pursue verb, JsonNode plan) {
        turn.remember(turn.memory()
                .pursuing(Objects.requireNonNull(turn.memory().pursuit()).planned(plan, 0)));
        PursueHandler.tell(turn, verb, "This is your plan now.", null, false);
    }

    /** Tells people the plan; true when nobody has to answer first. */
    private static boolean agreed(TransitionBuilder turn, Pursue verb, JsonNode plan, String begins, String why) {
        if (verb.plan() != Plan.APPROVE) {
            turn.command(new Command.NoteForStaff(turn.usage().nextId(), begins + Plain.words(plan)));
            return true;
        }
        ObjectNode sheet = Json.object().set("plan", plan);
        PursuitQuestion.open(
                turn,
                verb,
                turn.agent().title() + "’s plan at ‘" + turn.step().title() + "’: " + acts(turn, verb, plan),
                sheet.put("why", why));
        return false;
    }

    /** What the plan changes: the tools it names that do more than look. */
    private static String acts(TransitionBuilder turn, Pursue verb, JsonNode plan) {
        String acts = tools(verb).stream()
                .map(name -> turn.edition().handbook().tool(name))
                .filter(tool -> tool.effect().acts())
                .filter(tool ->
                        plan.valueStream().anyMatch(line -> line.asString("").endsWith("(" + tool.name() + ")")))
                .map(tool -> tool.title().toLowerCase(Locale.ROOT))
                .collect(Collectors.joining(", "));
        return acts.isEmpty() ? "it only looks" : acts;
    }

    /** The steps as lines for people, each with the tool it takes. */
    private static ArrayNode words(JsonNode plan) {
        ArrayNode words = Json.mapper().createArrayNode();
        plan.forEach(step -> {
            String tool = step.path("tool").asString("");
            String does = step.path("does").asString("").strip();
            words.add(tool.isEmpty() || tool.equals(PromptLayout.NO_TOOL) ? does : does + " (" + tool + ")");
        });
        return words;
    }
}
