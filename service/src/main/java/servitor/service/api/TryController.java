package servitor.service.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.rehearsal.RehearsalText;
import servitor.core.rehearsal.TryOut;
import servitor.core.rehearsal.TryOut.Open;
import servitor.core.trail.Lane;
import servitor.service.api.Views.LanesView;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.tries.Tries;
import servitor.service.tries.Tries.Standing;
import servitor.service.tries.TryRow;
import tools.jackson.databind.JsonNode;

/** Pages tried out on one's draft, step by step. Nothing is done and nothing is kept on a case. */
@RestController
@RequestMapping("/api/handbook/draft/tries")
class TryController {
    private final Tries tries;
    private final ViewMapper describe;

    TryController(Tries tries, ViewMapper describe) {
        this.tries = tries;
        this.describe = describe;
    }

    /**
     * What it begins with: one of the three.
     *
     * @param rehearsal of one's draft
     * @param caseId one that is done
     * @param request in the form of a rehearsal's {@code case}
     */
    record Begin(
            @Nullable String rehearsal,
            @Nullable String caseId,
            @Nullable JsonNode request) {}

    record Listed(String id, String source, String named, String title, Instant updated) {
        static Listed of(TryRow row) {
            return new Listed(row.id(), row.source(), row.named(), row.title(), row.updated());
        }
    }

    /**
     * What isn't answered yet.
     *
     * @param sort {@code tool}, {@code hand}, {@code model}, {@code people} or {@code wait}
     * @param notForReal why it can't be asked for real; empty when it can
     * @param suggested what a rehearsal or a case says there, in the form of a rehearsal's answers; null when it says nothing
     */
    record OpenView(
            String sort,
            String step,
            String what,
            JsonNode shown,
            JsonNode schema,
            String notForReal,
            @Nullable JsonNode suggested) {}

    record TryView(
            Listed about,
            String state,
            List<String> faults,
            int answers,
            int forReal,
            LanesView lanes,
            @Nullable OpenView open) {}

    @GetMapping
    List<Listed> all(Person person) {
        Access.WRITE_HANDBOOKS.require(person);
        return tries.all(person).stream().map(Listed::of).toList();
    }

    @PostMapping
    ResponseEntity<TryView> begin(Person person, @RequestBody Begin body) {
        Access.WRITE_HANDBOOKS.require(person);
        String id;
        if (body.rehearsal() != null) {
            id = tries.begin(person, "rehearsal", body.rehearsal(), null);
        } else if (body.caseId() != null) {
            id = tries.begin(person, "case", body.caseId(), null);
        } else if (OutsideNode.given(body.request()) != null) {
            id = tries.begin(person, "request", "", body.request());
        } else {
            throw new IllegalArgumentException("Begin with a ‘rehearsal’, a ‘caseId’ or a ‘request’.");
        }
        return Made.at("/api/handbook/draft/tries/" + id, show(person, id));
    }

    @GetMapping("/{id}")
    TryView show(Person person, @PathVariable String id) {
        return view(find(person, id));
    }

    private Standing find(Person person, String id) {
        Access.WRITE_HANDBOOKS.require(person);
        return tries.play(person, id).orElseThrow(() -> new NotFound("try", id));
    }

    private TryView view(Standing standing) {
        TryOut out = standing.out();
        String requester = standing.from().about().requester().id();
        Open open = out.open();
        return new TryView(
                Listed.of(standing.row()),
                out.played().state(),
                out.played().faults(),
                standing.answers(),
                standing.row().forReal(),
                new LanesView(
                        List.of(Lane.values()),
                        out.played().trail().stream()
                                .flatMap(entry -> Lanes.mark(entry, requester, describe).stream())
                                .toList()),
                open == null
                        ? null
                        : new OpenView(
                                open.sort().word(),
                                open.step(),
                                open.what(),
                                open.shown(),
                                open.schema(),
                                standing.notForReal(),
                                out.suggested() == null ? null : RehearsalText.cue(out.suggested())));
    }

    /** @param answer in the form of a rehearsal's answers; null when nobody answers, so that time passes */
    record Answer(@Nullable JsonNode answer) {}

    @PostMapping("/{id}/answers")
    TryView answer(Person person, @PathVariable String id, @RequestBody Answer body) {
        tries.answer(person, find(person, id), OutsideNode.given(body.answer()));
        return show(person, id);
    }

    /** Asks the tool or the model that is open for real. */
    @PostMapping("/{id}/for-real")
    TryView forReal(Person person, @PathVariable String id) throws InterruptedException {
        tries.askForReal(person, find(person, id));
        return show(person, id);
    }

    /** Takes the last answer back. */
    @PostMapping("/{id}/back")
    TryView back(Person person, @PathVariable String id) {
        tries.back(find(person, id));
        return show(person, id);
    }

    record Name(String name) {}

    record Kept(String path) {}

    /** Keeps it as a rehearsal of one's draft. */
    @PostMapping("/{id}/rehearsal")
    Kept keep(Person person, @PathVariable String id, @RequestBody Name body) {
        return new Kept(tries.keepAsRehearsal(person, find(person, id), String.valueOf(body.name())));
    }

    @DeleteMapping("/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void giveUp(Person person, @PathVariable String id) {
        Access.WRITE_HANDBOOKS.require(person);
        tries.giveUp(person, id);
    }
}
