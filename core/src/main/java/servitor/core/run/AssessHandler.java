package servitor.core.run;

import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Verb.Assess;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import servitor.core.shape.Answers;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.node.ObjectNode;

/** {@code assess}: a model answers the question in the step's prose with a typed answer. */
final class AssessHandler implements VerbHandler<Assess> {

    @Override
    public void enter(TransitionBuilder turn, Assess verb) {
        if (!ModelWork.mayAsk(turn)) {
            return;
        }
        ObjectNode facts = ModelWork.remembering(turn, ModelWork.about(turn, verb.about()), verb.remember());
        ask(turn, verb, facts == null ? null : Parts.fit(turn, facts));
    }

    private static void ask(TransitionBuilder turn, Assess verb, @Nullable ObjectNode facts) {
        if (facts != null) {
            ModelWork.ask(
                    turn,
                    PromptLayout.of(turn.edition().handbook().house(), turn.agent())
                            .assess(
                                    ModelWork.prose(turn),
                                    Answers.schema(verb.answer()),
                                    facts,
                                    ModelWork.request(turn)));
        }
    }

    @Override
    public void resume(TransitionBuilder turn, Assess verb, RunInput input) {
        if (input instanceof ModelFailed failed) {
            ModelWork.failed(turn, failed);
        } else if (input instanceof ModelCalled called) {
            ModelWork.notAsked(turn, called);
        } else if (input instanceof ModelAnswered answered && Parts.isReading(turn)) {
            ObjectNode facts = ModelWork.remembering(turn, ModelWork.about(turn, verb.about()), verb.remember());
            ask(turn, verb, facts == null ? null : Parts.take(turn, facts, answered));
        } else if (input instanceof ModelAnswered answered) {
            turn.usage().countModel(answered.tokens(), answered.cost());
            TracedValue answer = TracedValue.answered(
                    Answers.shape(verb.answer()).fit(answered.answer()), Answers.shape(verb.answer()));
            ModelWork.mark(turn, answer);
            turn.log(TrailWord.ASSESSED, ModelWork.record(answered).set("answer", answer.value()));
            boolean unsureIsAWay =
                    verb.unsureBelow() != null && !turn.step().on().containsKey(Assess.TOO_LITTLE);
            if (!unsureIsAWay && ModelWork.knowsTooLittle(turn, answered)) {
                return;
            }
            turn.known().save(verb.save(), answer);
            double sure = answered.answer().path(Assess.SURE).asDouble(0);
            if (verb.unsureBelow() != null && sure < verb.unsureBelow()) {
                turn.noteProblem(
                        Assess.UNSURE,
                        "the model is only " + sure + " sure: "
                                + answered.answer().path("reason").asString(""));
                turn.goOn(verb.ways(), Assess.UNSURE);
            } else {
                turn.goOn(verb.ways(), Assess.SURE);
            }
        }
    }
}
