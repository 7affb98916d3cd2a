package servitor.core.run;

import servitor.core.handbook.Verb;
import servitor.core.origin.Traced;

/** {@code set}: changes state, priority, labels, fields and relations of the case. */
final class SetHandler implements VerbHandler<Verb.Set> {

    @Override
    public void enter(Turn turn, Verb.Set verb) {
        Traced changes = turn.fill(verb.changes());
        if (changes != null) {
            turn.log("case-changed", changes.value());
            turn.command(new Command.ChangeCase(changes.value()));
            turn.changed(changes.value());
            if (changes.value().path("state").isString()) {
                turn.show(changes.value().path("state").stringValue());
            }
            turn.goOn();
        }
    }
}
