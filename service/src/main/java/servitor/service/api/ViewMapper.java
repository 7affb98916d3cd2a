package servitor.service.api;

import java.math.BigDecimal;
import java.time.Clock;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.Evidence;
import servitor.core.engine.Stop;
import servitor.core.engine.Work;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Quorum;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Telling;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.CallWords;
import servitor.core.mandate.ProposedCall;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.api.Views.Actor;
import servitor.service.api.Views.ApprovalSummary;
import servitor.service.api.Views.CaseSummary;
import servitor.service.api.Views.DocumentView;
import servitor.service.api.Views.ModelUse;
import servitor.service.api.Views.NoteView;
import servitor.service.api.Views.RelationView;
import servitor.service.api.Views.RepeatView;
import servitor.service.api.Views.RunView;
import servitor.service.approvals.ApprovalRow;
import servitor.service.approvals.Approvals;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.DocumentRow;
import servitor.service.cases.NoteRow;
import servitor.service.cases.RelationRow;
import servitor.service.editions.Editions;
import servitor.service.intake.RepeatRow;
import servitor.service.ledger.TrailStore;
import servitor.service.people.People;
import servitor.service.people.Person;
import servitor.service.runs.CommandRow;
import servitor.service.runs.RowConversion;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunStore;
import servitor.service.runs.Stops;
import servitor.service.runs.TroubleRow;
import servitor.service.runs.TroubleStore;
import servitor.service.runs.WorkStore;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Turns what the ledger holds into what the API tells. */
@Component
class ViewMapper {
    private static final Pattern PERSON = Pattern.compile("person:([a-z0-9][a-z0-9._-]{0,59})");
    /** Words before the groups and desks that are asked. */
    private static final Pattern ASKED =
            Pattern.compile("(an answer of |Asked |Reminded |Handed over to )([a-z0-9 ,-]+)");

    private static final Pattern NAME = Pattern.compile("[a-z0-9][a-z0-9-]*");

    private final TroubleStore troubleStore;
    private final WorkStore workStore;
    private final CaseStore caseStore;
    private final RunStore runStore;
    private final TrailStore trailStore;
    private final Editions editions;
    private final People people;
    private final Stops stops;

    private final Clock clock;

