package servitor.service.approvals;

import java.time.Clock;
import java.time.Instant;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.approval.ApprovalState;
import servitor.core.approval.Via;
import servitor.core.engine.ApprovalAnswers;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.Unavailable;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.DocumentRow;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.TrailStore;
import servitor.service.ledger.Writer;
import servitor.service.people.NotAllowed;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** Takes answers to approvals, and closes those whose time has run out. */
@Service
public class Approvals {
    private static final int MOST_SEEN = 2_000;
    private static final Logger LOG = LoggerFactory.getLogger(Approvals.class);

    private final Set<String> troubled = ConcurrentHashMap.newKeySet();
    private final CaseStore caseStore;
    private final ApprovalStore approvalStore;
    private final Writer writer;
    private final ApprovalAnswers answering;
    private final PeopleReader people;
    private final TrailStore trail;
    private final Clock clock;

    Approvals(
            CaseStore caseStore,
            ApprovalStore approvalStore,
            Writer writer,
            ApprovalAnswers answering,
            PeopleReader people,
            TrailStore trail,
            Clock clock) {
        this.caseStore = caseStore;
        this.approvalStore = approvalStore;
        this.writer = writer;
        this.answering = answering;
        this.people = people;
        this.trail = trail;
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

    /** Whether {@code person} sees the case, or is or was asked about it. */
    public boolean sees(Person person, CaseRow about) {
        return person.sees(about) || approvalStore.ofCase(about.id()).stream().anyMatch(row -> isAsked(person, row));
    }

    /**
     * The documents of a case that {@code person} is shown: all, to who sees the case. Whoever is only asked about it decides on what
     * stands in them, and is shown those that were there until they had answered, or it was decided.
     */
    public List<DocumentRow> shownDocuments(Person person, CaseRow about) {
        List<DocumentRow> all = caseStore.documents(about.id());
        if (person.sees(about)) {
            return all;
        }
        Optional<Instant> until = approvalStore.ofCase(about.id()).stream()
                .filter(row -> isAsked(person, row))
                .map(row -> endOfAsking(person, row))
                .max(Comparator.naturalOrder());
        return all.stream()
                .filter(document ->
                        until.filter(end -> !document.at().isAfter(end)).isPresent())
                .toList();
    }

    /** Until when somebody is asked: when they answered, or else when it was decided. */
    private Instant endOfAsking(Person person, ApprovalRow row) {
        return approvalStore.answers(row.id()).stream()
                .filter(answer -> answer.person().equals(person.id()))
                .map(AnswerRow::at)
                .findFirst()
                .or(() -> Optional.ofNullable(row.closed()))
                .orElse(Instant.MAX);
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
     * @param via which way it came
     */
    public record Decision(
            Says says,
            String digest,
            String reason,
            Map<String, String> texts,
            @Nullable JsonNode form,
            Via via) {}

    /** Takes an answer; what comes of it, counted or refused, is on the trail. Empty when there is no such approval to see. */
    public Optional<Ruling> answer(Person person, String id, Decision decision) {
        Answer answer = answer(person, decision);
        return approvalStore
                .find(id)
                .filter(row -> sees(person, row)) // by its desk and requester, which never change
                .map(row -> writer.write(tx -> answering.answer(tx.store(), id, answer)));
    }

    /** Who but {@code person} may answer an approval now. */
    public List<Person> othersWhoMayAnswer(Person person, ApprovalRow row) {
        return whoMayAnswer(row).stream()
                .filter(one -> !one.id().equals(person.id()))
                .toList();
    }

    /** Who may answer an approval now: those who are asked, and the deputies of those who are asked by name. */
    List<Person> whoMayAnswer(ApprovalRow row) {
        return !ApprovalState.OPEN.word().equals(row.state())
                ? List.of()
                : request(row).of().stream()
                        .flatMap(name -> people.meantOrInstead(name).stream())
                        .filter(one -> isAsked(one, row))
                        .filter(distinct())
                        .sorted(Comparator.comparing(Person::name))
                        .toList();
    }

    private static Predicate<Person> distinct() {
        Set<String> seen = new HashSet<>();
        return person -> seen.add(person.id());
    }

    /**
     * Hands an approval to another who may answer it.
     *
     * @param name the id of the other
     * @throws NotAllowed when {@code person} isn't asked, or the other may not answer
     * @throws IllegalArgumentException when there is nobody of that name
     * @throws IllegalStateException when it is decided already
     */
    public void hand(Person person, ApprovalRow row, @Nullable String name, String reason) {
        if (!isAsked(person, row)) {
            throw new NotAllowed("Only those who are asked hand an approval to somebody else.");
        }
        Person to = Optional.ofNullable(name)
                .flatMap(people::find)
                .orElseThrow(() -> new IllegalArgumentException("‘to’ is the id of a person who may answer."));
        writer.write(tx -> {
            Answer answer = answer(to, new Decision(Says.APPROVE, row.digest(), "", Map.of(), null, Via.API));
            ApprovalAnswers.barred(tx.store(), row.id(), answer).ifPresent(why -> {
                throw new NotAllowed(to.name() + " can't answer this: " + why);
            });
            if (!approvalStore.hand(row.id(), to.id())) {
                throw new IllegalStateException("This approval isn't open any more.");
            }
            tx.changed(new LedgerTransaction.Changed(
                    "approval", row.id(), "", "", request(row).of()));
            tx.trail(
                    row.caseId(),
                    row.runId(),
                    new TrailEvent(
                            TrailEvent.person(person.id()),
                            TrailWord.APPROVAL_HANDED,
                            request(row).step(),
                            Json.object()
                                    .put("approval", row.id())
                                    .put("to", to.id())
                                    .put("reason", reason)));
            return null;
        });
    }

    private static Answer answer(Person person, Decision decision) {
        return new Answer(
                person.id(),
                person.answersAsThemselves(),
                person.standsInFor(),
                decision.says(),
                decision.digest(),
                decision.reason(),
                decision.texts(),
                decision.form(),
                decision.via());
    }

    /** Sends a text that lapsed, by somebody who could have approved it; empty when there is no such approval to see. */
    public Optional<Ruling> sendLapsed(Person person, String id, Decision decision) {
        return writer.write(tx -> approvalStore
                .find(id)
                .filter(row -> sees(person, row))
                .map(row -> answering.sendLapsed(tx.store(), id, answer(person, decision), "N-" + UUID.randomUUID())));
    }

    /** Notes once what somebody was shown of an approval that is open: the picture as a whole, under its digest. */
    public void saw(Person person, ApprovalRow row, Via via, String picture) {
        String digest = Json.digest(picture);
        boolean noted = !ApprovalState.OPEN.word().equals(row.state())
                || seen(row).stream()
                        .anyMatch(one -> one.person().equals(person.id())
                                && one.picture().equals(digest));
        if (!noted) {
            writer.write(tx -> {
                tx.trail(
                        row.caseId(),
                        row.runId(),
                        new TrailEvent(
                                TrailEvent.person(person.id()),
                                TrailWord.APPROVAL_SEEN,
                                request(row).step(),
                                Json.object()
                                        .put("approval", row.id())
                                        .put("shown", row.digest())
                                        .put("via", via.word())
                                        .put("material", tx.keep(picture))));
                return null;
            });
        }
    }

    /**
     * That somebody was shown an approval.
     *
     * @param shown the digest that an answer binds to
     * @param picture the digest of all that was shown
     */
    public record Seen(String person, Instant at, String via, String shown, String picture) {}

    /** Who was shown an approval, the first first. */
    public List<Seen> seen(ApprovalRow row) {
        return trail.ofCase(row.caseId(), TrailWord.APPROVAL_SEEN.word(), 0, MOST_SEEN).stream()
                .filter(entry -> entry.data() != null
                        && entry.data().path("approval").asString("").equals(row.id()))
                .map(entry -> new Seen(
                        entry.entry().actor().substring(TrailEvent.person("").length()),
                        entry.entry().at(),
                        text(entry, "via"),
                        text(entry, "shown"),
                        text(entry, "material")))
                .toList();
    }

    private static String text(RecordedEntry entry, String field) {
        return Objects.requireNonNull(entry.data()).path(field).asString("");
    }

    /** What somebody was shown, whole; empty when it has moved out of the database. */
    public Optional<String> picture(Seen seen) {
        return trail.material(seen.picture());
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

    /** Withdraws every approval for which no longer holds what has to. */
    public void withdrawInvalid() {
        for (ApprovalRow row : approvalStore.watched(1_000)) {
            alone(row, tx -> answering.withdrawUnlessValid(tx.store(), row.id()));
        }
    }

    /** Closes every approval whose time has run out. */
    public void expireOverdue() {
        for (ApprovalRow row : approvalStore.overdue(clock.instant(), 100)) {
            alone(row, tx -> answering.expire(tx.store(), row.id()));
        }
    }
}
