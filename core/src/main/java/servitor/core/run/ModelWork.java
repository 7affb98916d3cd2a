package servitor.core.run;

import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.run.RunState.Pending;
import servitor.core.run.Situation.CaseView;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What the steps of a model have in common: what it is told, what it may use, and when it failed. */
final class ModelWork {
    static final String NO_TOKENS = "this run may use no more model tokens";

    private ModelWork() {}

    /** Asks, unless the run has no tokens left, which is a problem of its own. */
    static void ask(TransitionBuilder turn, Prompt prompt) {
        String id = turn.usage().nextId();
        turn.await(Pending.Kind.MODEL, id, null, Set.of());
        turn.command(new Command.AskModel(id, Concealed.hide(turn.memory().concealed(), prompt)));
    }

    /** Whether the run may still ask a model; when not, the way of the problem has been taken. */
    static boolean mayAsk(TransitionBuilder turn) {
        if (turn.usage().tokensLeft() > 0) {
            return true;
        }
        turn.problem(Problem.EXHAUSTED, NO_TOKENS);
        return false;
    }

    static void failed(TransitionBuilder turn, RunInput.ModelFailed failed) {
        turn.usage().countModel(failed.tokens(), failed.cost());
        turn.problem(failed.problem(), failed.detail());
    }

    /** Whether a model says that what it is told is too little to answer; the way of that problem has been taken then. */
    static boolean knowsTooLittle(TransitionBuilder turn, RunInput.ModelAnswered answered) {
        if (answered.answer().path("sure").asDouble(1) > 0) {
            return false;
        }
        turn.problem(Verb.Assess.TOO_LITTLE, answered.answer().path("reason").asString(""));
        return true;
    }

    /** The model asked for tools where it was asked for an answer: nothing of that is carried out. */
    static void notAsked(TransitionBuilder turn, RunInput.ModelCalled called) {
        turn.usage().countModel(called.tokens(), called.cost());
        turn.problem(
                Problem.INVALID,
                "the model was asked for an answer and wanted to call "
                        + called.wanted().stream().map(Wanted::tool).distinct().collect(Collectors.joining(", ")));
    }

    /** The instruction of the step, with what people of the desk have added in mid-run. */
    static String prose(TransitionBuilder turn) {
        StringBuilder prose = new StringBuilder(turn.step().prose());
        if (!turn.memory().advice().isEmpty()) {
            prose.append("\n\nPeople of the desk add:");
            turn.memory().advice().forEach(advice -> prose.append("\n- ").append(advice.text()));
        }
        return prose.toString();
    }

    /** The case as a model is told of it. */
    static ObjectNode request(TransitionBuilder turn) {
        CaseView view = turn.situation().view();
        ObjectNode request = Json.object().put("subject", view.subject()).put("text", view.text());
        request.set("fields", Concealed.hide(turn.memory().concealed(), view.fields()));
        return request;
    }

    /** What a step is about, or everything the run knows; null after the way of a problem was taken. */
    static @Nullable ObjectNode about(TransitionBuilder turn, @Nullable Template about) {
        if (about == null) {
            return facts(turn);
        }
        TracedValue filled = turn.fill(about);
        if (filled == null) {
            return null;
        }
        JsonNode shown = Concealed.hide(turn.memory().concealed(), filled.value());
        ObjectNode own = Json.object(); // the saved value itself stays as it is
        if (shown.isObject()) {
            shown.properties().forEach(e -> own.set(e.getKey(), e.getValue()));
            return own;
        }
        return own.set("about", shown);
    }

    /** The facts with what was said to the requester and by them, for a step that remembers so many turns. */
    static @Nullable ObjectNode remembering(TransitionBuilder turn, @Nullable ObjectNode facts, int turns) {
        if (facts != null && turns > 0 && !turn.memory().conversation().turns().isEmpty()) {
            JsonNode told = turn.memory().conversation().told(turns);
            facts.set("conversation", Concealed.hide(turn.memory().concealed(), told));
        }
        return facts;
    }

    /** Everything the run knows. */
    static ObjectNode facts(TransitionBuilder turn) {
        ObjectNode facts = Json.object();
        turn.known().saved().forEach((name, value) -> facts.set(name, value.value()));
        turn.state().takes().value().properties().forEach(e -> facts.set(e.getKey(), e.getValue()));
        facts.put("requester", turn.situation().requester().name());
        if (turn.problem() != null) {
            facts.set("problem", Json.of(turn.problem()));
        }
        return (ObjectNode) Concealed.hide(turn.memory().concealed(), facts);
    }

    /** The trail's record of an answer. */
    static ObjectNode record(RunInput.ModelAnswered answered) {
        JsonNode answer = answered.answer();
        ObjectNode record = Json.object()
                .put("reason", answer.path("reason").asString(""))
                .put("sure", answer.path("sure").asDouble(0))
                .put("model", answered.model())
                .put("tokens", answered.tokens());
        if (answered.cost() != null) {
            record.put("cost", answered.cost());
        }
        return Boolean.TRUE.equals(answered.estimated()) ? record.put("estimated", true) : record;
    }

    /** Marks the free texts of an answer as a machine's, so that they can't reach people unread. */
    static void mark(TransitionBuilder turn, TracedValue answer) {
        answer.machineTexts().stream()
                .filter(text -> text.length() >= 20)
                .forEach(text -> turn.known().written(text, false));
    }
}
