package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.Map;
import servitor.core.expression.Template;
import servitor.core.handbook.Verb.Finish;
import servitor.core.origin.TracedValue;
import servitor.core.trail.TrailEvent;

/** {@code finish}: ends the run and leaves the case in the named state; a followed page gives back what it declares. */
final class FinishHandler implements VerbHandler<Finish> {

    @Override
    public void enter(TransitionBuilder turn, Finish verb) {
        Map<String, TracedValue> gives = new LinkedHashMap<>();
        for (Map.Entry<String, Template> given : turn.page().gives().entrySet()) {
            TracedValue value = turn.fill(given.getValue());
            if (value == null) {
                return;
            }
            gives.put(given.getKey(), value);
        }
        turn.finish(
                verb.state(),
                TrailEvent.agent(turn.page().agent()),
                verb.summary() == null ? "" : turn.words(verb.summary()),
                TracedValue.fields(gives));
    }
}
