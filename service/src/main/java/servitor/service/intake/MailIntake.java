package servitor.service.intake;

import static servitor.service.intake.MailRequests.bounded;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.connectors.mail.MailParser;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Proof;
import servitor.core.json.Json;
import servitor.core.mail.Automatic;
import servitor.core.mail.Mail;
import servitor.core.mail.SenderProof;
import servitor.core.mail.ThreadMark;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.approvals.AskedByMail.Asked;
import servitor.service.cases.CaseRow;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.Arrival;
import servitor.service.cases.Documents;
import servitor.service.cases.InvalidCase;
import servitor.service.cases.TooMany;
import servitor.service.editions.Editions;
import servitor.service.intake.MailRequests.Request;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import tools.jackson.databind.node.ObjectNode;

/**
 * Takes mails in: each becomes a case, or is kept with the reason why it became none. Whether it was taken in, and where reading
 * stands, is one transaction, so that nothing is lost and nothing doubled.
 */
@Service
public class MailIntake {
    private static final int MOST_LISTED = 500;
    /** Of strangers' mails not more is kept, so that nobody fills the house with them. */
    private static final int LARGEST_LEFT_OUT = 2_000_000;

    private static final int MOST_REFERENCES = 10;

    private final MailStore mails;
    private final Cases cases;
    private final Documents documents;
    private final Editions editions;
    private final MailRequests requests;
    private final MailThreads threads;
    private final Acknowledgements acknowledgements;
    private final PeopleReader people;
    private final Writer writer;
    private final Clock clock;

    MailIntake(
            MailStore mails,
            Cases cases,
            Documents documents,
            Editions editions,
            MailRequests requests,
            MailThreads threads,
            Acknowledgements acknowledgements,
            PeopleReader people,
            Writer writer,
            Clock clock) {
        this.mails = mails;
        this.cases = cases;
        this.documents = documents;
        this.editions = editions;
        this.requests = requests;
        this.threads = threads;
        this.acknowledgements = acknowledgements;
        this.people = people;
        this.writer = writer;
        this.clock = clock;
    }

    /**
     * Takes one mail in and notes that reading stands behind it. Returns whether it became a case, now or earlier.
     *
     * @param proof whose word about its sender counts
     * @param own addresses that are ours
     * @param stands where reading stands once it is taken in; null for a mail out of no mailbox
     */
    boolean take(Intake intake, SenderProof proof, Set<String> own, byte[] raw, @Nullable MailboxRow stands) {
        MailRow row = unreadable(intake, raw);
        String reason;
        try {
            Mail mail = MailParser.parse(raw);
            row = row(intake, proof, mail, raw);
            MailRow read = row;
            Optional<CaseRow> reported = threads.reportedCase(mail).filter(about -> Automatic.isReport(mail));
            if (reported.isPresent()) {
                return keep(read, raw, stands, tx -> {
                    threads.report(tx, reported.get(), read, mail);
                    return read.becoming(reported.get().id(), Became.REPORT);
                });
            }
            Optional<String> automatic = Automatic.reason(mail, own);
            if (automatic.isPresent()) {
                throw new LeftOut(automatic.get());
            }
            Optional<Asked> asked = threads.asked(mail, read);
            if (asked.isPresent()) {
                return keep(read, raw, stands, tx -> {
                    threads.answer(tx, asked.get(), read, mail);
                    log(tx, asked.get().about(), intake, read, TrailEvent.SYSTEM, Became.ANSWER);
                    return read.becoming(asked.get().about().id(), Became.ANSWER);
                });
            }
            Optional<CaseRow> about = threads.caseOf(mail);
            if (about.isEmpty() && requests.isWanted(intake, mail, proof)) {
                about = threads.newestOpen(intake, kind(intake).desk(), mail, proof.of(mail));
            }
            if (about.isPresent()) {
                return join(intake, read, raw, mail, about.get(), stands);
            }
            Request request = requests.read(intake, mail, proof, null);
            documents.readBeforehand(
                    mail.attachments(), Proof.holds(request.proof().word()));
            return keep(read, raw, stands, tx -> {
                CaseRow opened = open(tx, intake, read, request, TrailEvent.SYSTEM);
                return read.becoming(opened.id(), Became.CASE);
            });
        } catch (MailParser.Unreadable e) {
            reason = "it can't be read: " + e.getMessage();
        } catch (LeftOut | TooMany | IllegalArgumentException e) {
            reason = String.valueOf(e.getMessage());
        } catch (InvalidCase e) {
            reason = String.join("; ", e.wrong());
        }
        return leaveOut(row.because(bounded(reason, 1_000)), raw, stands);
    }

