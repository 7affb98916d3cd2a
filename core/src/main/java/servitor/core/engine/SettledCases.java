package servitor.core.engine;

import java.util.Objects;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Verb.Awaited;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;

/** Tells the runs that had a case opened that it is done with. */
final class SettledCases {
    private final Engine engine;

    SettledCases(Engine engine) {
        this.engine = engine;
    }

    /** Keeps what a case's page gave, if somebody had the case opened. */
    void gave(EngineStore store, String caseId, RunInput.Gave gave) {
        if (store.openedFor(caseId).isPresent()) {
            store.gave(caseId, gave);
        }
    }

    /** Tells whoever waits for the case, if it is done with. What waits for a case that wasn't opened for its own isn't told. */
    void tell(EngineStore store, String caseId) {
        String parent = store.openedFor(caseId).orElse("");
        if (parent.isEmpty()) {
            return;
        }
        String state = store.situation(caseId).view().state();
        if (!CaseState.DONE.contains(state)) {
            return;
        }
        for (RunState run : store.activeRuns(parent)) {
            if (run.waitsFor(Awaited.CASE.word(), caseId)) {
                String wait = Objects.requireNonNull(run.pending()).id();
                engine.feed(store, run.id(), new RunInput.CaseSettled(wait, caseId, state, store.gave(caseId)));
            }
        }
    }
}
