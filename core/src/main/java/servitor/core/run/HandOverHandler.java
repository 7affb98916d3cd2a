package servitor.core.run;

import servitor.core.handbook.Verb.HandOver;

/** {@code hand-over}: gives the case to people with what is known. */
final class HandOverHandler implements VerbHandler<HandOver> {

    @Override
    public void enter(TransitionBuilder turn, HandOver verb) {
        String why = turn.words(verb.why());
        turn.handOver(verb.to(), why.isBlank() ? turn.whyInTrouble() : why);
    }
}
