package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.check.Scopes;
import servitor.core.shape.Shape;

/** Whether a waiting run may go on under another edition: only where nothing it stands on has changed. */
public final class MoveRule {
    private MoveRule() {}

    /** Why the run can't be moved; empty when it can. */
    public static Optional<String> fault(Handbook from, Handbook to, RunState state) {
        if (state.status() != RunStatus.WAITING) {
            return Optional.of("only a waiting run can be moved, and this one is "
                    + state.status().word());
        }
        Runbook old = Objects.requireNonNull(from.runbooks().get(state.page()));
        Runbook now = to.runbooks().get(state.page());
        if (now == null) {
            return Optional.of("the other edition has no page ‘" + state.page() + "’");
        }
        Step was = old.step(state.step()).orElseThrow();
        Step is = now.step(state.step()).orElse(null);
        if (is == null) {
            return Optional.of("the page has no step ‘" + was.title() + "’ there");
        }
        if (!was.verb().getClass().equals(is.verb().getClass())) {
            return Optional.of("‘" + was.title() + "’ is ‘" + is.word() + "’ there, and ‘" + was.word() + "’ here");
        }
        if (!ways(old, was).equals(ways(now, is))) {
            return Optional.of("the ways on from ‘" + was.title() + "’ differ");
        }
        if (!types(from, old, was).equals(types(to, now, is))) {
            return Optional.of("what is known at ‘" + was.title() + "’ looks different there");
        }
        return Optional.empty();
    }

    private static List<String> ways(Runbook page, Step step) {
        return new Flow(page)
                .waysOut(step).stream().map(way -> way.on() + " → " + way.to()).toList();
    }

    private static Map<String, Shape> types(Handbook handbook, Runbook page, Step step) {
        Map<String, Shape> types =
                new LinkedHashMap<>(new Scopes(handbook).at(page, step).orElse(Map.of()));
        types.remove("case"); // kinds of other cases don't concern a run; its own fields are compared
        new Scopes(handbook)
                .at(page, step)
                .flatMap(scope -> Objects.requireNonNull(scope.get("case")).field("fields"))
                .ifPresent(field -> types.put("case.fields", field.shape()));
        return types;
    }
}
