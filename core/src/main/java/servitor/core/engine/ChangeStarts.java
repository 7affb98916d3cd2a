package servitor.core.engine;

import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import java.util.function.BiConsumer;
import servitor.core.expression.EvaluationFailed;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.CaseChange.What;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.json.Json;
import servitor.core.run.RunState;
import servitor.core.run.Situation;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * Starts pages on changes of cases. A run that was started by a change starts nothing by its own, and no run its own page again: so
 * no chain is longer than one.
 */
final class ChangeStarts {
    private final Engine engine;

    ChangeStarts(Engine engine) {
        this.engine = engine;
    }

    /** Says which fields have another value, and which labels are new. */
    void changed(Situation before, Situation after, BiConsumer<What, String> say) {
        for (Map.Entry<String, JsonNode> field : after.view().fields().properties()) {
            if (!field.getValue().equals(before.view().fields().get(field.getKey()))) {
                say.accept(What.FIELD, field.getKey());
            }
        }
        Set<String> had = new HashSet<>();
        before.view().labels().forEach(label -> had.add(label.asString("")));
        after.view().labels().forEach(label -> {
            if (had.add(label.asString(""))) {
                say.accept(What.LABEL, label.asString(""));
            }
        });
    }

    /** Starts what starts on a change that a run has made. */
    void start(EngineStore store, RunState by, What what, String named) {
        if (by.startedOn().isEmpty()) {
            start(store, by.caseId(), by.page(), what, named);
        }
    }

    /** Starts what starts on a change that people have made. */
    void start(EngineStore store, String caseId, What what, String named) {
        start(store, caseId, "", what, named);
    }

    private void start(EngineStore store, String caseId, String butNot, What what, String named) {
        Edition edition = engine.editions().current().orElse(null);
        if (edition == null) {
            return;
        }
        String kind = store.situation(caseId).view().kind();
        for (Runbook page : edition.handbook().startedByChange(kind, what, named)) {
            Situation now = store.situation(caseId);
            if (!page.name().equals(butNot) && holds(page, kind, what, named, now, edition.number())) {
                store.trail(
                        caseId,
                        "",
                        new TrailEvent(
                                TrailEvent.agent(page.agent()),
                                TrailWord.STARTED_BY_CHANGE,
                                "",
                                Json.object()
                                        .put("page", page.name())
                                        .put("change", what.word())
                                        .put("named", named)));
                engine.start(
                        store,
                        RunState.ready(store.newRunId(), caseId, edition.number(), page)
                                .on(what));
            }
        }
    }

    /** A condition that has no value doesn't hold. */
    private static boolean holds(Runbook page, String kind, What what, String named, Situation now, int edition) {
        return page.changes().stream()
                .filter(change -> change.kind().equals(kind)
                        && change.what() == what
                        && change.named().equals(named))
                .anyMatch(change -> holds(change, now, edition));
    }

    private static boolean holds(CaseChange change, Situation now, int edition) {
        try {
            return change.when() == null || change.when().holds(now.plainScope(edition));
        } catch (EvaluationFailed e) {
            return false;
        }
    }
}
