package servitor.core.engine;

import java.util.List;
import java.util.TreeSet;
import servitor.core.engine.Books.KeptRun;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import servitor.core.run.MoveRule;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.core.trail.Happening;
import tools.jackson.databind.JsonNode;

/** What people do to runs by hand. Whoever calls this has checked that they may; what can't be is {@link RunRefused}. */
public final class Steering {
    private final Engine engine;

    public Steering(Engine engine) {
        this.engine = engine;
    }

    /** Starts a page on a case that no run is working on; gives the run's id. */
    public String start(Books books, String caseId, String pageName, String by) {
        Edition edition =
                engine.editions().current().orElseThrow(() -> new RunRefused("No handbook has been published yet."));
        Runbook page = edition.handbook().runbooks().get(pageName);
        if (page == null) {
            throw new RunRefused("There is no page ‘" + pageName + "’. There are: "
                    + String.join(
                            ", ", new TreeSet<>(edition.handbook().runbooks().keySet())) + ".");
        }
        String desk = books.situation(caseId).view().desk();
        if (!page.desk().equals(desk)) {
            throw new RunRefused("‘" + page.title() + "’ is a page of the desk ‘" + page.desk()
                    + "’, and the case is at ‘" + desk + "’.");
        }
        if (!page.takes().fields().isEmpty()) {
            throw new RunRefused("‘" + page.title() + "’ takes inputs, so only another page can follow it.");
        }
        if (!books.activeRuns(caseId).isEmpty()) {
            throw new RunRefused("A run is working on this case already.");
        }
        books.trail(
                caseId,
                "",
                new Happening(
                        Happening.person(by),
                        "started-by-hand",
                        "",
                        Json.object().put("page", pageName)));
        return engine.start(books, caseId, edition, page);
    }

    /** Ends a run and leaves the case to people. */
    public void stop(Books books, String run, String by, String reason) {
        engine.feed(books, run, new RunInput.Stopped(by, reason));
    }

    /** Moves a waiting run to another edition, if nothing it stands on differs there. */
    public void move(Books books, String run, int edition, String by) {
        RunState state = kept(books, run).state();
        if (state.edition() == edition) {
            throw new RunRefused("The run is on edition " + edition + " already.");
        }
        if (state.parent() != null) {
            throw new RunRefused("This run's page is followed by another run; move that one once this has ended.");
        }
        if (!books.followers(run).isEmpty()) {
            throw new RunRefused(
                    "Pages that this run follows are still being worked on; move it once they have ended.");
        }
        MoveRule.fault(
                        engine.editions().get(state.edition()).handbook(),
                        engine.editions().get(edition).handbook(),
                        state)
                .ifPresent(fault -> {
                    throw new RunRefused("The run can't be moved to edition " + edition + ": " + fault + ".");
                });
        engine.feed(books, run, new RunInput.Moved(by, edition));
    }

    /**
     * A person says whether a call in doubt happened; the run goes on from there.
     *
     * @param result what the call gave, when it happened
     */
    public void settle(Books books, String run, String by, boolean happened, JsonNode result, String reason) {
        RunState state = kept(books, run).state();
        RunState.Pending pending = state.pending();
        if (state.status() != RunStatus.IN_DOUBT || pending == null || pending.call() == null) {
            throw new RunRefused("Nothing about this run is in doubt; it is "
                    + state.status().word() + ".");
        }
        if (happened) {
            Tool tool = engine.editions()
                    .get(state.edition())
                    .handbook()
                    .tools()
                    .get(pending.call().tool());
            List<String> violations = Schemas.violations(tool.outputs(), result);
            if (!violations.isEmpty()) {
                throw new IllegalArgumentException(
                        "‘result’ isn't what ‘" + tool.name() + "’ answers: " + String.join("; ", violations) + ".");
            }
        }
        books.settle(pending.id());
        engine.feed(books, run, new RunInput.Settled(pending.id(), by, happened, result, reason));
    }

    private static KeptRun kept(Books books, String run) {
        return books.run(run).orElseThrow(() -> new RunRefused("There is no run ‘" + run + "’."));
    }
}
