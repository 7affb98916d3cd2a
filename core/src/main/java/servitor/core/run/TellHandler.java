package servitor.core.run;

import java.util.Map;
import java.util.Optional;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb.Tell;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.TracedValue;

/** {@code tell}: sends text to the requester, as a call like any other. */
final class TellHandler implements VerbHandler<Tell> {

    @Override
    public void enter(TransitionBuilder turn, Tell verb) {
        TracedValue text = turn.fill(verb.text());
        if (text == null) {
            return;
        }
        String words = text.value().asString("");
        Optional<String> fault =
                verb.unreviewed() == null ? ReviewRule.fault(turn, verb.text(), words) : Optional.empty();
        if (fault.isPresent()) {
            turn.problem(Problem.REFUSED, fault.get());
            return;
        }
        TracedValue asText = new TracedValue(Json.of(words), text.originsAt(""), Map.of(), text.written());
        ProposedCall call = new ProposedCall(
                turn.agent().name(), Tool.REPLY, Map.of("text", asText), Map.of(), Map.of(), turn.chain());
        GatedCall.propose(turn, call, caller(turn));
    }

    @Override
    public void resume(TransitionBuilder turn, Tell verb, RunInput input) {
        GatedCall.resume(turn, input, caller(turn));
    }

    private static GatedCall.Caller caller(TransitionBuilder turn) {
        return new GatedCall.StepCaller(turn) {
            @Override
            public void answered(ProposedCall call, TracedValue answer) {
                turn.goOn();
            }
        };
    }
}
