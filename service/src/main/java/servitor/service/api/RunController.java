package servitor.service.api;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.BiConsumer;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.EngineStore;
import servitor.core.engine.RunControl;
import servitor.core.json.Json;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.service.api.Views.RunView;
import servitor.service.approvals.ApprovalRow;
import servitor.service.approvals.ApprovalStore;
import servitor.service.editions.EditionStore;
import servitor.service.people.Person;
import servitor.service.runs.RunFilter;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunSteering;
import servitor.service.runs.TroubleStore;
import tools.jackson.databind.JsonNode;

/** Runs, for staff of the case's desk. */
@RestController
@RequestMapping("/api/runs")
class RunController {
    private final RunSteering runs;
    private final EditionStore editionStore;
    private final TroubleStore troubleStore;
    private final ApprovalStore approvals;
    private final ViewMapper describe;

    RunController(
            RunSteering runs,
            EditionStore editionStore,
            TroubleStore troubleStore,
            ApprovalStore approvals,
            ViewMapper describe) {
        this.approvals = approvals;
        this.runs = runs;
        this.editionStore = editionStore;
        this.troubleStore = troubleStore;
        this.describe = describe;
    }

    record Move(int edition) {}

    record Reason(String reason) {}

    /** A run in a list; what it knows and did is told of one at a time. */
    record RunSummary(
            String id,
            String caseId,
            String page,
            String pageTitle,
            String agent,
            int edition,
            String status,
            String stepTitle,
            Instant created,
            Instant updated) {}

    @GetMapping
    Page<RunSummary> list(Person person, ListQuery query, @RequestParam Optional<String> status) {
        Optional<TimeCursor> before = Optional.ofNullable(query.cursor()).map(TimeCursor::of);
        RunFilter filter = new RunFilter(
                person.staffDesks(),
                status.map(RunController::known).orElse(null),
                query.about(null, describe.newest()),
                before.map(TimeCursor::time).orElse(null),
                before.map(TimeCursor::id).orElse(null));
        return Page.of(
                runs.list(filter, query.most() + 1),
                query.most(),
                describe::runSummary,
                row -> new TimeCursor(row.created(), row.id()));
    }

    private static String known(String status) {
        List<String> words =
                Arrays.stream(RunStatus.values()).map(RunStatus::word).toList();
        if (!words.contains(status)) {
            throw new IllegalArgumentException("‘status’ is one of " + String.join(", ", words) + ".");
        }
        return status;
    }

    @GetMapping("/{id}")
    RunView show(Person person, @PathVariable String id) {
        return describe.run(find(person, id));
    }

    private RunRow find(Person person, String id) {
        return runs.find(person, id).orElseThrow(() -> new NotFound("run", id));
    }

    /** Moves a waiting run to another edition, where nothing it stands on differs. */
    @PostMapping("/{id}/edition")
    RunView move(Person person, @PathVariable String id, @RequestBody Move body) {
        RunRow run = find(person, id);
        if (editionStore.find(body.edition()).isEmpty()) {
            throw new NotFound("edition", String.valueOf(body.edition()));
        }
        runs.move(person, run, body.edition());
        return show(person, id);
    }

    record Settlement(boolean happened, @Nullable JsonNode result, String reason) {}

    /** Says whether a call in doubt happened, with what it gave; the run goes on. */
    @PostMapping("/{id}/settlement")
    RunView settle(Person person, @PathVariable String id, @RequestBody Settlement body) {
        RunRow run = find(person, id);
        runs.settle(person, run, body.happened(), body.result(), reason(body.reason()));
        return show(person, id);
    }

    /**
     * What somebody did by hand.
     *
     * @param did {@code nothing} for nothing of the kind; otherwise {@code done}
     * @param inputs what it was done with; null for what was proposed
     * @param result what it gave; null for nothing
     */
    record ByHand(
            String did, @Nullable JsonNode inputs, @Nullable JsonNode result, String reason) {}

