package servitor.service.api;

import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.engine.EngineStore;
import servitor.core.engine.RunControl;
import servitor.core.json.Json;
import servitor.service.api.Views.RunView;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.RunRow;
import servitor.service.ledger.Writer;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import servitor.service.people.Role;
import tools.jackson.databind.JsonNode;

/** Runs, for staff of the case's desk. */
@RestController
@RequestMapping("/api/runs")
class RunController {
    private final Ledger ledger;
    private final ViewMapper describe;
    private final Writer writer;
    private final RunControl steering;

    RunController(Ledger ledger, ViewMapper describe, Writer writer, RunControl steering) {
        this.ledger = ledger;
        this.writer = writer;
        this.steering = steering;
        this.describe = describe;
    }

    record Move(int edition) {}

    record Reason(String reason) {}

    @GetMapping("/{id}")
    RunView show(Person person, @PathVariable String id) {
        return describe.run(find(person, id));
    }

    private RunRow find(Person person, String id) {
        return ledger.run(id)
                .filter(run -> ledger.findCase(run.caseId())
                        .filter(person::seesAsStaff)
                        .isPresent())
                .orElseThrow(() -> new NotFound("run", id));
    }

    /** Moves a waiting run to another edition, where nothing it stands on differs. */
    @PostMapping("/{id}/edition")
    RunView move(Person person, @PathVariable String id, @RequestBody Move body) {
        find(person, id);
        if (!person.is(Role.ENGINEER)) {
            throw new NotAllowed("Engineers move runs to another edition.");
        }
        if (ledger.edition(body.edition()).isEmpty()) {
            throw new NotFound("edition", String.valueOf(body.edition()));
        }
        writer.write(tx -> {
            steering.move(tx.store(), id, body.edition(), person.id());
            return null;
        });
        return show(person, id);
    }

    record Settlement(boolean happened, @Nullable JsonNode result, String reason) {}

    /** Says whether a call in doubt happened, with what it gave; the run goes on. */
    @PostMapping("/{id}/settlement")
    RunView settle(Person person, @PathVariable String id, @RequestBody Settlement body) {
        RunRow run = find(person, id);
        boolean own = ledger.findCase(run.caseId()).filter(person::asked).isPresent();
        if (own || !person.is(Role.ENGINEER, Role.RESOLVER, Role.APPROVER)) {
            throw new NotAllowed(
                    "Resolvers, approvers and engineers of the desk settle what is in doubt, and nobody in their own case.");
        }
        String reason = reason(body.reason());
        writer.write(tx -> {
            steering.settle(
                    tx.store(),
                    id,
                    person.id(),
                    body.happened(),
                    body.result() == null ? Json.object() : body.result(),
                    reason);
            return null;
        });
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
        return steer(person, id, store -> steering.pause(store, id, person.id(), reason(body.reason())));
    }

    @PostMapping("/{id}/resume")
    RunView resume(Person person, @PathVariable String id) {
        return steer(person, id, store -> steering.resume(store, id, person.id()));
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
                store -> steering.advise(store, id, person.id(), body.text().strip()));
    }

    /**
     * What a person does about trouble.
     *
     * @param does {@code retry}, {@code skip} or {@code take-over}
     * @param result for a skipped call: what it would have given
     */
    record Mend(String does, String reason, @Nullable JsonNode result) {}

    /** Sees to something that went wrong in a run. */
    @PostMapping("/{id}/wrong/{trouble}")
    RunView mend(Person person, @PathVariable String id, @PathVariable String trouble, @RequestBody Mend body) {
        find(person, id);
        if (ledger.wentWrongIn(id).stream().noneMatch(row -> row.id().equals(trouble))) {
            throw new NotFound("open trouble", trouble);
        }
        String why = reason(body.reason());
        return steer(person, id, store -> {
            switch (String.valueOf(body.does())) {
                case "retry" -> steering.retry(store, trouble, person.id(), why);
                case "skip" ->
                    steering.skip(
                            store,
                            trouble,
                            person.id(),
                            why,
                            body.result() == null || body.result().isNull() ? null : body.result());
                case "take-over" -> steering.takeOver(store, trouble, person.id(), why);
                default -> throw new IllegalArgumentException("‘does’ must be retry, skip or take-over.");
            }
        });
    }

    private RunView steer(Person person, String id, Consumer<EngineStore> work) {
        RunRow run = find(person, id);
        boolean own = ledger.findCase(run.caseId()).filter(person::asked).isPresent();
        if (own || !person.is(Role.ENGINEER, Role.RESOLVER)) {
            throw new NotAllowed("Resolvers and engineers of the desk steer runs, and nobody in their own case.");
        }
        writer.write(tx -> {
            work.accept(tx.store());
            return null;
        });
        return show(person, id);
    }

    /** Ends a run and leaves the case to people. */
    @PostMapping("/{id}/stop")
    RunView stop(Person person, @PathVariable String id, @RequestBody Reason body) {
        return steer(person, id, store -> steering.stop(store, id, person.id(), reason(body.reason())));
    }
}
