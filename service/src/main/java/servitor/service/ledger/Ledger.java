package servitor.service.ledger;

import java.time.Instant;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.core.engine.Evidence;
import servitor.core.engine.Stop;
import servitor.core.engine.Work;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.service.ledger.Rows.AnswerRow;
import servitor.service.ledger.Rows.ApprovalRow;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.CommandRow;
import servitor.service.ledger.Rows.ConnectionRow;
import servitor.service.ledger.Rows.ConsentRow;
import servitor.service.ledger.Rows.DocumentRow;
import servitor.service.ledger.Rows.DraftRow;
import servitor.service.ledger.Rows.EditionRow;
import servitor.service.ledger.Rows.FileRow;
import servitor.service.ledger.Rows.MaterialRow;
import servitor.service.ledger.Rows.NoteRow;
import servitor.service.ledger.Rows.PersonRow;
import servitor.service.ledger.Rows.RelationRow;
import servitor.service.ledger.Rows.RequestKeyRow;
import servitor.service.ledger.Rows.RunRow;
import servitor.service.ledger.Rows.TokenRow;
import servitor.service.ledger.Rows.TrailRow;
import servitor.service.ledger.Rows.WrongRow;
import tools.jackson.databind.JsonNode;

/** Reads the database. Whoever wants to change something goes to the {@link Writer}. */
@Component
public class Ledger {
    private static final Logger LOG = LoggerFactory.getLogger(Ledger.class);

    final PersonMapper people;
    final ConnectionMapper connections;
    final EditionMapper editions;
    final CaseMapper cases;
    final RunMapper runs;
    final ApprovalMapper approvals;
    final TrailMapper trail;
    final WrongMapper wrong;
    final CounterMapper counters;
    final StopMapper stops;

    Ledger(
            PersonMapper people,
            ConnectionMapper connections,
            EditionMapper editions,
            CaseMapper cases,
            RunMapper runs,
            ApprovalMapper approvals,
            TrailMapper trail,
            WrongMapper wrong,
            CounterMapper counters,
            StopMapper stops) {
        this.people = people;
        this.connections = connections;
        this.editions = editions;
        this.cases = cases;
        this.runs = runs;
        this.approvals = approvals;
        this.trail = trail;
        this.wrong = wrong;
        this.counters = counters;
        this.stops = stops;
    }

    public Optional<PersonRow> person(String id) {
        return Optional.ofNullable(people.find(id));
    }

    /** Whoever has this id, address or account. */
    public List<PersonRow> peopleCalled(String name) {
        return people.called(name);
    }

    public List<PersonRow> people() {
        return people.all();
    }

    public Set<String> desksOf(String person) {
        return new HashSet<>(people.desks(person));
    }

    public Set<String> groupsOf(String person) {
        return new HashSet<>(people.groups(person));
    }

    /** The emergency stops that stand, the oldest first. */
    public List<Stop> stops() {
        return stops.all().stream().map(RowConversion::stop).toList();
    }

    /** The runs that have work which a stop holds back. */
    public Set<String> stoppedRuns() {
        return runs.commandsIn(Work.Stage.STOPPED.word(), "").stream()
                .map(CommandRow::runId)
                .collect(java.util.stream.Collectors.toSet());
    }

    public List<TokenRow> tokensOf(String person) {
        return people.tokensOf(person);
    }

    /** Who has agreed to publishing files of this digest, by desk. */
    public List<ConsentRow> consents(String digest) {
        return editions.consents(digest);
    }

    /** When the requester's case that is {@code back} places before the newest was opened. */
    public Optional<Instant> openedBack(String requester, int back) {
        return Optional.ofNullable(cases.opened(requester, back));
    }

    /** What was shown beside an approval when people were asked; empty for those of earlier versions. */
    public Optional<Evidence> evidence(String approval) {
        return Optional.ofNullable(approvals.evidence(approval)).map(text -> Json.read(text, Evidence.class));
    }

    public Optional<CommandRow> command(String id) {
        return Optional.ofNullable(runs.findCommand(id));
    }

    /** The time of the newest entry; empty when there is none. */
    public Optional<Instant> newestEntry() {
        return Optional.ofNullable(trail.newestTime());
    }

    public Optional<TokenRow> token(String hash) {
        return Optional.ofNullable(people.token(hash));
    }