    private boolean join(Intake intake, MailRow read, byte[] raw, Mail mail, CaseRow about, @Nullable MailboxRow stands)
            throws LeftOut {
        documents.readBeforehand(mail.attachments(), Proof.holds(read.proof()));
        return keep(read, raw, stands, tx -> {
            threads.notTooMany(tx, about, read);
            Became became = threads.join(tx, about, read, mail);
            log(tx, about, intake, read, TrailEvent.SYSTEM, became);
            return read.becoming(about.id(), became);
        });
    }

    /** What a mail becomes within a transaction. */
    private interface Becoming {
        MailRow in(LedgerTransaction tx) throws LeftOut;
    }

    /** Why a mail is left out, known only within the transaction. */
    private static final class LeftOutAfterAll extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final LeftOut why;

        LeftOutAfterAll(LeftOut why) {
            super(why);
            this.why = why;
        }
    }

    /** Has a mail become what it becomes, once, and notes that reading stands behind it. */
    private boolean keep(MailRow row, byte[] raw, @Nullable MailboxRow stands, Becoming becoming) throws LeftOut {
        try {
            return writer.write(tx -> {
                if (stands != null) {
                    mails.stands(stands);
                }
                Optional<MailRow> known = mails.find(row.id());
                if (known.isEmpty() && isTakenBeside(row)) {
                    return false;
                }
                if (known.isEmpty()) {
                    try {
                        mails.insert(becoming.in(tx), raw);
                    } catch (LeftOut e) {
                        throw new LeftOutAfterAll(e);
                    }
                }
                return known.map(one -> !one.caseId().isEmpty()).orElse(true);
            });
        } catch (LeftOutAfterAll e) {
            throw e.why;
        }
    }

    /** Whether another intake of the same mailbox has taken a mail in: each mail becomes one thing. */
    private boolean isTakenBeside(MailRow row) {
        return mails.isTaken(row.digest(), beside(row));
    }

    /** The other intakes of the same mailbox. */
    private List<String> beside(MailRow row) {
        Intake own = intake(row.intake());
        return handbook().stream()
                .flatMap(book -> book.intake().values().stream())
                .filter(one -> one.mailbox() != null
                        && own.mailbox() != null
                        && one.mailbox().isSameAs(own.mailbox())
                        && !one.name().equals(own.name()))
                .map(Intake::name)
                .toList();
    }

    private CaseRow open(LedgerTransaction tx, Intake intake, MailRow row, Request request, String by) {
        CaseRow opened = cases.open(
                tx, request.meant(), request.wanted(), Arrival.mail(intake.name(), request.proof()), brought -> {
                    log(tx, brought, intake, row, by, Became.CASE);
                    documents.keep(tx, brought, request.meant(), request.mail().attachments());
                });
        if (intake.acknowledge() != null) {
            acknowledgements.wanted(tx, opened, intake);
        }
        return opened;
    }

    private static void log(LedgerTransaction tx, CaseRow about, Intake intake, MailRow row, String by, Became became) {
        tx.trail(
                about.id(),
                "",
                new TrailEvent(
                        by,
                        TrailWord.MAIL_TAKEN_IN,
                        "",
                        Json.object()
                                .put("intake", intake.name())
                                .put("from", row.sender())
                                .put("proof", row.proof())
                                .put("mail", row.id())
                                .put("became", became.word())));
    }

    private boolean leaveOut(MailRow row, byte[] raw, @Nullable MailboxRow stands) {
        return writer.write(tx -> {
            if (stands != null) {
                mails.stands(stands);
            }
            Optional<MailRow> known = mails.find(row.id());
            boolean told = known.isPresent() || isTakenBeside(row) || mails.isLeftOut(row, beside(row));
            if (!told) {
                boolean kept = raw.length <= LARGEST_LEFT_OUT;
                mails.insert(
                        kept
                                ? row
                                : row.because(bounded(
                                        "it is kept in the mailbox alone, being large; " + row.reason(), 1_000)),
                        kept ? raw : new byte[0]);
            }
            return known.map(one -> !one.caseId().isEmpty()).orElse(false);
        });
    }

    /**
     * What became of a mail that somebody gave.
     *
     * @param outcome {@code opened}, {@code joined}, {@code known}, {@code left-out} or {@code tried}
     * @param caseId the case it is about; empty for none
     * @param why why it was left out; empty when it wasn't
     * @param would what it would become; null unless it was only tried
     */
    public record Given(
            String outcome,
            String caseId,
            String why,
            @Nullable ObjectNode would) {}

    /**
     * Takes in a mail that somebody gives, or says what would become of it. No server of ours vouches for what it says. Empty when no
     * mails come to {@code name} at a desk they work for.
     */
    public Optional<Given> takeGiven(Person by, String name, byte[] raw, boolean dry) {
        return handbook()
                .map(book -> book.intake().get(name))
                .filter(one -> one.mailbox() != null
                        && Access.SEND_MESSAGES.allows(by, kind(one).desk()))
                .map(one -> dry ? tried(one, raw) : given(one, raw));
    }

    private Given given(Intake intake, byte[] raw) {
        boolean known = mails.find(digest(intake.name(), raw)).isPresent();
        take(intake, SenderProof.NONE, Set.of(), raw, null);
        MailRow row = mails.find(digest(intake.name(), raw)).orElse(null);
        if (row == null) {
            return new Given("known", "", "another intake of the mailbox has read it", null);
        } else if (known || !row.reason().isEmpty()) {
            return new Given(known ? "known" : "left-out", row.caseId(), row.reason(), null);
        }
        return new Given(row.became().equals(Became.CASE.word()) ? "opened" : "joined", row.caseId(), "", null);
    }

    private Given tried(Intake intake, byte[] raw) {
        try {
            Mail mail = MailParser.parse(raw);
            Optional<String> automatic = Automatic.reason(mail, Set.of());
            if (automatic.isPresent()) {
                throw new LeftOut(automatic.get());
            }
            Optional<CaseRow> about = threads.caseOf(mail);
            if (about.isPresent()) {
                ObjectNode would = Json.object().put("joins", about.get().id()).put("text", MailRequests.text(mail));
                return new Given("tried", about.get().id(), "", would);
            }
            Request request = requests.read(intake, mail, SenderProof.NONE, null);
            cases.check(request.wanted());
            ObjectNode would = Json.object()
                    .put("kind", request.wanted().kind())
                    .put("requester", request.meant().id())
                    .put("subject", request.wanted().subject())
                    .put("text", request.wanted().text());
            would.set("fields", Json.of(request.wanted().fields()));
            return new Given("tried", "", "", would);
        } catch (MailParser.Unreadable e) {
            return new Given("left-out", "", "it can't be read: " + e.getMessage(), null);
        } catch (LeftOut e) {
            return new Given("left-out", "", String.valueOf(e.getMessage()), null);
        } catch (InvalidCase e) {
            return new Given("left-out", "", String.join("; ", e.wrong()), null);
        }
    }

    /** Notes where reading stands when there is nothing to take in. */
    void stands(MailboxRow row) {
        writer.write(tx -> {
            mails.stands(row);
            return row;
        });
    }

    /**
     * A person of the desk has a mail taken in that was left out, for somebody they name; what it says of its sender stays a claim.
     * Empty when there is no such mail at a desk they work for; throws {@link InvalidCase} when it can't become a case.
     */
    public Optional<CaseRow> takeInByHand(Person by, String name, String id, String requester) {
        Optional<MailRow> found = mails.find(id)
                .filter(one -> one.intake().equals(name)
                        && Access.SEND_MESSAGES.allows(
                                by, kind(intake(one.intake())).desk()));
        return found.map(row -> takeInByHand(by, row, intake(row.intake()), requester));
    }

    private CaseRow takeInByHand(Person by, MailRow row, Intake intake, String requester) {
        String id = row.id();
        if (!row.caseId().isEmpty()) {
            throw new InvalidCase(List.of("mail: it has become " + row.caseId() + " already"));
        }
        Person meant = people.find(requester)
                .orElseThrow(() -> new InvalidCase(List.of("requester: there is no person ‘" + requester + "’")));
        byte[] raw = mails.content(id)
                .filter(content -> content.length > 0)
                .orElseThrow(() -> new InvalidCase(List.of("mail: it isn't kept here; open a case with what it says")));
        Request request;
        try {
            request = requests.read(intake, MailParser.parse(raw), SenderProof.NONE, meant);
            documents.readBeforehand(request.mail().attachments(), true); // somebody of the desk looked at it
        } catch (LeftOut | MailParser.Unreadable e) {
            throw new InvalidCase(List.of("mail: " + e.getMessage()));
        }
        MailRow claimed = row.proven(Proof.CLAIMED.word());
        return writer.write(tx -> {
            if (mails.find(id)
                    .map(MailRow::caseId)
                    .filter(one -> !one.isEmpty())
                    .isPresent()) {
                throw new InvalidCase(List.of("mail: somebody else was faster"));
            }
            CaseRow opened = open(tx, intake, claimed, request, TrailEvent.person(by.id()));
            mails.became(claimed.becoming(opened.id(), Became.CASE));
            return opened;
        });
    }

    /** Mails of an intake that were left out, the newest first; empty when there is no such intake of a desk one works for. */
    public Optional<List<MailRow>> leftOut(Person person, String name) {
        return handbook()
                .map(book -> book.intake().get(name))
                .filter(one -> one.mailbox() != null
                        && person.staffDesks().contains(kind(one).desk()))
                .map(one -> mails.leftOut(name, MOST_LISTED));
    }

    private Intake intake(String name) {
        return handbook()
                .map(book -> book.intake().get(name))
                .filter(one -> one.mailbox() != null)
                .orElseThrow(() -> new InvalidCase(List.of("intake: no mails come to ‘" + name + "’")));
    }

    private Kind kind(Intake intake) {
        return handbook()
                .map(book -> book.kinds().get(intake.kind()))
                .orElseThrow(() -> new InvalidCase(List.of("kind: there is no kind ‘" + intake.kind() + "’")));
    }

    private Optional<Handbook> handbook() {
        return editions.current().map(edition -> edition.handbook());
    }

    private MailRow unreadable(Intake intake, byte[] raw) {
        return row(intake, raw, "", "(can't be read)", Proof.CLAIMED, "", "");
    }

    private MailRow row(Intake intake, SenderProof proof, Mail mail, byte[] raw) {
        String sender = mail.from().isEmpty() ? "" : mail.from().get(0).address();
        List<String> answered =
                mail.references().stream().filter(MailIntake::isId).toList();
        String refs =
                String.join(" ", answered.subList(Math.max(0, answered.size() - MOST_REFERENCES), answered.size()));
        String messageId = isId(mail.messageId()) ? mail.messageId() : "";
        return row(intake, raw, sender, ThreadMark.plain(mail.subject()), proof.of(mail), messageId, refs);
    }

    /** Whether a Message-ID of somebody else's can stand in a header of ours. */
    private static boolean isId(String id) {
        return id.matches("[\\x21-\\x3b\\x3d\\x3f-\\x7e]{1,400}");
    }

    private MailRow row(
            Intake intake, byte[] raw, String sender, String subject, Proof proof, String messageId, String refs) {
        return new MailRow(
                digest(intake.name(), raw),
                intake.name(),
                clock.instant(),
                bounded(sender, 400),
                bounded(subject, 1_000),
                proof.word(),
                "",
                "",
                messageId,
                refs,
                Became.CASE.word(),
                Json.sha256(raw));
    }

    private static String digest(String intake, byte[] raw) {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            digest.update((intake + "\n").getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest.digest(raw));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
