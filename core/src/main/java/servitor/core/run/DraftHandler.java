package servitor.core.run;

import java.util.Set;
import servitor.core.handbook.Verb.Draft;
import servitor.core.json.Json;
import servitor.core.origin.Traced;
import servitor.core.prompt.Prompt;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelFailed;
import servitor.core.run.RunState.Pending;
import servitor.core.run.Situation.CaseView;
import tools.jackson.databind.node.ObjectNode;

/** {@code draft}: a model writes text by the step's prose, from the facts the run has. */
final class DraftHandler implements VerbHandler<Draft> {

    @Override
    public void enter(Turn turn, Draft verb) {
        int limit = turn.page().limits().modelTokens();
        if (turn.state().tokens() >= limit) {
            turn.problem("exhausted", "this page may use " + limit + " model tokens, and has used them");
            return;
        }
        String language = "en";
        if (verb.language() != null) {
            Traced filled = turn.fill(verb.language());
            if (filled == null) {
                return;
            }
            language = filled.value().asString("en");
        }
        CaseView view = turn.situation().view();
        ObjectNode request = Json.object().put("subject", view.subject()).put("text", view.text());
        request.set("fields", view.fields());
        Prompt prompt = PromptLayout.draft(
                turn.edition().handbook().house(),
                turn.agent(),
                turn.step().prose(),
                language,
                verb.tone(),
                verb.maxWords(),
                facts(turn),
                request);
        String id = turn.nextId();
        turn.await(Pending.Kind.MODEL, id, null, Set.of());
        turn.command(new Command.AskModel(id, prompt));
    }

    private static ObjectNode facts(Turn turn) {
        ObjectNode facts = Json.object();
        turn.state().saved().forEach((name, value) -> facts.set(name, value.value()));
        facts.put("requester", turn.situation().requester().name());
        if (turn.state().problem() != null) {
            facts.set("problem", Json.of(turn.state().problem()));
        }
        return facts;
    }

    @Override
    public void resume(Turn turn, Draft verb, RunInput input) {
        if (input instanceof ModelFailed failed) {
            turn.countTokens(failed.tokens());
            turn.problem(failed.problem(), failed.detail());
        } else if (input instanceof ModelAnswered answered) {
            turn.countTokens(answered.tokens());
            String text = answered.answer().path("text").asString("").strip();
            turn.log(
                    "drafted",
                    Json.object()
                            .put("text", text)
                            .put("reason", answered.answer().path("reason").asString(""))
                            .put("sure", answered.answer().path("sure").asDouble(0))
                            .put("model", answered.model())
                            .put("tokens", answered.tokens()));
            turn.written(text, false);
            turn.save(verb.save(), Traced.written(Json.of(text)));
            turn.goOn();
        }
    }
}