    /** What calls that nobody was asked about have added to a counter. */
    public java.math.BigDecimal alone(String counter) {
        java.math.BigDecimal used = counters.alone(counter);
        return used == null ? java.math.BigDecimal.ZERO : used;
    }

    public Optional<ConnectionRow> connection(String name) {
        return Optional.ofNullable(connections.find(name));
    }

    public List<ConnectionRow> connections() {
        return connections.all();
    }

    public Optional<EditionRow> newestEdition() {
        return Optional.ofNullable(editions.newest());
    }

    public Optional<EditionRow> edition(int number) {
        return Optional.ofNullable(editions.find(number));
    }

    public List<EditionRow> editions() {
        return editions.all();
    }

    public List<FileRow> files(int edition) {
        return editions.files(edition);
    }

    /** What a person has changed and not published. */
    public List<DraftRow> draft(String person) {
        return editions.draft(person);
    }

    /** Which files others have changed and not published; without the texts. */
    public List<DraftRow> draftsOfOthers(String person) {
        return editions.draftsOfOthers(person);
    }

    public List<DocumentRow> documents(String caseId) {
        return cases.documents(caseId);
    }

    public Optional<DocumentRow> document(String id) {
        return Optional.ofNullable(cases.document(id));
    }

    public List<RelationRow> relations(String caseId) {
        return cases.relations(caseId);
    }

    public List<ApprovalRow> approvalsToRemind(Instant now, int limit) {
        return approvals.toRemind(now, limit);
    }

    /** How many people belong to any of {@code groups}, as members of a group or a desk, or by name. */
    public int eligible(Set<String> groups) {
        return groups.isEmpty() ? 0 : people.countIn(groups);
    }

    public Optional<CaseRow> findCase(String id) {
        return Optional.ofNullable(cases.find(id));
    }

    /** What a list of cases is narrowed to; null leaves a part open. */
    public record CaseFilter(
            @Nullable String state,
            @Nullable String kind,
            @Nullable String desk,
            @Nullable String words) {}

    /** Cases of the desks or of the requester, newest first, numbered below {@code below}. */
    public List<CaseRow> cases(String requester, Collection<String> desks, CaseFilter filter, long below, int limit) {
        String words = filter.words() == null
                ? null
                : "%"
                        + filter.words()
                                .toLowerCase(java.util.Locale.ROOT)
                                .replace("!", "!!")
                                .replace("%", "!%")
                                .replace("_", "!_")
                        + "%";
        return cases.list(requester, desks, filter.state(), filter.kind(), filter.desk(), words, below, limit);
    }

    public List<NoteRow> notes(String caseId) {
        return cases.notes(caseId);
    }

    public boolean hasNote(String id) {
        return cases.countNotes(id) > 0;
    }

    public Optional<RequestKeyRow> requestKey(String person, String key) {
        return Optional.ofNullable(cases.requestKey(person, key));
    }

    public Optional<RunRow> run(String id) {
        return Optional.ofNullable(runs.find(id));
    }

    /** The edition that a run is pinned to. */
    public int editionOf(String run) {
        return runs.editionOf(run);
    }

    public List<RunRow> runsOf(String caseId) {
        return runs.ofCase(caseId);
    }

    /** Runs that wait for somebody to say whether a call happened, the longest first. */
    public List<RunRow> runsInDoubt(int limit) {
        return runs.inDoubt(limit);
    }

    /** Runs that ended before {@code before} and are still kept whole, the oldest first. */
    public List<RunRow> runsToMoveOut(Instant before, int limit) {
        return runs.toMoveOut(before, limit);
    }

    /** Long texts that were kept before {@code before}, the oldest first. */
    public List<MaterialRow> materialToMoveOut(Instant before, int limit) {
        return trail.materialBefore(before, limit);
    }

    public List<CommandRow> commandsOf(String run) {
        return runs.commandsOf(run);
    }

    public List<ApprovalRow> approvalsOfRun(String run) {
        return approvals.ofRun(run);
    }

    /** Trouble that nobody has seen to, the oldest first. */
    public List<WrongRow> wentWrong(int limit) {
        return wrong.allOpen(limit);
    }

    public List<WrongRow> wentWrongIn(String run) {
        return wrong.openOf(run);
    }

