package servitor.service.intake;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.core.engine.Trouble;
import servitor.core.handbook.Audience;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Proof;
import servitor.core.json.Json;
import servitor.core.mail.DeliveryReport;
import servitor.core.mail.Mail;
import servitor.core.mail.ThreadMark;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ServitorSettings;
import servitor.service.approvals.ApprovalMail;
import servitor.service.approvals.AskedByMail;
import servitor.service.approvals.AskedByMail.Asked;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.MailNote;
import servitor.service.cases.Documents;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.people.Access;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunStore;

/**
 * Which case a mail belongs to, and as what: by marks that only this service makes, never by what anybody can guess. Whom neither the
 * case nor staff have named is a stranger, whatever a mail says of them.
 */
@Component
class MailThreads {
    private static final Duration HOUR = Duration.ofHours(1);

    private final CaseStore caseStore;
    private final Cases cases;
    private final Documents documents;
    private final MailStore mails;
    private final PersonStore personStore;
    private final PeopleReader people;
    private final RunStore runs;
    private final AskedByMail approvals;
    private final ThreadMark marks;
    private final ServitorSettings settings;

    MailThreads(
            CaseStore caseStore,
            Cases cases,
            Documents documents,
            MailStore mails,
            PersonStore personStore,
            PeopleReader people,
            RunStore runs,
            AskedByMail approvals,
            ThreadMark marks,
            ServitorSettings settings) {
        this.caseStore = caseStore;
        this.cases = cases;
        this.documents = documents;
        this.mails = mails;
        this.personStore = personStore;
        this.people = people;
        this.runs = runs;
        this.approvals = approvals;
        this.marks = marks;
        this.settings = settings;
    }

    /** The case whose thread a mail is in; empty when it is in none. */
    Optional<CaseRow> caseOf(Mail mail) {
        return marks.caseOf(mail).flatMap(caseStore::find);
    }

    /** The case that a mail server reports about: a mail about it didn't arrive. */
    Optional<CaseRow> reportedCase(Mail mail) {
        return marks.caseOf(DeliveryReport.about(mail)).flatMap(caseStore::find);
    }

    /** The case that a mail in no thread belongs to because its intake says so, and because it is proven who sent it. */
    Optional<CaseRow> newestOpen(Intake intake, String desk, Mail mail, Proof proof) {
        return intake.belongs() instanceof Intake.NewestOpen && Proof.holds(proof.word())
                ? sender(mail).filter(Person::enabled).flatMap(person -> caseStore.newestOpen(person.id(), desk))
                : Optional.empty();
    }

    /** What a mail answers of what an approval asked its sender by mail: only when it is proven that it is theirs, and to their own mail. */
    Optional<Asked> asked(Mail mail, MailRow row) {
        return Proof.holds(row.proof())
                ? marks.keyOf(mail)
                        .flatMap(key -> approvals.byKey(key, sender(mail).orElse(null)))
                : Optional.empty();
    }

    /** Takes such an answer; what was written stands on the case as a note that nothing acts on, with what came of it. */
    void answer(LedgerTransaction tx, Asked asked, MailRow row, Mail mail) {
        String came = approvals.answerByMail(tx, asked, MailRequests.text(mail));
        cases.takeIn(
                tx,
                asked.about(),
                new MailNote(
                        TrailEvent.person(asked.person().id()),
                        asked.person().name(),
                        Audience.STAFF,
                        "By mail, about an approval: "
                                + MailRequests.bounded(MailRequests.text(mail).strip(), 2_000) + "\n(" + came + ")",
                        Proof.VERIFIED,
                        row.id(),
                        false));
    }

    private Optional<Person> sender(Mail mail) {
        List<PersonRow> meant = mail.from().size() == 1
                ? personStore.withAddress(mail.from().get(0).address())
                : List.of();
        return meant.size() == 1 ? people.find(meant.get(0).id()) : Optional.empty();
    }

