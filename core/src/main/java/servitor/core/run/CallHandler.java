package servitor.core.run;

import servitor.core.handbook.Verb.Call;

/** {@code call}: one tool with the inputs the page gives. */
final class CallHandler implements VerbHandler<Call> {

    @Override
    public void enter(TransitionBuilder turn, Call verb) {
        GatedCall.prepare(turn, verb.tool(), verb.inputs())
                .ifPresent(call -> GatedCall.propose(turn, call, GatedCall.saving(turn, verb.save())));
    }

    @Override
    public void resume(TransitionBuilder turn, Call verb, RunInput input) {
        GatedCall.resume(turn, input, GatedCall.saving(turn, verb.save()));
    }
}
