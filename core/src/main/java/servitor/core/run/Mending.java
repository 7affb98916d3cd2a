package servitor.core.run;

import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.GivenUp;
import servitor.core.run.RunInput.Retried;
import servitor.core.run.RunInput.Skipped;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;

/** What people do about a run that failed at a step: take it once more, go on behind it, or take the case over. */
final class Mending {
    private Mending() {}

    static boolean mends(RunInput input) {
        return input instanceof Retried || input instanceof Skipped || input instanceof GivenUp;
    }

    static void mend(TransitionBuilder turn, RunInput input) {
        if (input instanceof Retried retried) {
            turn.log(
                    TrailEvent.person(retried.by()),
                    TrailWord.STEP_RETRIED,
                    Json.object().put("reason", retried.reason()));
            goOnAgain(turn);
            turn.goTo(turn.state().step());
        } else if (input instanceof Skipped skipped) {
            turn.log(
                    TrailEvent.person(skipped.by()),
                    TrailWord.STEP_SKIPPED,
                    Json.object().put("reason", skipped.reason()).set("result", Json.of(skipped.result())));
            goOnAgain(turn);
            Verb verb = turn.step().verb();
            if (skipped.result() != null) {
                turn.known().save(verb.save(), TracedValue.of(skipped.result(), Origin.PERSON));
            }
            turn.goOn();
        } else {
            GivenUp given = (GivenUp) input;
            turn.log(
                    TrailEvent.person(given.by()),
                    TrailWord.TAKEN_OVER,
                    Json.object().put("reason", given.reason()));
            turn.takenOver();
        }
    }

    private static void goOnAgain(TransitionBuilder turn) {
        turn.reopen();
        RunMachine.setDeadline(turn, "-" + turn.usage().visits());
    }
}
