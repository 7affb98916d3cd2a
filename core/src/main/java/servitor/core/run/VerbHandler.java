package servitor.core.run;

import servitor.core.handbook.Verb;

/** Carries out one verb. Stateless; all that changes is the turn. */
interface VerbHandler<V extends Verb> {
    /** The run arrives at a step with this verb. */
    void enter(TransitionBuilder turn, V verb);

    /** What the step waited for has come. Verbs that never wait needn't say what they would do. */
    default void resume(TransitionBuilder turn, V verb, RunInput input) {
        throw new IllegalStateException(
                verb.getClass().getSimpleName() + " waits for nothing, so nothing can resume it");
    }
}
