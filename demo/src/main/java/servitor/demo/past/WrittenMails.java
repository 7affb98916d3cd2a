package servitor.demo.past;

import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BooleanSupplier;
import servitor.core.trail.TrailEvent;
import servitor.demo.Correspondent;
import servitor.demo.DemoSeeder;
import servitor.demo.past.Script.Asked;
import servitor.service.approvals.AskedByMail;
import servitor.service.cases.CaseFilter;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.intake.AcknowledgementRow.State;
import servitor.service.intake.Acknowledgements;
import servitor.standins.MailHouse;

/** What people write by mail in the past. Each call waits until the mail is taken in: the clock stands still for that long. */
final class WrittenMails {
    private final MailHouse house;
    private final CaseStore caseStore;
    private final Correspondent correspondent;

    WrittenMails(MailHouse house, CaseStore caseStore) {
        this.house = house;
        this.caseStore = caseStore;
        this.correspondent = new Correspondent(house.smtp());
    }

    /** Somebody asks by mail. */
    void ask(Asked asked) {
        Correspondent.openBox(house, asked.by());
        long before = newest(asked.by());
        boolean proven = asked.way() == Script.Way.MAIL;
        String text = asked.text()
                + (asked.fields().containsKey("booking") ? " " + asked.fields().get("booking") : "");
        correspondent.send(proven ? asked.by() : null, asked.by(), desk(asked.kind()), asked.subject(), text, "");
        await("the case of the mail ‘" + asked.subject() + "’", () -> newest(asked.by()) > before);
    }

    private static String desk(String kind) {
        return kind.equals("pay-question") ? "people" : "passengers";
    }

    private long newest(String requester) {
        return caseStore.list(requester, List.of(), CaseFilter.ALL, Long.MAX_VALUE, 1).stream()
                .mapToLong(CaseRow::number)
                .findFirst()
                .orElse(0);
    }

    /** The requester of a case answers the last mail they had about it; false when they had none. */
    boolean answer(CaseRow about, String text) {
        try {
            MimeMessage last = null;
            for (MimeMessage mail : house.mails(DemoSeeder.address(about.requester()), "INBOX")) {
                last = mail.getSubject().contains("[" + about.id() + ".") ? mail : last;
            }
            if (last == null) {
                return false;
            }
            long before = written(about);
            correspondent.send(
                    about.requester(),
                    about.requester(),
                    about.desk(),
                    "Re: " + last.getSubject(),
                    text,
                    "In-Reply-To: " + last.getMessageID() + "\r\nReferences: " + last.getMessageID() + "\r\n");
            await("the answer in " + about.id(), () -> written(about) > before);
            return true;
        } catch (MessagingException e) {
            throw new IllegalStateException("a mail of the stand-in can't be read", e);
        }
    }

    /** Waits until every mail that is acknowledged has been: that goes by the machine's clock, not by that of the past. */
    void awaitAcknowledged(Acknowledgements all) {
        await(
                "the last acknowledgement",
                () -> all.in(State.WAITING).stream()
                                .noneMatch(row -> row.detail().isEmpty())
                        && all.in(State.SENDING).isEmpty()); // in the order in which they go
    }

    /** Waits until whoever is asked something has a mail of it. */
    void awaitTold(AskedByMail all) {
        await("the last mail about an approval", all::isDone);
    }

    private long written(CaseRow about) {
        return caseStore.notes(about.id()).stream()
                .filter(note -> note.author().equals(TrailEvent.person(about.requester())))
                .count();
    }

    private static void await(String what, BooleanSupplier come) {
        long until = System.nanoTime() + TimeUnit.MINUTES.toNanos(1);
        while (!come.getAsBoolean()) {
            if (System.nanoTime() > until) {
                throw new IllegalStateException(what + " doesn't come");
            }
            LockSupport.parkNanos(TimeUnit.MILLISECONDS.toNanos(2));
        }
    }
}
