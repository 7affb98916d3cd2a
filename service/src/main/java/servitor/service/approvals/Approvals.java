package servitor.service.approvals;

import java.time.Clock;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules;
import servitor.core.approval.ApprovalRules.Counts;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.approval.ApprovalRules.SentBack;
import servitor.core.approval.ApprovalRules.ShownAnew;
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
import servitor.service.runs.Reminders;
import servitor.service.runs.Runs;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

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

    /**
     * What a person answers.
     *
     * @param texts texts by their key on the sheet; those that are as they were shown count as left alone
     * @param form what was filled in; null for nothing
     */
    public record Decision(
            Says says,
            String digest,
            String reason,
            Map<String, String> texts,
            @Nullable JsonNode form) {}

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
        Map<String, String> shown = request.texts();
        Map<String, String> changed = new LinkedHashMap<>();
        decision.texts().forEach((key, text) -> {
            if (!text.equals(shown.get(key))) {
                changed.put(key, text);
            }
        });
        Answer answer = new Answer(
                person.id(),
                person.answersFor(),
                decision.says(),
                decision.digest(),
                decision.reason(),
                changed,
                decision.form());
        Ruling ruling = ApprovalRules.rule(
                new Standing(
                        request,
                        state,
                        about.requester(),
                        authors(row),
                        given(writing.ledger(), row),
                        writing.ledger().eligible(request.of())),
                answer);
        record(writing, row, about, answer, ruling);
        if (ruling instanceof Counts counts) {
            count(writing, row, about, counts, answer);
        } else if (ruling instanceof ShownAnew anew) {
            Set<String> authors = new TreeSet<>(authors(row));
            authors.add(person.id());
            writing.showAnew(
                    row, Json.write(anew.request()), anew.request().digest(), String.join(" ", authors), about.desk());
        } else if (ruling instanceof SentBack) {
            insertAnswer(writing, row, answer, Set.of());
            writing.closeApproval(row, ApprovalState.WITHDRAWN.word(), about.desk());
            runs.feed(
                    writing,
                    row.runId(),
                    new RunInput.FeedbackGiven(
                            row.id(), person.id(), decision.reason().strip()));
        }
        return ruling;
    }

    private static Set<String> authors(ApprovalRow row) {
        return row.authors().isBlank() ? Set.of() : Set.of(row.authors().split(" "));
    }

    private static void record(Writing writing, ApprovalRow row, CaseRow about, Answer answer, Ruling ruling) {
        ApprovalRequest request = request(row);
        ObjectNode data = Json.object()
                .put("approval", row.id())
                .put("answer", answer.says().word())
                .put("shown", answer.digest());
        String what = "approval-answered";
        if (ruling instanceof Refused refused) {
            what = "answer-refused";
            data.put("refused", refused.message());
        } else {
            data.put("reason", answer.reason());
            if (!answer.texts().isEmpty()) {
                Map<String, String> before = new LinkedHashMap<>(request.texts());
                before.keySet().retainAll(answer.texts().keySet());
                data.set("before", Json.of(before));
                data.set("edited", Json.of(answer.texts()));
            }
            if (answer.form() != null) {
                data.set("form", answer.form());
            }
        }
        writing.trail(
                about.id(), row.runId(), new Happening(Happening.person(answer.person()), what, request.step(), data));
    }

    private static void insertAnswer(Writing writing, ApprovalRow row, Answer answer, Set<String> forGroups) {
        writing.insertAnswer(new AnswerRow(
                row.id(),
                answer.person(),
                answer.says().word(),
                answer.reason(),
                Json.write(answer.texts()),
                answer.form() == null ? null : Json.write(answer.form()),
                Json.write(new TreeSet<>(forGroups)),
                writing.now()));
    }

    private void count(Writing writing, ApprovalRow row, CaseRow about, Counts counts, Answer answer) {
        insertAnswer(writing, row, answer, counts.forGroups());
        writing.closeApproval(row, counts.state().word(), about.desk());
        if (counts.state() != ApprovalState.OPEN) {
            Set<String> groups = given(writing.ledger(), row).stream()
                    .filter(Given::approves)
                    .flatMap(given -> given.forGroups().stream())
                    .collect(Collectors.toSet());
            runs.feed(
                    writing,
                    row.runId(),
                    new RunInput.ApprovalClosed(
                            row.id(),
                            counts.state(),
                            answer.reason(),
                            answer.texts(),
                            answer.form(),
                            groups,
                            answer.person()));
        }
    }

    private static List<Given> given(Ledger ledger, ApprovalRow row) {
        return ledger.answers(row.id()).stream()
                .map(answer -> new Given(
                        answer.person(),
                        answer.says().equals(Says.APPROVE.word()),
                        Set.of(Json.read(answer.forGroups(), String[].class))))
                .toList();
    }

    /** Puts approvals whose time is passing back before people's eyes. */
    public void remind() {
        for (ApprovalRow due : ledger.approvalsToRemind(clock.instant(), 100)) {
            writer.write(writing -> {
                writing.ledger()
                        .approval(due.id())
                        .filter(row -> row.state().equals("open") && row.reminders() == due.reminders())
                        .ifPresent(row -> remind(writing, row));
                return null;
            });
        }
    }

    private static void remind(Writing writing, ApprovalRow row) {
        CaseRow about = writing.ledger().findCase(row.caseId()).orElseThrow();
        ApprovalRequest request = request(row);
        writing.reminded(row, Reminders.next(request, row.opened(), row.reminders() + 1), about.desk());
        writing.trail(
                about.id(),
                row.runId(),
                new Happening(
                        Happening.SYSTEM,
                        "approval-reminded",
                        request.step(),
                        Json.object().put("approval", row.id()).set("of", Json.of(new TreeSet<>(request.of())))));
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
                writing,
                row.runId(),
                new RunInput.ApprovalClosed(row.id(), ApprovalState.EXPIRED, "", Map.of(), null, Set.of(), ""));
    }
}
