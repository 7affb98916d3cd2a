package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Telling;
import servitor.core.handbook.Verb.Tell;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;

/** {@code tell}: sends text to somebody, as a call like any other. */
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
        String to = to(turn, verb);
        if (to == null) {
            return;
        }
        String tool = Telling.by(verb.by() == Channel.SAME_WAY ? sameWay(turn) : verb.by(), to);
        Map<String, TracedValue> inputs = new LinkedHashMap<>();
        if (!tool.equals(Telling.REPLY)) {
            inputs.put("to", TracedValue.of(Json.of(to), Origin.HANDBOOK));
        }
        inputs.put("text", new TracedValue(Json.of(words), text.originsAt(""), Map.of(), text.written()));
        ProposedCall call = new ProposedCall(turn.agent().name(), tool, inputs, Map.of(), Map.of(), turn.chain());
        GatedCall.propose(turn, call, caller(turn));
    }

    /** Who is told; whoever the case is for has one name only. Null after having taken a problem's way. */
    private static @Nullable String to(TransitionBuilder turn, Tell verb) {
        Set<String> all = Whom.of(turn, List.of(verb.to()));
        if (all == null) {
            return null;
        } else if (all.size() != 1) {
            turn.problem(Problem.INVALID, "‘" + verb.to().text() + "’ doesn't name one to be told");
            return null;
        }
        String one = all.iterator().next();
        return one.equals(Telling.PERSON + turn.situation().requester().id()) ? Telling.REQUESTER : one;
    }

    /** By mail for whoever came by mail or by a form that was confirmed by mail, if the desk sends any. */
    private static Channel sameWay(TransitionBuilder turn) {
        Situation.CaseView view = turn.situation().view();
        boolean mail = List.of(Channel.MAIL, Channel.FORM).contains(Channel.of(view.channel()))
                && turn.edition().handbook().letterheadOf(view.desk()).isPresent();
        return mail ? Channel.MAIL : Channel.NOTE;
    }

    @Override
    public void resume(TransitionBuilder turn, Tell verb, RunInput input) {
        GatedCall.resume(turn, input, caller(turn));
    }

    private static GatedCall.Caller caller(TransitionBuilder turn) {
        return new GatedCall.StepCaller(turn) {
            @Override
            public void answered(ProposedCall call, TracedValue answer) {
                if (call.tool().equals(Telling.REPLY)
                        || call.args().path("to").asString("").equals(Telling.REQUESTER)) {
                    Conversation.remember(turn, "us", call.args().path("text").asString(""));
                }
                turn.goOn();
            }
        };
    }
}
