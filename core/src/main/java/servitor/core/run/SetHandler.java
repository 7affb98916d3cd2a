package servitor.core.run;

import java.util.List;
import java.util.Optional;
import servitor.core.handbook.Priority;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb;
import servitor.core.origin.TracedValue;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** {@code set}: changes state, priority, labels, fields and relations of the case. */
final class SetHandler implements VerbHandler<Verb.Set> {

    @Override
    public void enter(TransitionBuilder turn, Verb.Set verb) {
        TracedValue changes = turn.fill(verb.changes());
        if (changes == null) {
            return;
        }
        Optional<String> fault = fault(turn, changes);
        if (fault.isPresent()) {
            turn.problem(Problem.REFUSED, fault.get());
        } else {
            turn.log(TrailWord.CASE_CHANGED, changes.value());
            turn.command(new Command.ChangeCase(changes.value()));
            turn.changed(changes.value());
            if (changes.value().path("state").isString()) {
                turn.show(changes.value().path("state").stringValue());
            }
            turn.goOn();
        }
    }

    /** The requester sees what a case is set to, so that no unread words of a machine may stand there. */
    private static Optional<String> fault(TransitionBuilder turn, TracedValue changes) {
        for (String part : List.of("fields", "labels", "state", "priority")) {
            TracedValue value = changes.at(List.of(part));
            if (value != null && !isChoice(part, value.value()) && ReviewRule.isUnread(turn, value)) {
                return Optional.of("‘" + part + "’ would hold words of a model that nobody has approved");
            }
        }
        String priority = changes.value().path("priority").asString(Priority.NORMAL.word());
        return Priority.words().contains(priority)
                ? Optional.empty()
                : Optional.of("there is no priority ‘" + priority + "’");
    }

    /** A priority is one of few words, whoever chose it. */
    private static boolean isChoice(String part, JsonNode value) {
        return part.equals("priority") && Priority.words().contains(value.asString(""));
    }
}
