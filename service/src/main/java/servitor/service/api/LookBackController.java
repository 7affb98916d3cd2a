package servitor.service.api;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.rehearsal.LookBack;
import servitor.core.trail.Lane;
import servitor.core.trail.RecordedEntry;
import servitor.service.api.Views.LanesView;
import servitor.service.cases.CaseStore;
import servitor.service.editions.Drafts;
import servitor.service.editions.EditionStore;
import servitor.service.editions.Editions;
import servitor.service.lookback.LookBacks;
import servitor.service.lookback.LookBacks.Progress;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** Deciding past cases again by another edition. It only reads. */
@RestController
@RequestMapping("/api/handbook/look-back")
class LookBackController {
    private static final int MOST_DAYS = 3_660;
    private static final int USUAL_DAYS = 30;
    private static final int MOST_ASKS = 1_000;

    private final LookBacks lookBacks;
    private final Drafts drafts;
    private final Editions editions;
    private final EditionStore editionStore;
    private final CaseStore caseStore;
    private final ViewMapper describe;

    LookBackController(
            LookBacks lookBacks,
            Drafts drafts,
            Editions editions,
            EditionStore editionStore,
            CaseStore caseStore,
            ViewMapper describe) {
        this.lookBacks = lookBacks;
        this.drafts = drafts;
        this.editions = editions;
        this.editionStore = editionStore;
        this.caseStore = caseStore;
        this.describe = describe;
    }

    /**
     * By what, and at what.
     *
     * @param edition a published one; without it and without files, one's own draft
     * @param files of a handbook
     * @param days how far back
     * @param page only cases on which this page worked
     * @param askModels how often a model may be asked again where it would be told something else; null for never
     */
    record Wanted(
            @Nullable Integer edition,
            @Nullable Map<String, String> files,
            @Nullable Integer days,
            @Nullable String page,
            @Nullable Integer askModels) {}

    @PostMapping
    ResponseEntity<Progress> begin(Person person, @RequestBody Wanted body) {
        Access.WRITE_HANDBOOKS.require(person);
        int days = body.days() == null ? USUAL_DAYS : body.days();
        if (days < 1 || days > MOST_DAYS) {
            throw new IllegalArgumentException("‘days’ are 1 to " + MOST_DAYS + ".");
        }
        int asks = body.askModels() == null ? 0 : body.askModels();
        if (asks < 0 || asks > MOST_ASKS) {
            throw new IllegalArgumentException("‘askModels’ is 1 to " + MOST_ASKS + ".");
        }
        String page = body.page() == null || body.page().isBlank() ? null : body.page();
        return Made.at(
                "/api/handbook/look-back",
                true,
                lookBacks.begin(person, nameOf(body), editionOf(person, body), Duration.ofDays(days), page, asks));
    }

    private static String nameOf(Wanted body) {
        return body.edition() != null ? "edition " + body.edition() : body.files() != null ? "a folder" : "your draft";
    }

    private Edition editionOf(Person person, Wanted body) {
        if (body.edition() != null) {
            int number = body.edition();
            if (editionStore.find(number).isEmpty()) {
                throw new NotFound("edition", String.valueOf(number));
            }
            return editions.get(number);
        }
        if (body.files() == null) {
            return drafts.edition(person.id());
        }
        CheckedHandbook checked = CheckedHandbook.of(body.files());
        if (!checked.sound()) {
            throw new IllegalArgumentException("The handbook has errors; ‘handbook check’ names them.");
        }
        return new Edition(1, checked.handbook());
    }

    @GetMapping
    Progress show(Person person) {
        Access.WRITE_HANDBOOKS.require(person);
        return lookBacks.progress(person).orElseThrow(() -> new NotFound("look back", person.id()));
    }

    @PostMapping("/stop")
    Progress stop(Person person) {
        Access.WRITE_HANDBOOKS.require(person);
        lookBacks.stop(person);
        return show(person);
    }

    @PostMapping("/resume")
    Progress resume(Person person) {
        Access.WRITE_HANDBOOKS.require(person);
        lookBacks.resume(person);
        return show(person);
    }

    /** What was and what would be, side by side; {@code step} is the first where they part, empty when they don't. */
    record Beside(String caseId, String step, LanesView before, LanesView after) {}

    @GetMapping("/cases/{id}")
    Beside beside(Person person, @PathVariable String id) {
        Access.WRITE_HANDBOOKS.require(person);
        Access.SEE_LANES.require(person, caseStore.seenBy(person, id));
        LookBacks.Beside beside = lookBacks.beside(person, id).orElseThrow(() -> new NotFound("case", id));
        String requester = beside.past().about().requester().id();
        String step = beside.made() instanceof LookBack.Other other
                ? other.step()
                : beside.made() instanceof LookBack.NotKnowable not ? not.step() : "";
        return new Beside(
                id,
                step,
                lanes(beside.past().trail(), requester),
                lanes(beside.made().played().trail(), requester));
    }

    private LanesView lanes(List<RecordedEntry> trail, String requester) {
        return new LanesView(
                List.of(Lane.values()),
                trail.stream()
                        .flatMap(entry -> Lanes.mark(entry, requester, describe).stream())
                        .toList());
    }
}
