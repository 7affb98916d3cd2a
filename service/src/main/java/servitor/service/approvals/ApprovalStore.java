package servitor.service.approvals;

import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalState;
import servitor.core.approval.Via;
import servitor.core.engine.Evidence;
import servitor.core.engine.KeptApproval;
import servitor.core.json.Json;
import servitor.service.ledger.LedgerTransaction;

/** Approvals, what was shown with them, and the answers given. */
@Component
public class ApprovalStore {
    private final ApprovalMapper approvals;

    ApprovalStore(ApprovalMapper approvals) {
        this.approvals = approvals;
    }

    public Optional<ApprovalRow> find(String id) {
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(approvals.find(id));
    }

    /** Approvals that somebody may see, or may answer; at most {@code limit}. */
    public List<ApprovalRow> list(ApprovalFilter filter, int limit) {
        LedgerTransaction.writeHeld();
        return approvals.list(filter, filter.about(), limit);
    }

    public List<ApprovalRow> ofCase(String caseId) {
        LedgerTransaction.writeHeld();
        return approvals.ofCase(caseId);
    }

    public List<ApprovalRow> ofRun(String run) {
        LedgerTransaction.writeHeld();
        return approvals.ofRun(run);
    }

    /** Those of these runs in which people were asked. */
    public Set<String> asked(List<String> runs) {
        LedgerTransaction.writeHeld();
        return runs.isEmpty() ? Set.of() : approvals.asked(runs);
    }

    public List<ApprovalRow> overdue(Instant now, int limit) {
        LedgerTransaction.writeHeld();
        return approvals.overdue(now, limit);
    }

    public List<ApprovalRow> toRemind(Instant now, int limit) {
        LedgerTransaction.writeHeld();
        return approvals.toRemind(now, limit);
    }

    public List<AnswerRow> answers(String approval) {
        LedgerTransaction.writeHeld();
        return approvals.answers(approval);
    }

    /** What was shown beside an approval when people were asked; empty for those of earlier versions. */
    public Optional<Evidence> evidence(String approval) {
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(approvals.evidence(approval)).map(text -> Json.read(text, Evidence.class));
    }

    /** Writes new approvals, all at once. */
    public void insert(List<NewApproval> opened) {
        if (!opened.isEmpty()) {
            ApprovalColumns columns = ApprovalColumns.of(opened);
            approvals.insert(columns);
            approvals.insertAsked(columns);
            approvals.insertShown(columns);
        }
    }

    public void close(KeptApproval read, ApprovalState state, @Nullable Instant closed) {
        LedgerTransaction.fenced(
                approvals.close(read.id(), state.word(), closed, read.version()), "approval " + read.id());
    }

    public void showAnew(KeptApproval read, ApprovalRequest changed, Set<String> authors) {
        LedgerTransaction.fenced(
                approvals.showAnew(read.id(), changed.digest(), String.join(" ", authors), read.version()),
                "approval " + read.id());
        approvals.asksAnew(read.id(), Json.write(changed));
        approvals.forgetAnswers(read.id());
    }

    /** Open ones for which something has to hold. */
    public List<ApprovalRow> watched(int limit) {
        LedgerTransaction.writeHeld();
        return approvals.watched(limit);
    }

    /** Open ones whose people haven't been told yet. */
    public List<ApprovalRow> toTell(int limit) {
        LedgerTransaction.writeHeld();
        return approvals.toTell(limit);
    }

    /** Notes that its people are told; false when they were. */
    boolean told(String id) {
        LedgerTransaction.writeHeld();
        return approvals.told(id) == 1;
    }

    /** Whether it could be handed to somebody: it is open. */
    boolean hand(String id, String to) {
        LedgerTransaction.writeHeld();
        return approvals.hand(id, to) == 1;
    }

    public void reminded(KeptApproval read, @Nullable Instant next) {
        LedgerTransaction.fenced(approvals.reminded(read.id(), next, read.version()), "approval " + read.id());
    }

    /** The time of an open approval stands still, or goes on after having stood for so long. */
    public void stand(ApprovalRow row, boolean held, Duration stood) {
        Instant due = row.due() == null ? null : row.due().plus(stood);
        Instant remindAt = row.remindAt() == null ? null : row.remindAt().plus(stood);
        approvals.hold(row.id(), held, row.heldMillis() + stood.toMillis(), due, remindAt);
    }

    public void insertAnswer(String approval, Answer answer, Set<String> forGroups, Instant now) {
        approvals.insertAnswer(new AnswerRow(
                approval,
                answer.person(),
                answer.says().word(),
                answer.reason(),
                Json.write(answer.texts()),
                answer.form() == null ? null : Json.write(answer.form()),
                Json.write(new TreeSet<>(forGroups)),
                now,
                answer.via().word(),
                answer.standsInFor().stream()
                        .filter(away -> forGroups.contains("person:" + away))
                        .collect(Collectors.joining(" "))));
    }

    /** The answers that count, in the order given. */
    public List<Given> given(String approval) {
        return answers(approval).stream()
                .map(answer -> new Given(
                        answer.person(),
                        answer.says().equals(Says.APPROVE.word()),
                        new HashSet<>(Arrays.asList(Json.read(answer.forGroups(), String[].class))),
                        Via.of(answer.via())))
                .toList();
    }

    /** Takes out the approvals of a run, with the answers. */
    public void deleteOfRun(String run) {
        ofRun(run).forEach(approval -> approvals.forgetAnswers(approval.id()));
        approvals.deleteShown(run);
        approvals.deleteOfRun(run);
    }
}
