package servitor.service.api;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.core.approval.ApprovalRequest;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.json.Json;
import servitor.core.origin.Traced;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.core.trail.RecordedEntry;
import servitor.service.api.Views.Actor;
import servitor.service.api.Views.ApprovalSummary;
import servitor.service.api.Views.CaseSummary;
import servitor.service.api.Views.DocumentView;
import servitor.service.api.Views.Known;
import servitor.service.api.Views.NoteView;
import servitor.service.api.Views.RunView;
import servitor.service.approvals.Approvals;
import servitor.service.editions.Editions;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.ApprovalRow;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.DocumentRow;
import servitor.service.ledger.Rows.NoteRow;
import servitor.service.ledger.Rows.RunRow;
import servitor.service.ledger.Rows.WrongRow;
import servitor.service.people.People;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** Turns what the ledger holds into what the API tells. */
@Component
class Describe {
    private final Ledger ledger;
    private final Editions editions;
    private final People people;
    private final Approvals approvals;

    Describe(Ledger ledger, Editions editions, People people, Approvals approvals) {
        this.ledger = ledger;
        this.editions = editions;
        this.people = people;
        this.approvals = approvals;
    }

    Actor person(String id) {
        return new Actor(id, people.nameOf(id), "person");
    }

    /** An actor of the trail, such as {@code agent:purser}. */
    Actor actor(String actor) {
        int colon = actor.indexOf(':');
        String sort = colon < 0 ? "system" : actor.substring(0, colon);
        String id = actor.substring(colon + 1);
        return switch (sort) {
            case "person" -> person(id);
            case "agent" -> new Actor(id, agentTitle(id), "agent");
            default -> new Actor("system", "Servitor", "system");
        };
    }

    private String agentTitle(String agent) {
        return editions.current()
                .map(edition -> edition.handbook().agents().get(agent))
                .map(found -> found.title())
                .orElse(agent);
    }

    CaseSummary summary(CaseRow row) {
        String kindTitle = editions.current()
                .map(edition -> edition.handbook().kinds().get(row.kind()))
                .map(kind -> kind.title())
                .orElse(row.kind());
        return new CaseSummary(
                row.id(),
                row.subject(),
                row.kind(),
                kindTitle,
                row.desk(),
                person(row.requester()),
                row.proof(),
                row.state(),
                row.waitingFor(),
                row.priority(),
                row.created(),
                row.updated());
    }

    List<String> labels(CaseRow row) {
        return List.of(Json.read(row.labels(), String[].class));
    }

    Map<String, JsonNode> fields(CaseRow row) {
        Map<String, JsonNode> fields = new LinkedHashMap<>();
        Json.read(row.fields(), JsonNode.class).properties().forEach(e -> fields.put(e.getKey(), e.getValue()));
        return fields;
    }

    NoteView note(NoteRow row) {
        return new NoteView(row.id(), row.at(), actor(row.author()), row.audience(), row.written(), row.text());
    }

    RunView run(RunRow row) {
        RunState state = Json.read(row.state(), RunState.class);
        Runbook page = page(row);
        return new RunView(
                row.id(),
                row.caseId(),
                row.page(),
                page.title(),
                agentTitle(page.agent()),
                row.edition(),
                row.status(),
                row.step(),
                stepTitle(page, row.step()),
                state.waitingFor(),
                state.problem() == null ? null : Json.of(state.problem()),
                state.calls(),
                state.tokens(),
                known(state),
                doubt(state),
                state.isPaused() ? state.standing().paused() : null,
                ledger.wentWrongIn(row.id()).stream()
                        .map(wrong -> wrong(page, wrong))
                        .toList(),
                row.created(),
                row.updated());
    }

    private static Views.WrongView wrong(Runbook page, WrongRow row) {
        return new Views.WrongView(
                row.id(), row.what(), stepTitle(page, row.step()), row.problem(), row.detail(), row.at());
    }

    /** The call nobody knows the outcome of; null when nothing is in doubt. */
    private static @Nullable JsonNode doubt(RunState state) {
        if (state.status() != RunStatus.IN_DOUBT
                || state.pending() == null
                || state.pending().call() == null) {
            return null;
        }
        return Json.object()
                .put("tool", state.pending().call().tool())
                .put("key", state.pending().id())
                .set("inputs", state.pending().call().args());
    }

    Runbook page(RunRow row) {
        Edition edition = editions.get(row.edition());
        return edition.handbook().runbooks().get(row.page());
    }

    static String stepTitle(Runbook page, String step) {
        return page.step(step).map(Step::title).orElse(step);
    }

    static List<Known> known(RunState state) {
        Map<String, Traced> all = new LinkedHashMap<>();
        state.takes()
                .value()
                .propertyNames()
                .forEach(name -> all.put("takes." + name, state.takes().at(List.of(name))));
        all.putAll(state.saved());
        return all.entrySet().stream()
                .map(saved -> new Known(
                        saved.getKey(),
                        saved.getValue().value(),
                        Traced.words(saved.getValue().originsAt("")),
                        saved.getValue().written()))
                .toList();
    }

    ApprovalSummary approval(Person person, ApprovalRow row) {
        ApprovalRequest request = Approvals.request(row);
        CaseRow about = ledger.findCase(row.caseId()).orElseThrow();
        boolean asked = row.state().equals("open") && approvals.isAsked(person, row);
        return new ApprovalSummary(
                row.id(),
                request.question(),
                about(request.sheet()),
                about.id(),
                about.subject(),
                about.desk(),
                person(about.requester()),
                request.of(),
                row.opened(),
                row.due(),
                row.state(),
                asked,
                request.quorum().words(),
                request.rounds());
    }

    /** What an approval is about, in a word. */
    private static String about(JsonNode sheet) {
        return sheet.has("call") ? "call" : sheet.has("form") ? "form" : sheet.has("plan") ? "plan" : "text";
    }

    DocumentView document(DocumentRow row) {
        return new DocumentView(row.id(), row.at(), actor(row.author()), row.name(), row.type(), row.size());
    }

    /** The model's own reason for the newest text it wrote in a run. */
    Optional<Views.Written> written(RunRow run) {
        return ledger.trailOf(run.caseId(), 0, 5_000).stream()
                .filter(entry -> entry.entry().runId().equals(run.id())
                        && entry.entry().what().equals("drafted")
                        && entry.data() != null)
                .reduce((first, last) -> last)
                .map(RecordedEntry::data)
                .map(data -> new Views.Written(
                        data.path("model").asString(""),
                        data.path("reason").asString(""),
                        data.path("sure").asDouble(0)));
    }
}