    public Optional<WrongRow> wentWrongAs(String id) {
        return Optional.ofNullable(wrong.open(id));
    }

    public List<RunRow> activeRuns(int limit) {
        return runs.active(limit);
    }

    /** The connections that pending work goes out by; the empty one, of work that needs none, is always among them. */
    public List<String> connectionsWaitedFor() {
        return Stream.iterate("", Objects::nonNull, runs::connectionAfter).toList();
    }

    /** Work that goes out by {@code connection}, or by none when that is empty, and waits no longer; what came first, first. */
    public List<Work> dueWork(String connection, Instant now, int limit) {
        return runs.dueCommands(connection, now, limit).stream()
                .flatMap(row -> readable(row).stream())
                .toList();
    }

    /** When the first work falls due that isn't yet. */
    public Optional<Instant> nextDue(Instant now) {
        return connectionsWaitedFor().stream()
                .map(connection -> runs.nextDue(connection, now))
                .filter(Objects::nonNull)
                .min(Comparator.naturalOrder());
    }

    /** Work whose taker has let its lease run out. */
    public List<Work> abandoned(Instant now, int limit) {
        return runs.abandoned(now, limit).stream()
                .flatMap(row -> readable(row).stream())
                .toList();
    }

    /** Work whose row can't be read: it would be looked at for ever, and is given to people instead. */
    public List<CommandRow> unreadable(Instant now, int limit) {
        return connectionsWaitedFor().stream()
                .flatMap(line -> runs.dueCommands(line, now, limit).stream())
                .filter(row -> readable(row).isEmpty())
                .toList();
    }

    private static Optional<Work> readable(CommandRow row) {
        try {
            return Optional.of(RowConversion.work(row));
        } catch (RuntimeException e) {
            LOG.error("The work {} can't be read; people see to it.", row.id(), e);
            return Optional.empty();
        }
    }

    public Optional<ApprovalRow> approval(String id) {
        return Optional.ofNullable(approvals.find(id));
    }

    public List<ApprovalRow> openApprovals(int limit) {
        return approvals.open(limit);
    }

    public List<ApprovalRow> closedApprovals(int limit) {
        return approvals.closed(limit);
    }

    public List<ApprovalRow> approvalsOf(String caseId) {
        return approvals.ofCase(caseId);
    }

    public List<ApprovalRow> overdueApprovals(Instant now, int limit) {
        return approvals.overdue(now, limit);
    }

    public List<AnswerRow> answers(String approval) {
        return approvals.answers(approval);
    }

    /** The number of the last trail entry. */
    public long head() {
        return trail.head().seq();
    }

    /** Trail entries after number {@code after}, oldest first. */
    public List<RecordedEntry> trailAfter(long after, int limit) {
        return trail.after(after, limit).stream().map(Ledger::recorded).toList();
    }

    public List<RecordedEntry> trailOf(String caseId, long after, int limit) {
        return trailOf(caseId, null, after, limit);
    }

    /** Entries of a case above number {@code after}, the oldest first; those of one sort, or all. */
    public List<RecordedEntry> trailOf(String caseId, @Nullable String what, long after, int limit) {
        return trail.ofCase(caseId, what, after, limit).stream()
                .map(Ledger::recorded)
                .toList();
    }

    /** Newest trail entries below number {@code below} that concern no case or one of {@code desks}. */
    public List<RecordedEntry> newestTrail(Collection<String> desks, @Nullable String what, long below, int limit) {
        return trail.newest(desks, what, below, limit).stream()
                .map(Ledger::recorded)
                .toList();
    }

    public Optional<String> material(String hash) {
        return Optional.ofNullable(trail.material(hash));
    }

    private static RecordedEntry recorded(TrailRow row) {
        TrailEntry entry = new TrailEntry(
                row.seq(),
                row.at(),
                row.actor(),
                row.caseId(),
                row.runId(),
                row.step(),
                row.what(),
                row.digest(),
                row.previous(),
                row.hash());
        return new RecordedEntry(entry, row.salt(), row.data() == null ? null : readData(row.data()));
    }

    /** Data that was tampered with may no longer be JSON; it is then shown as the text it is, and fails verification. */
    private static JsonNode readData(String data) {
        try {
            return Json.read(data);
        } catch (servitor.core.json.MalformedJson e) {
            return Json.of(data);
        }
    }
}