    /** Says what was done by hand where a call was held in shadow; the run goes on. */
    @PostMapping("/{id}/by-hand")
    RunView byHand(Person person, @PathVariable String id, @RequestBody ByHand body) {
        RunRow run = find(person, id);
        boolean nothing = "nothing".equals(body.did());
        if (!nothing && !"done".equals(body.did())) {
            throw new IllegalArgumentException("‘did’ is ‘done’ or ‘nothing’.");
        }
        JsonNode gave = OutsideNode.given(body.result());
        JsonNode result = gave == null ? Json.object() : gave;
        JsonNode inputs = OutsideNode.given(body.inputs());
        runs.doneByHand(person, run, new RunControl.Made(nothing, inputs, result, reason(body.reason())));
        return show(person, id);
    }

    private static String reason(@Nullable String reason) {
        if (reason == null || reason.isBlank() || reason.length() > 2_000) {
            throw new IllegalArgumentException("‘reason’ says why, in up to 2000 characters.");
        }
        return reason.strip();
    }

    /** Nothing leaves for a run until it is resumed; people's answers are still taken. */
    @PostMapping("/{id}/pause")
    RunView pause(Person person, @PathVariable String id, @RequestBody Reason body) {
        return steer(person, id, (control, store) -> control.pause(store, id, person.id(), reason(body.reason())));
    }

    @PostMapping("/{id}/resume")
    RunView resume(Person person, @PathVariable String id) {
        return steer(person, id, (control, store) -> control.resume(store, id, person.id()));
    }

    record Advice(String text) {}

    /** Tells the agent something its next steps take into account. */
    @PostMapping("/{id}/notes")
    RunView advise(Person person, @PathVariable String id, @RequestBody Advice body) {
        if (body.text() == null || body.text().isBlank() || body.text().length() > 2_000) {
            throw new IllegalArgumentException("‘text’ says what the agent should know, in up to 2000 characters.");
        }
        return steer(
                person,
                id,
                (control, store) ->
                        control.advise(store, id, person.id(), body.text().strip()));
    }

    /** What words are read as, and what would be done; it is read back before it counts, and nothing is done here. */
    @PostMapping("/{id}/reading")
    SteeringView read(Person person, @PathVariable String id, @RequestBody Advice body) {
        RunRow run = find(person, id);
        runs.requireSteering(person, run);
        if (body.text() == null || body.text().isBlank() || body.text().length() > 2_000) {
            throw new IllegalArgumentException("‘text’ says what should be done, in up to 2000 characters.");
        }
        String asked = approvals.ofRun(id).stream()
                .filter(row -> row.state().equals(ApprovalState.OPEN.word()))
                .map(ApprovalRow::id)
                .findFirst()
                .orElse(null);
        return SteeringView.of(body.text(), Json.read(run.state(), RunState.class), troubleStore.openOf(id), asked);
    }

    /**
     * What a person does about trouble.
     *
     * @param does {@code retry}, {@code skip} or {@code take-over}
     * @param result for a skipped call: what it would have given
     */
    record Mend(String does, String reason, @Nullable JsonNode result) {}

    /** Sees to something that went wrong in a run. */
    @PostMapping("/{id}/troubles/{trouble}")
    RunView mend(Person person, @PathVariable String id, @PathVariable String trouble, @RequestBody Mend body) {
        find(person, id);
        if (troubleStore.openOf(id).stream().noneMatch(row -> row.id().equals(trouble))) {
            throw new NotFound("open trouble", trouble);
        }
        String why = reason(body.reason());
        return steer(person, id, (control, store) -> {
            switch (String.valueOf(body.does())) {
                case "retry" -> control.retry(store, trouble, person.id(), why);
                case "skip" ->
                    control.skip(
                            store,
                            trouble,
                            person.id(),
                            why,
                            body.result() == null || body.result().isNull() ? null : body.result());
                case "take-over" -> control.takeOver(store, trouble, person.id(), why);
                default -> throw new IllegalArgumentException("‘does’ must be retry, skip or take-over.");
            }
        });
    }

    private RunView steer(Person person, String id, BiConsumer<RunControl, EngineStore> work) {
        runs.steer(person, find(person, id), work);
        return show(person, id);
    }

    /** Ends a run and leaves the case to people. */
    @PostMapping("/{id}/stop")
    RunView stop(Person person, @PathVariable String id, @RequestBody Reason body) {
        return steer(person, id, (control, store) -> control.stop(store, id, person.id(), reason(body.reason())));
    }
}
