package servitor.service.approvals;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.approval.Answer;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules;
import servitor.core.approval.ApprovalRules.Counts;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.approval.ApprovalRules.Standing;
import servitor.core.approval.ApprovalState;
import servitor.core.json.Json;
import servitor.core.run.RunInput;
import servitor.core.trail.Happening;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.AnswerRow;
import servitor.service.ledger.Rows.ApprovalRow;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Writer;
import servitor.service.ledger.Writing;
import servitor.service.people.Person;
import servitor.service.runs.Runs;

/** Takes answers to approvals, and closes those whose time has run out. */
@Service
public class Approvals {
    private final Ledger ledger;
    private final Writer writer;
    private final Runs runs;
    private final Clock clock;

    Approvals(Ledger ledger, Writer writer, Runs runs, Clock clock) {
        this.ledger = ledger;
        this.writer = writer;
        this.runs = runs;
        this.clock = clock;
    }

    public static ApprovalRequest request(ApprovalRow row) {
        return Json.read(row.request(), ApprovalRequest.class);
    }

    /** Whether {@code person} may look at the sheet: because they are asked, or as staff of the case's desk. */
    public boolean sees(Person person, ApprovalRow row) {
        return isAsked(person, row)
                || ledger.findCase(row.caseId()).filter(person::seesAsStaff).isPresent();
    }

    /** Whether {@code person} belongs to those who may answer, and it isn't about their own request. */
    public boolean isAsked(Person person, ApprovalRow row) {
        boolean asked = request(row).of().stream().anyMatch(person.answersFor()::contains);
        return asked
                && ledger.findCase(row.caseId())
                        .filter(found -> !found.requester().equals(person.id()))
                        .isPresent();
    }

    /** What a person answers. */
    public record Decision(
            boolean approves,
            String digest,
            String reason,
            @Nullable String text) {}

    /** Takes an answer; what comes of it, counted or refused, is on the trail. Empty when there is no such approval to see. */
    public Optional<Ruling> answer(Person person, String id, Decision decision) {
        return writer.write(writing -> writing.ledger()
                .approval(id)
                .filter(row -> sees(person, row))
                .map(row -> answer(writing, person, row, decision)));
    }

    private Ruling answer(Writing writing, Person person, ApprovalRow row, Decision decision) {
        ApprovalRequest request = request(row);
        CaseRow about = writing.ledger().findCase(row.caseId()).orElseThrow();
        ApprovalState state = ApprovalState.of(row.state());
        if (state == ApprovalState.OPEN && row.due() != null && !writing.now().isBefore(row.due())) {
            expire(writing, row);
            state = ApprovalState.EXPIRED;
        }
        String edited = decision.text() == null
                        || decision.text()
                                .equals(request.sheet()
                                        .path("edit")
                                        .path("text")
                                        .asString(""))
                ? null
                : decision.text();
        Answer answer = new Answer(
                person.id(), person.answersFor(), decision.approves(), decision.digest(), decision.reason(), edited);
        Ruling ruling = ApprovalRules.rule(
                new Standing(request, state, about.requester(), Set.of(), given(writing.ledger(), row)), answer);
        var data = Json.object()
                .put("approval", row.id())
                .put("answer", decision.approves() ? "approve" : "decline")
                .put("shown", decision.digest());
        if (ruling instanceof Refused refused) {
            data.put("refused", refused.message());
            writing.trail(
                    about.id(),
                    row.runId(),
                    new Happening(Happening.person(person.id()), "answer-refused", request.step(), data));
        } else {
            data.put("reason", decision.reason());
            if (edited != null) {
                data.put("before", request.sheet().path("edit").path("text").asString(""))
                        .put("edited", edited);
            }
            writing.trail(
                    about.id(),
                    row.runId(),
                    new Happening(Happening.person(person.id()), "approval-answered", request.step(), data));
            count(writing, row, about, (Counts) ruling, answer);
        }
        return ruling;
    }

    private void count(Writing writing, ApprovalRow row, CaseRow about, Counts counts, Answer answer) {
        writing.insertAnswer(new AnswerRow(
                row.id(),
                answer.person(),
                answer.approves(),
                answer.reason(),
                answer.edited(),
                Json.write(new TreeSet<>(counts.forGroups())),
                writing.now()));
        writing.closeApproval(row, counts.state().word(), about.desk());
        if (counts.state() != ApprovalState.OPEN) {
            Set<String> groups = given(writing.ledger(), row).stream()
                    .flatMap(given -> given.forGroups().stream())
                    .collect(Collectors.toSet());
            runs.feed(
                    writing,
                    row.runId(),
                    new RunInput.ApprovalClosed(row.id(), counts.state(), answer.reason(), answer.edited(), groups));
        }
    }

    private static List<Given> given(Ledger ledger, ApprovalRow row) {
        return ledger.answers(row.id()).stream()
                .map(answer -> new Given(answer.person(), Set.of(Json.read(answer.forGroups(), String[].class))))
                .toList();
    }

    /** Closes every approval whose time has run out. */
    public void expireOverdue() {
        for (ApprovalRow row : ledger.overdueApprovals(clock.instant(), 100)) {
            writer.write(writing -> {
                writing.ledger()
                        .approval(row.id())
                        .filter(now -> now.state().equals("open"))
                        .ifPresent(now -> expire(writing, now));
                return null;
            });
        }
    }

    private void expire(Writing writing, ApprovalRow row) {
        CaseRow about = writing.ledger().findCase(row.caseId()).orElseThrow();
        writing.closeApproval(row, ApprovalState.EXPIRED.word(), about.desk());
        writing.trail(
                about.id(),
                row.runId(),
                new Happening(
                        Happening.SYSTEM,
                        "approval-expired",
                        request(row).step(),
                        Json.object().put("approval", row.id())));
        runs.feed(
                writing, row.runId(), new RunInput.ApprovalClosed(row.id(), ApprovalState.EXPIRED, "", null, Set.of()));
    }
}
