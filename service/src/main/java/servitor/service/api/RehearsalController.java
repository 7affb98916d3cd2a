package servitor.service.api;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.explain.Drawing;
import servitor.core.explain.SvgDrawing;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Runbook;
import servitor.core.rehearsal.Coverage;
import servitor.core.rehearsal.Played;
import servitor.core.rehearsal.Rehearsals;
import servitor.core.rehearsal.Rehearsing;
import servitor.core.trail.Lane;
import servitor.service.api.Views.LanesView;
import servitor.service.cases.CaseStore;
import servitor.service.editions.Drafts;
import servitor.service.lookback.CaseRehearsals;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** The rehearsals of one's draft, played anew each time they are looked at; nothing of them is kept. And rehearsals made of cases. */
@RestController
class RehearsalController {
    private final Drafts drafts;
    private final CaseRehearsals caseRehearsals;
    private final CaseStore caseStore;
    private final ViewMapper describe;

    RehearsalController(Drafts drafts, CaseRehearsals caseRehearsals, CaseStore caseStore, ViewMapper describe) {
        this.drafts = drafts;
        this.caseRehearsals = caseRehearsals;
        this.caseStore = caseStore;
        this.describe = describe;
    }

    /**
     * What came of one.
     *
     * @param state the case was left in
     * @param differences what isn't as it must be; empty when all is
     */
    record Came(String name, String title, String kind, boolean passed, String state, List<String> differences) {
        static Came of(Played played) {
            Rehearsal rehearsal = played.rehearsal();
            return new Came(
                    rehearsal.name(),
                    rehearsal.title(),
                    rehearsal.about().kind(),
                    played.passed(),
                    played.state(),
                    played.differences());
        }
    }

    /** All of them, and what none of them touches. */
    record AllPlayed(List<Came> played, Coverage untouched) {}

    /** One of them, with everything that happened. */
    record OnePlayed(Came came, LanesView lanes) {}

    @GetMapping("/api/handbook/draft/rehearsals")
    AllPlayed all(Person person) {
        Access.WRITE_HANDBOOKS.require(person);
        Handbook handbook = drafts.edition(person.id()).handbook();
        List<Played> plays = Rehearsals.play(handbook);
        return new AllPlayed(plays.stream().map(Came::of).toList(), Coverage.of(handbook, plays));
    }

    /** A page as SVG. */
    record Drawn(String svg) {}

    /** A page of one's draft, drawn, with what no rehearsal touches set apart. */
    @GetMapping("/api/handbook/draft/pages/{name}/untouched")
    Drawn untouched(Person person, @PathVariable String name) {
        Access.WRITE_HANDBOOKS.require(person);
        Handbook handbook = drafts.edition(person.id()).handbook();
        Runbook page = Optional.ofNullable(handbook.runbooks().get(name)).orElseThrow(() -> new NotFound("page", name));
        Coverage coverage = Coverage.of(handbook, Rehearsals.play(handbook));
        return new Drawn(SvgDrawing.of(Drawing.of(handbook, page), coverage.marks(page)));
    }

    @GetMapping("/api/handbook/draft/rehearsals/{name}")
    OnePlayed one(Person person, @PathVariable String name) {
        Access.WRITE_HANDBOOKS.require(person);
        Edition edition = drafts.edition(person.id());
        Map<String, Rehearsal> all = edition.handbook().rehearsals();
        Rehearsal rehearsal = Optional.ofNullable(all.get(name)).orElseThrow(() -> new NotFound("rehearsal", name));
        Played played = Rehearsing.play(edition, rehearsal);
        String requester = rehearsal.about().requester().id();
        return new OnePlayed(
                Came.of(played),
                new LanesView(
                        List.of(Lane.values()),
                        played.trail().stream()
                                .flatMap(entry -> Lanes.mark(entry, requester, describe).stream())
                                .toList()));
    }

    /** A rehearsal made of a case, without what tells about people. */
    @GetMapping("/api/cases/{id}/rehearsal")
    CaseRehearsals.Made ofCase(Person person, @PathVariable String id) {
        Access.WRITE_HANDBOOKS.require(person);
        Access.SEE_LANES.require(person, caseStore.seenBy(person, id));
        return caseRehearsals.of(id).orElseThrow(() -> new NotFound("run of the case", id));
    }
}