    ViewMapper(
            TroubleStore troubleStore,
            WorkStore workStore,
            CaseStore caseStore,
            RunStore runStore,
            TrailStore trailStore,
            Editions editions,
            People people,
            Stops stops,
            Clock clock) {
        this.clock = clock;
        this.stops = stops;
        this.troubleStore = troubleStore;
        this.workStore = workStore;
        this.caseStore = caseStore;
        this.runStore = runStore;
        this.trailStore = trailStore;
        this.editions = editions;
        this.people = people;
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
            case "outside" -> new Actor(id, intakeTitle(id), "outside");
            case "stranger" -> new Actor(id, id, "stranger");
            default -> new Actor("system", "Servitor", "system");
        };
    }

    RepeatView repeat(RepeatRow row) {
        return new RepeatView(actor(TrailEvent.outside(row.intake())), row.times(), row.since(), row.latest());
    }

    private String intakeTitle(String intake) {
        return editions.current()
                .map(edition -> edition.handbook().intake().get(intake))
                .map(found -> found.title())
                .orElse(intake);
    }

    private String agentTitle(String agent) {
        return editions.current()
                .map(edition -> edition.handbook().agents().get(agent))
                .map(found -> found.title())
                .orElse(agent);
    }

    /** Words that may name people by their ids, with their names instead. */
    String named(String words) {
        String named =
                PERSON.matcher(words).replaceAll(found -> Matcher.quoteReplacement(people.nameOf(found.group(1))));
        Matcher asked = ASKED.matcher(named);
        return asked.matches()
                ? asked.group(1)
                        + NAME.matcher(asked.group(2))
                                .replaceAll(found -> Matcher.quoteReplacement(whom(found.group())))
                : named;
    }

    /** What a case waits for, in words for whoever looks: its requester is told no more than concerns them. */
    private @Nullable String waitingFor(Person viewer, CaseRow row) {
        if (row.waitingFor() == null) {
            return null;
        } else if (viewer.seesAsStaff(row)) {
            return named(row.waitingFor());
        } else if (row.waitingFor().startsWith("a reply of the requester")) {
            return "your answer";
        } else if (row.waitingFor().startsWith("a document")) {
            return "a document from you";
        }
        return "us: we are seeing to it";
    }

    /** A kind of case, as people call it. */
    String kind(String name) {
        return editions.current()
                .map(edition -> edition.handbook().kinds().get(name))
                .map(kind -> kind.title())
                .orElse(name);
    }

    CaseSummary summary(Person viewer, CaseRow row) {
        return new CaseSummary(
                row.id(),
                row.subject(),
                viewer.seesAsStaff(row) && !row.title().isEmpty() ? row.title() : null,
                row.kind(),
                kind(row.kind()),
                row.desk(),
                person(row.requester()),
                row.proof(),
                row.channel(),
                row.state(),
                waitingFor(viewer, row),
                row.priority(),
                viewer.seesAsStaff(row) ? row.due() : null,
                viewer.seesAsStaff(row) && row.isLate(clock.instant()),
                viewer.seesAsStaff(row) ? owner(row.owner()) : null,
                row.created(),
                row.updated());
    }

    private @Nullable Actor owner(String owner) {
        if (owner.isEmpty()) {
            return null;
        }
        Handbook handbook = newest();
        return owner.startsWith(Telling.PERSON)
                ? person(owner.substring(Telling.PERSON.length()))
                : new Actor(owner, handbook == null ? owner : handbook.called(owner), "group");
    }

    /** What models used in runs; tokens of followed pages are those of the runs that follow them, too. */
    ModelUse modelUse(List<RunView> runs) {
        Handbook handbook = newest();
        int tokens = runs.stream()
                .filter(run -> run.parent() == null)
                .mapToInt(RunView::tokens)
                .sum();
        BigDecimal cost = runs.stream()
                .map(RunView::cost)
                .filter(Objects::nonNull)
                .reduce(BigDecimal::add)
                .orElse(null);
        return new ModelUse(
                tokens, cost, handbook == null ? "" : handbook.house().currency());
    }

    /** What a case has to do with others, as {@code viewer} may know it. */
    List<RelationView> relations(Person viewer, CaseRow row) {
        List<RelationRow> relations = caseStore.relations(row.id());
        Map<String, CaseRow> others =
                caseStore.all(relations.stream().map(RelationRow::other).collect(Collectors.toSet()));
        return relations.stream()
                .map(one -> relation(viewer, row, one, others.get(one.other())))
                .toList();
    }

    /** Only who sees the other case knows what it is about; that it is there at all is known where one was opened for the other. */
    private static RelationView relation(Person viewer, CaseRow row, RelationRow one, @Nullable CaseRow other) {
        if (other == null || !viewer.sees(other) && !belong(row, other)) {
            return new RelationView(one.what(), one.other(), null, null, null);
        }
        String subject = viewer.sees(other) ? other.subject() : null;
        return new RelationView(one.what(), one.other(), subject, other.desk(), other.state());
    }

    private static boolean belong(CaseRow row, CaseRow other) {
        return row.id().equals(other.openedFor()) || other.id().equals(row.openedFor());
    }

    List<String> labels(CaseRow row) {
        return List.of(Json.read(row.labels(), String[].class));
    }

    Map<String, JsonNode> fields(CaseRow row) {
        return fields(Json.read(row.fields(), JsonNode.class));
    }

    static Map<String, JsonNode> fields(JsonNode object) {
        Map<String, JsonNode> fields = new LinkedHashMap<>();
        object.properties().forEach(e -> fields.put(e.getKey(), e.getValue()));
        return fields;
    }

    /** The handbook that a run is pinned to. */
    Handbook handbook(RunRow run) {
        return editions.get(run.edition()).handbook();
    }

    NoteView note(NoteRow row) {
        return new NoteView(
                row.id(),
                row.at(),
                actor(row.author()),
                row.audience(),
                row.written(),
                row.text(),
                row.channel(),
                row.told().isEmpty() ? null : whom(row.told()),
                row.proof().isEmpty() ? null : row.proof(),
                row.mail().isEmpty() ? null : row.mail());
    }

    RunController.RunSummary runSummary(RunRow row) {
        Runbook page = page(row);
        return new RunController.RunSummary(
                row.id(),
                row.caseId(),
                row.page(),
                page.title(),
                agentTitle(page.agent()),
                row.edition(),
                row.status(),
                stepTitle(page, row.step()),
                row.created(),
                row.updated());
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
                waitingFor(state),
                state.problem() == null ? null : Json.of(state.problem()),
                state.calls(),
                state.tokens(),
                state.used().cost(),
                row.parent().isEmpty() ? null : row.parent(),
                row.parent().isEmpty() ? null : state.takes().value(),
                Evidence.known(state),
                doubt(state),
                held(editions.get(row.edition()).handbook(), state),
                state.isPaused() ? state.standing().paused() : null,
                troubleStore.openOf(row.id()).stream()
                        .map(trouble -> trouble(page, trouble))
                        .toList(),
                row.created(),
                row.updated());
    }

    private static Views.TroubleView trouble(Runbook page, TroubleRow row) {
        return new Views.TroubleView(
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

    /** The call that is held in shadow, with what it may give; null when none is. */
    private static @Nullable JsonNode held(Handbook handbook, RunState state) {
        if (state.status() != RunStatus.HELD || state.pending() == null) {
            return null;
        }
        ProposedCall call = state.pending().callOf();
        Tool tool = handbook.tool(call.tool());
        ObjectNode held = Json.object()
                .put("tool", call.tool())
                .put("says", CallWords.of(tool, call, handbook.house().currency()));
        held.set("inputs", call.args());
        return held.set("answers", tool.answers());
    }

    /** The newest handbook; null before there is one. */
    @Nullable
    Handbook newest() {
        return editions.current().map(Edition::handbook).orElse(null);
    }

    Runbook page(RunRow row) {
        Edition edition = editions.get(row.edition());
        return edition.handbook().page(row.page());
    }

    static String stepTitle(Runbook page, String step) {
        return page.step(step).map(Step::title).orElse(step);
    }

    /** What a run waits for: what it says itself, a stop that holds it back, or the answer it has asked for. */
    private @Nullable String waitingFor(RunState state) {
        RunState.Pending pending = state.pending();
        if (pending == null || state.isPaused()) {
            return state.waitingFor() == null ? null : named(state.waitingFor());
        }
        Optional<CommandRow> work = workStore.row(pending.id());
        if (work.filter(row -> row.state().equals(Work.Stage.STOPPED.word())).isPresent()) {
            return stops.all().stream()
                    .filter(stop -> work.map(RowConversion::work)
                            .filter(held -> stops.holdsBy(stop, held, state))
                            .isPresent())
                    .map(Stop::words)
                    .findFirst()
                    .orElse("what was stopped to be let go on");
        } else if (state.waitingFor() != null) {
            return named(state.waitingFor());
        }
        String what = switch (pending.kind()) {
            case MODEL -> "an answer of the model";
            case TOOL ->
                "an answer of "
                        + (pending.call() == null ? "a tool" : pending.call().tool());
            default -> null;
        };
        int tries = work.map(CommandRow::attempts).orElse(0);
        return what == null || tries < 2 ? what : what + " (tried " + tries + " times)";
    }

    ApprovalSummary approval(Person person, ApprovalRow row) {
        ApprovalRequest request = Approvals.request(row);
        CaseRow about = caseStore.find(row.caseId()).orElseThrow();
        boolean asked = ApprovalState.OPEN.word().equals(row.state())
                && request.of().stream().anyMatch(person.answersFor()::contains)
                && !person.asked(about);
        return new ApprovalSummary(
                row.id(),
                request.headline(),
                request.question(),
                about(request.sheet()),
                request.sheet().path("call").path("tool").asString(null),
                about.id(),
                about.subject(),
                about.desk(),
                person(about.requester()),
                request.of(),
                row.opened(),
                row.due(),
                row.state(),
                asked,
                quorum(request),
                request.rounds(),
                request.of().stream().sorted().map(this::whom).toList(),
                row.held() ? paused(row) : null,
                row.handedTo() == null ? null : person(row.handedTo()));
    }

    /** How many have to approve, in words that stand before the names; none before one person. */
    private static String quorum(ApprovalRequest request) {
        if (request.of().size() > 1) {
            return request.quorum().words();
        }
        boolean person = request.of().stream().allMatch(name -> name.startsWith("person:"));
        boolean each = request.quorum().rule() == Quorum.Rule.ALL;
        return person ? "" : (each ? Quorum.ANY : request.quorum()).words();
    }

    /** Somebody who is asked, as people call them: a person by name, a group or desk by its title. */
    String whom(String name) {
        if (name.startsWith("person:")) {
            return named(name);
        }
        return editions.current()
                .map(edition -> edition.handbook().called(name))
                .orElse(name);
    }

    /** Why its time stands still. */
    private String paused(ApprovalRow row) {
        return runStore.find(row.runId())
                .map(run -> Json.read(run.state(), RunState.class))
                .filter(RunState::isPaused)
                .map(run -> String.valueOf(run.standing().paused()))
                .orElse("");
    }

    /** What an approval is about, in a word. */
    private static String about(JsonNode sheet) {
        return sheet.has("call") ? "call" : sheet.has("form") ? "form" : sheet.has("plan") ? "plan" : "text";
    }

    DocumentView document(DocumentRow row) {
        return new DocumentView(
                row.id(),
                row.at(),
                actor(row.author()),
                row.name(),
                row.type(),
                row.size(),
                row.outcome(),
                row.pages());
    }

    /** The model's own reason for the newest text it had written in a run by then. */
    Optional<Views.Written> written(RunRow run, Instant before) {
        return trailStore.ofCase(run.caseId(), 0, 5_000).stream()
                .filter(entry -> entry.entry().runId().equals(run.id())
                        && entry.entry().what().equals(TrailWord.DRAFTED.word())
                        && !entry.entry().at().isAfter(before)
                        && entry.data() != null)
                .reduce((first, last) -> last)
                .map(RecordedEntry::data)
                .map(data -> new Views.Written(
                        data.path("model").asString(""),
                        data.path("reason").asString(""),
                        data.path("sure").asDouble(0)));
    }
}