    /** Throws {@link LeftOut} when a mail has come to its case before, or is one too many of its sender. */
    void notTooMany(LedgerTransaction tx, CaseRow about, MailRow row) throws LeftOut {
        if (mails.hasCome(about.id(), row)) {
            throw new LeftOut("it has come by another mailbox already");
        }
        int most = settings.casesPerHour();
        if (most > 0 && mails.since(row.sender(), tx.now().minus(HOUR)) >= most) {
            throw new LeftOut("more than " + most + " mails of ‘" + row.sender() + "’ came within an hour");
        }
    }

    /** Adds a mail to a case, and says what it became of it. */
    Became join(LedgerTransaction tx, CaseRow row, MailRow mailRow, Mail mail) throws LeftOut {
        Person sender = sender(mail).orElse(null);
        if (sender != null && !sender.enabled()) {
            throw new LeftOut("whoever has the address ‘" + mailRow.sender() + "’ may sign in no more");
        }
        Proof proof = Proof.weaker(mailRow.proof(), Proof.VERIFIED.word());
        boolean staff = sender != null
                && Proof.holds(proof.word())
                && sender.seesAsStaff(row)
                && Access.ADD_TO_CASE.allows(sender, row);
        boolean ofOthers = marks.keyOf(mail)
                .filter(key -> key.startsWith(ApprovalMail.KEY))
                .isPresent();
        Became became = ofOthers ? Became.STRANGER : became(row, sender, staff); // it answers what asked somebody else
        if (sender != null) {
            approvals.tellWhyNot(tx, row, sender, marks.keyOf(mail).orElse(""), Proof.holds(proof.word()));
        }
        String author = sender == null || became == Became.STRANGER
                ? TrailEvent.stranger(mailRow.sender())
                : TrailEvent.person(sender.id());
        String text = MailRequests.text(mail);
        cases.takeIn(
                tx,
                row,
                new MailNote(
                        author,
                        sender == null ? mailRow.sender() : sender.name(),
                        audience(row, sender, became),
                        text.isBlank() ? "(nothing is written in it)" : text,
                        proof,
                        mailRow.id(),
                        became == Became.REPLY));
        if (sender != null && became != Became.STRANGER) {
            documents.keep(tx, row, sender, mail.attachments());
        }
        return became;
    }

    private Became became(CaseRow row, @Nullable Person sender, boolean staff) {
        if (sender == null) {
            return Became.STRANGER;
        } else if (sender.asked(row)) {
            return Became.REPLY;
        }
        return staff || caseStore.named(row.id()).contains(sender.id()) ? Became.NOTE : Became.STRANGER;
    }

    /** Who asked reads what is theirs, and what those write whom staff have brought in; what the desk writes stays at the desk. */
    private static Audience audience(CaseRow row, @Nullable Person sender, Became became) {
        boolean theirs = became == Became.REPLY || became == Became.NOTE && sender != null && !sender.seesAsStaff(row);
        return theirs ? Audience.REQUESTER : Audience.STAFF;
    }

    /** A mail about a case didn't arrive: people see to it. */
    void report(LedgerTransaction tx, CaseRow row, MailRow mailRow, Mail mail) {
        String message = String.join(" ", DeliveryReport.about(mail));
        tx.trail(
                row.id(),
                "",
                new TrailEvent(
                        TrailEvent.SYSTEM,
                        TrailWord.MAIL_UNDELIVERED,
                        "",
                        Json.object().put("message", message).put("mail", mailRow.id())));
        String said = "A mail about the case didn't arrive. The mail server's report: "
                + MailRequests.bounded(MailRequests.text(mail).strip(), 500);
        List<RunRow> ofCase = runs.ofCase(row.id());
        if (ofCase.isEmpty()) {
            cases.takeIn(
                    tx,
                    row,
                    new MailNote(TrailEvent.SYSTEM, "", Audience.STAFF, said, Proof.CLAIMED, mailRow.id(), false));
            tx.store().show(row.id(), CaseState.WITH_PEOPLE.word(), null);
            return;
        }
        tx.store()
                .report(new Trouble(
                        "undelivered-" + mailRow.id().substring(0, 40),
                        Trouble.What.UNDELIVERED,
                        row.id(),
                        ofCase.get(ofCase.size() - 1).id(),
                        "",
                        ofCase.get(ofCase.size() - 1).step(),
                        "undelivered",
                        said,
                        tx.now()));
    }
}
