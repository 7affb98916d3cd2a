package servitor.core.run;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.handbook.Verb.Draft;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.PromptLayout;
import servitor.core.prompt.PromptLayout.Order;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code draft}: a model writes text by the step's prose, from the facts the run has. When people have sent an earlier
 * version back, it writes from that version and what they said.
 */
final class DraftHandler implements VerbHandler<Draft> {

    @Override
    public void enter(TransitionBuilder turn, Draft verb) {
        if (ModelWork.mayAsk(turn)) {
            ObjectNode facts = facts(turn, verb);
            ask(turn, verb, facts == null ? null : Parts.fit(turn, facts));
        }
    }

    private static @Nullable ObjectNode facts(TransitionBuilder turn, Draft verb) {
        ObjectNode facts = ModelWork.remembering(turn, ModelWork.about(turn, verb.about()), verb.remember());
        if (facts != null) {
            facts.remove(verb.save()); // the last version comes with what was said about it, or not at all
        }
        return facts;
    }

    private static void ask(TransitionBuilder turn, Draft verb, @Nullable ObjectNode facts) {
        Set<String> languages = new LinkedHashSet<>();
        for (Template language : facts == null ? List.<Template>of() : verb.languages()) {
            TracedValue filled = turn.fill(language);
            if (filled == null) {
                return;
            }
            languages.add(filled.value().asString("en"));
        }
        if (facts == null) {
            return;
        }
        JsonNode earlier = turn.memory().feedback().containsKey(verb.save())
                ? Json.of(turn.memory().feedback().get(verb.save()))
                : null;
        Order order = new Order(
                List.copyOf(languages),
                verb.languages().size() > 1,
                verb.tone(),
                verb.maxWords(),
                verb.cite() ? new ArrayList<>(facts.propertyNames()) : List.of());
        ModelWork.ask(
                turn,
                PromptLayout.of(turn.edition().handbook().house(), turn.agent())
                        .draft(ModelWork.prose(turn), order, facts, ModelWork.request(turn), earlier));
    }

    @Override
    public void resume(TransitionBuilder turn, Draft verb, RunInput input) {
        if (input instanceof ModelFailed failed) {
            ModelWork.failed(turn, failed);
        } else if (input instanceof ModelCalled called) {
            ModelWork.notAsked(turn, called);
        } else if (input instanceof ModelAnswered answered && Parts.isReading(turn)) {
            ObjectNode facts = facts(turn, verb);
            ask(turn, verb, facts == null ? null : Parts.take(turn, facts, answered));
        } else if (input instanceof ModelAnswered answered) {
            turn.usage().countModel(answered.tokens(), answered.cost());
            JsonNode answer = answered.answer();
            JsonNode text = answer.has("texts")
                    ? answer.get("texts")
                    : Json.of(answer.path("text").asString("").strip());
            ObjectNode record = ModelWork.record(answered).set("text", text);
            if (answer.has("cites")) {
                record.set("cites", answer.get("cites"));
            }
            turn.log(TrailWord.DRAFTED, record);
            if (ModelWork.knowsTooLittle(turn, answered)) {
                return;
            }
            TracedValue draft = text.isString()
                    ? TracedValue.written(text)
                    : new TracedValue(text, Set.of(Origin.MODEL), java.util.Map.of(), Set.copyOf(text.propertyNames()));
            draft.machineTexts().forEach(one -> turn.known().written(one, false));
            turn.known().save(verb.save(), draft);
            turn.remember(turn.memory().drafted(verb.save(), turn.step().address()));
            turn.goOn();
        }
    }
}
