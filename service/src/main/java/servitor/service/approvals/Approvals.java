package servitor.service.approvals;

import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.engine.ApprovalAnswers;
import servitor.core.json.Json;
import servitor.service.Unavailable;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** Takes answers to approvals, and closes those whose time has run out. */
@Service
public class Approvals {
    private static final Logger LOG = LoggerFactory.getLogger(Approvals.class);

    private final Set<String> troubled = ConcurrentHashMap.newKeySet();
    private final CaseStore caseStore;
    private final ApprovalStore approvalStore;
    private final Writer writer;
    private final ApprovalAnswers answering;
    private final Clock clock;

    Approvals(CaseStore caseStore, ApprovalStore approvalStore, Writer writer, ApprovalAnswers answering, Clock clock) {
        this.caseStore = caseStore;
        this.approvalStore = approvalStore;
        this.writer = writer;
        this.answering = answering;
        this.clock = clock;
    }

    public static ApprovalRequest request(ApprovalRow row) {
        return Json.read(row.request(), ApprovalRequest.class);
    }

    /** Whether {@code person} may look at the sheet: because they are asked, or as staff of the case's desk. */
    public boolean sees(Person person, ApprovalRow row) {
        return isAsked(person, row)
                || caseStore.find(row.caseId()).filter(person::seesAsStaff).isPresent();
    }

    /** Whether {@code person} is shown the case's documents: whoever is asked about it decides on what stands in them. */
    public boolean showsDocuments(Person person, CaseRow about) {
        return person.sees(about) || approvalStore.ofCase(about.id()).stream().anyMatch(row -> isAsked(person, row));
    }

    /** Whether {@code person} belongs to those who may answer, and it isn't about their own request. */
    public boolean isAsked(Person person, ApprovalRow row) {
        boolean asked = request(row).of().stream().anyMatch(person.answersFor()::contains);
        return asked
                && caseStore
                        .find(row.caseId())
                        .filter(found -> !person.asked(found))
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
        Answer answer = new Answer(
                person.id(),
                person.answersFor(),
                decision.says(),
                decision.digest(),
                decision.reason(),
                decision.texts(),
                decision.form());
        return approvalStore
                .find(id)
                .filter(row -> sees(person, row)) // by its desk and requester, which never change
                .map(row -> writer.write(tx -> answering.answer(tx.store(), id, answer)));
    }

    /** Sends a text that lapsed, by somebody who could have approved it; empty when there is no such approval to see. */
    public Optional<Ruling> sendLapsed(Person person, String id, Decision decision) {
        return writer.write(tx -> approvalStore
                .find(id)
                .filter(row -> sees(person, row))
                .map(row -> answering.sendLapsed(
                        tx.store(),
                        id,
                        new Answer(
                                person.id(),
                                person.answersFor(),
                                Says.APPROVE,
                                decision.digest(),
                                decision.reason(),
                                decision.texts(),
                                null),
                        "N-" + UUID.randomUUID())));
    }

    /** Puts approvals whose time is passing back before people's eyes. */
    public void remind() {
        for (ApprovalRow due : approvalStore.toRemind(clock.instant(), 100)) {
            alone(due, tx -> answering.remind(tx.store(), due.id(), due.reminders()));
        }
    }

    /** One that breaks holds up no other. */
    private void alone(ApprovalRow row, Consumer<LedgerTransaction> work) {
        try {
            writer.write(tx -> {
                work.accept(tx);
                return null;
            });
        } catch (Unavailable e) {
            throw e;
        } catch (RuntimeException e) {
            if (troubled.add(row.id())) {
                LOG.error("The approval {} can't be seen to; the others are.", row.id(), e);
            }
        }
    }

    /** Closes every approval whose time has run out. */
    public void expireOverdue() {
        for (ApprovalRow row : approvalStore.overdue(clock.instant(), 100)) {
            alone(row, tx -> answering.expire(tx.store(), row.id()));
        }
    }
}
