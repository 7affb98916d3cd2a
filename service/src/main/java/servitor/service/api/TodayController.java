package servitor.service.api;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.CaseState;
import servitor.core.run.RunStatus;
import servitor.service.api.Views.ApprovalSummary;
import servitor.service.api.Views.CaseSummary;
import servitor.service.api.Views.NoteView;
import servitor.service.api.Views.RunView;
import servitor.service.approvals.ApprovalFilter;
import servitor.service.approvals.ApprovalStore;
import servitor.service.cases.CaseFilter;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.NoteRow;
import servitor.service.dispatch.ConnectionLimits;
import servitor.service.intake.Mailboxes;
import servitor.service.people.Person;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunStore;
import servitor.service.runs.Stops;

/** What needs a person now, what agents are doing now, what was handed over, what was settled last. */
@RestController
class TodayController {
    private static final int MOST = 25;
    private static final int SETTLED = 10;
    private static final Duration LATELY = Duration.ofDays(3);

    private final ApprovalStore approvalStore;
    private final RunStore runStore;
    private final CaseStore caseStore;
    private final ViewMapper describe;
    private final ConnectionLimits lines;
    private final Stops stops;
    private final Mailboxes mailboxes;
    private final Clock clock;

    TodayController(
            ApprovalStore approvalStore,
            RunStore runStore,
            CaseStore caseStore,
            ViewMapper describe,
            ConnectionLimits lines,
            Stops stops,
            Mailboxes mailboxes,
            Clock clock) {
        this.mailboxes = mailboxes;
        this.clock = clock;
        this.stops = stops;
        this.approvalStore = approvalStore;
        this.runStore = runStore;
        this.caseStore = caseStore;
        this.describe = describe;
        this.lines = lines;
    }

    record Working(RunView run, CaseSummary about) {}

    /** A connection that failed so often that nothing is sent to it until then. */
    record Resting(String connection, Instant until) {}

    /** A note that was told to somebody of the house, or to a group or desk of theirs. */
    record Told(NoteView note, CaseSummary about) {}

    record Today(
            List<ApprovalSummary> asked,
            List<Working> inDoubt,
            List<Working> held,
            List<Working> troubled,
            List<Resting> resting,
            List<Mailboxes.State> mailboxes,
            List<StopController.StopView> stopped,
            List<CaseSummary> late,
            List<Told> told,
            List<CaseSummary> owned,
            List<CaseSummary> handedOver,
            List<Working> working,
            List<CaseSummary> settled) {}

    @GetMapping("/api/today")
    Today today(Person person) {
        List<ApprovalSummary> asked = approvalStore.list(ApprovalFilter.asked(person), MOST).stream()
                .map(row -> describe.approval(person, row))
                .toList();
        List<RunRow> troubled = runStore.troubled(person.staffDesks(), MOST);
        return new Today(
                asked,
                runs(person, runStore.standing(person.staffDesks(), RunStatus.IN_DOUBT, MOST)),
                runs(person, runStore.standing(person.staffDesks(), RunStatus.HELD, MOST)),
                runs(person, troubled),
                person.seesTheHouse() ? resting() : List.of(),
                mailboxes.failing(person),
                person.seesTheHouse() ? stopped(person) : List.of(),
                cases(person, CaseFilter.ALL.lateAt(clock.instant())),
                told(person),
                owned(person),
                handedOver(person, troubled),
                runs(person, runStore.active(person.staffDesks(), MOST)),
                cases(person, CaseState.RESOLVED).stream()
                        .sorted(Comparator.comparing(CaseSummary::updated).reversed())
                        .limit(SETTLED)
                        .toList());
    }

    /** What was told to a person lately, about cases they see. */
    private List<Told> told(Person person) {
        List<NoteRow> notes = caseStore.told(person, clock.instant().minus(LATELY), MOST);
        Map<String, CaseRow> cases =
                caseStore.all(notes.stream().map(NoteRow::caseId).collect(Collectors.toSet()));
        return notes.stream()
                .map(note -> new Told(
                        describe.note(note),
                        describe.summary(person, Objects.requireNonNull(cases.get(note.caseId())))))
                .toList();
    }

    private List<Resting> resting() {
        return lines.resting().entrySet().stream()
                .map(rests -> new Resting(rests.getKey(), rests.getValue()))
                .toList();
    }

    private List<StopController.StopView> stopped(Person person) {
        return stops.all().stream()
                .map(stop -> StopController.StopView.of(stop, person, stops, describe))
                .toList();
    }

    /** Cases with people that this person, or a group of theirs, is to see to. */
    private List<CaseSummary> owned(Person person) {
        return cases(person, CaseFilter.in(CaseState.WITH_PEOPLE.word()).ownedBy(person.called()));
    }

    /** Cases that people have to see to; those that somebody has, of runs that went wrong, and late ones, are listed as such. */
    private List<CaseSummary> handedOver(Person person, List<RunRow> troubled) {
        Set<String> listed = troubled.stream().map(RunRow::caseId).collect(Collectors.toSet());
        return cases(person, CaseState.WITH_PEOPLE).stream()
                .filter(summary -> !listed.contains(summary.id()) && !summary.late() && summary.owner() == null)
                .toList();
    }

    private List<Working> runs(Person person, List<RunRow> rows) {
        Map<String, CaseRow> cases =
                caseStore.all(rows.stream().map(RunRow::caseId).collect(Collectors.toSet()));
        return rows.stream()
                .map(run -> new Working(
                        describe.run(run), describe.summary(person, Objects.requireNonNull(cases.get(run.caseId())))))
                .toList();
    }

    private List<CaseSummary> cases(Person person, CaseState state) {
        return cases(person, CaseFilter.in(state.word()));
    }

    private List<CaseSummary> cases(Person person, CaseFilter about) {
        return caseStore.list(person.id(), person.staffDesks(), about, Long.MAX_VALUE, MOST).stream()
                .map(row -> describe.summary(person, row))
                .toList();
    }
}
