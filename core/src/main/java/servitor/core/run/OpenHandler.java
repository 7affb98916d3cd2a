package servitor.core.run;

import servitor.core.handbook.Opening;
import servitor.core.handbook.Verb.Open;

/** {@code open}: another case for this one, as a call like any other. */
final class OpenHandler implements VerbHandler<Open> {

    @Override
    public void enter(TransitionBuilder turn, Open verb) {
        GatedCall.prepare(turn, Opening.OPEN, verb.inputs())
                .ifPresent(call -> GatedCall.propose(turn, call, GatedCall.saving(turn, verb.save())));
    }

    @Override
    public void resume(TransitionBuilder turn, Open verb, RunInput input) {
        GatedCall.resume(turn, input, GatedCall.saving(turn, verb.save()));
    }
}
