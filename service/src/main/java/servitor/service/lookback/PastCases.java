package servitor.service.lookback;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.core.document.ReadDocument;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.handbook.Rehearsal.Paper;
import servitor.core.handbook.Rehearsal.Requester;
import servitor.core.json.Json;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.run.RunStatus;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import servitor.service.cases.CaseFilter;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.DocumentRow;
import servitor.service.cases.Documents;
import servitor.service.editions.Editions;
import servitor.service.ledger.TrailStore;
import servitor.service.people.Person;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunStore;
import tools.jackson.databind.JsonNode;

/** Past cases as they were opened, with everything that happened in them. */
@Component
class PastCases {
    private static final int PAGE = 200;
    private static final int MOST_ENTRIES = 2_000;
    private static final String USUAL_PRIORITY = "normal";

    private final CaseStore caseStore;
    private final RunStore runStore;
    private final TrailStore trailStore;
    private final PersonStore personStore;
    private final Documents documents;
    private final Editions editions;

    PastCases(
            CaseStore caseStore,
            RunStore runStore,
            TrailStore trailStore,
            PersonStore personStore,
            Documents documents,
            Editions editions) {
        this.caseStore = caseStore;
        this.runStore = runStore;
        this.trailStore = trailStore;
        this.personStore = personStore;
        this.documents = documents;
        this.editions = editions;
    }

    /** The ids of cases that somebody sees as staff and that were opened since, the oldest first. */
    List<String> since(Person person, Instant since, @Nullable String page, int most) {
        List<String> found = new ArrayList<>();
        CaseFilter filter = new CaseFilter(
                null, null, null, null, page == null ? null : java.util.Set.of(page), null, null, null, since, null);
        long below = Long.MAX_VALUE;
        List<CaseRow> rows = caseStore.list(person.id(), person.staffDesks(), filter, below, PAGE);
        while (!rows.isEmpty() && found.size() < most) {
            rows.stream()
                    .filter(row -> person.staffDesks().contains(row.desk()))
                    .forEach(row -> found.add(row.id()));
            below = rows.get(rows.size() - 1).number();
            rows = caseStore.list(person.id(), person.staffDesks(), filter, below, PAGE);
        }
        Collections.reverse(found);
        return found;
    }

    /**
     * Why a case can't be decided again, or the case.
     *
     * @param why in words; empty when it can
     * @param page the page it began with
     * @param edition that it was on
     */
    record Found(
            String why,
            String subject,
            String page,
            int edition,
            @Nullable Past past) {}

    Optional<Found> find(String id) {
        CaseRow row = caseStore.find(id).orElse(null);
        List<RunRow> runs = row == null ? List.of() : runStore.ofCase(id);
        Optional<RunRow> first = runs.stream()
                .filter(run -> run.parent().isEmpty())
                .min((one, other) -> one.created().compareTo(other.created()));
        if (row == null || first.isEmpty()) {
            return Optional.empty();
        }
        String page = first.get().page();
        int edition = first.get().edition();
        if (!runs.stream().allMatch(run -> RunStatus.of(run.status()).ended())) {
            return Optional.of(new Found("it isn't done yet", row.subject(), page, edition, null));
        }
        List<RecordedEntry> trail = trailStore.ofCase(id, 0, MOST_ENTRIES);
        if (trail.isEmpty()
                || !trail.get(0).entry().what().equals(TrailWord.CASE_OPENED.word())
                || trail.stream().anyMatch(entry -> entry.data() == null)) {
            return Optional.of(new Found("a part of it was erased", row.subject(), page, edition, null));
        }
        if (trail.size() >= MOST_ENTRIES) {
            return Optional.of(new Found("it has too many entries", row.subject(), page, edition, null));
        }
        Map<String, Paper> papers = new HashMap<>();
        List<Paper> atFirst = new ArrayList<>();
        for (DocumentRow document : caseStore.documents(id)) {
            Paper paper = paper(caseStore.document(document.id()).orElse(document));
            papers.put(document.name(), paper);
            if (!document.at().isAfter(first.get().created())) {
                atFirst.add(paper);
            }
        }
        Past past = new Past(
                id,
                about(row, trail.get(0), atFirst),
                editions.get(edition).handbook(),
                trail,
                row.state(),
                papers::get,
                digest -> trailStore.material(digest).orElse(null));
        return Optional.of(new Found("", row.subject(), page, edition, past));
    }

    private Paper paper(DocumentRow row) {
        ReadDocument read = documents.reading(row);
        return new Paper(
                row.name(),
                row.type(),
                read.outcome(),
                read.pages().stream().map(ReadDocument.Page::text).toList(),
                read.tables());
    }

    /** The case as it was opened; what isn't kept of that is as it is now. */
    private About about(CaseRow row, RecordedEntry opened, List<Paper> papers) {
        JsonNode data = Objects.requireNonNull(opened.data());
        PersonRow person = personStore.find(row.requester()).orElse(null);
        return new About(
                row.kind(),
                null,
                data.path("subject").asString(row.subject()),
                data.path("text").asString(row.text()),
                row.language(),
                row.channel(),
                USUAL_PRIORITY,
                data.path("fields").isObject() ? data.get("fields") : Json.object(),
                List.of(),
                new Requester(
                        row.requester(),
                        person == null ? row.requester() : person.name(),
                        person == null ? "" : person.account(),
                        person == null ? "" : person.manager(),
                        personStore.groupsOf(row.requester()),
                        data.path("proof").asString(row.proof())),
                papers,
                opened.entry().at());
    }
}
