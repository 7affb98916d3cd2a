package servitor.core.run;

import servitor.core.handbook.Verb.Call;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.TracedValue;

/** {@code call}: one tool with the inputs the page gives. */
final class CallHandler implements VerbHandler<Call> {

    @Override
    public void enter(TransitionBuilder turn, Call verb) {
        GatedCall.prepare(turn, verb.tool(), verb.inputs())
                .ifPresent(call -> GatedCall.propose(turn, call, caller(turn, verb)));
    }

    @Override
    public void resume(TransitionBuilder turn, Call verb, RunInput input) {
        GatedCall.resume(turn, input, caller(turn, verb));
    }

    private static GatedCall.Caller caller(TransitionBuilder turn, Call verb) {
        return new GatedCall.StepCaller(turn) {
            @Override
            public void answered(ProposedCall call, TracedValue answer) {
                turn.known().save(verb.save(), answer);
                turn.goOn();
            }
        };
    }
}
