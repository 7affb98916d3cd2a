package servitor.core.run;

import servitor.core.handbook.Verb.Finish;
import servitor.core.trail.Happening;

/** {@code finish}: ends the run and leaves the case in the named state. */
final class FinishHandler implements VerbHandler<Finish> {

    @Override
    public void enter(Turn turn, Finish verb) {
        turn.finish(
                verb.state(),
                Happening.agent(turn.page().agent()),
                verb.summary() == null ? "" : turn.words(verb.summary()));
    }
}
