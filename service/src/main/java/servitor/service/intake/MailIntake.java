package servitor.service.intake;

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
import servitor.service.cases.CaseRow;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.Documents;
import servitor.service.cases.InvalidCase;
import servitor.service.cases.TooMany;
import servitor.service.editions.Editions;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Takes mails in: each becomes a case, or is kept with the reason why it became none. Whether it was taken in, and where reading
 * stands, is one transaction, so that nothing is lost and nothing doubled.
 */
@Service
public class MailIntake {
    private static final int LONGEST_TEXT = 20_000;
    private static final int MOST_LISTED = 500;
    /** Of strangers' mails not more is kept, so that nobody fills the house with them. */
    private static final int LARGEST_LEFT_OUT = 2_000_000;

    private static final int LONGEST_SUBJECT = 200;
    private static final String CUT = "\n\n[The rest stands in the mail itself.]";

    private final MailStore mails;
    private final Cases cases;
    private final Documents documents;
    private final Editions editions;
    private final PersonStore personStore;
    private final PeopleReader people;
    private final Writer writer;
    private final Clock clock;

    MailIntake(
            MailStore mails,
            Cases cases,
            Documents documents,
            Editions editions,
            PersonStore personStore,
            PeopleReader people,
            Writer writer,
            Clock clock) {
        this.mails = mails;
        this.cases = cases;
        this.documents = documents;
        this.editions = editions;
        this.personStore = personStore;
        this.people = people;
        this.writer = writer;
        this.clock = clock;
    }

    /** A mail isn't what becomes a case; the message says why. */
    private static final class LeftOut extends Exception {
        private static final long serialVersionUID = 1L;

        LeftOut(String why) {
            super(why);
        }
    }

    /**
     * What a mail asks for, and for whom.
     *
     * @param proof how well it is known that they ask: what is known of a mail's sender says nothing of others that it names
     */
    private record Request(Person meant, NewCase wanted, Mail mail, Proof proof) {}

    /**
     * Takes one mail in and notes that reading stands behind it. Returns whether it became a case, now or earlier.
     *
     * @param proof whose word about its sender counts
     * @param own addresses that are ours
     * @param stands where reading stands once it is taken in
     */
    boolean take(Intake intake, SenderProof proof, Set<String> own, byte[] raw, MailboxRow stands) {
        MailRow row = unreadable(intake, raw);
        String reason;
        try {
            Mail mail = MailParser.parse(raw);
            row = row(intake, proof, mail, raw);
            return open(intake, row, raw, request(intake, mail, proof, own, null), stands);
        } catch (MailParser.Unreadable e) {
            reason = "it can't be read: " + e.getMessage();
        } catch (LeftOut | TooMany | IllegalArgumentException e) {
            reason = String.valueOf(e.getMessage());
        } catch (InvalidCase e) {
            reason = String.join("; ", e.wrong());
        }
        return leaveOut(row.because(bounded(reason, 1_000)), raw, stands);
    }

    private boolean open(Intake intake, MailRow row, byte[] raw, Request request, MailboxRow stands) {
        return writer.write(tx -> {
            mails.stands(stands);
            Optional<MailRow> known = mails.find(row.id());
            if (known.isEmpty()) {
                CaseRow opened = open(tx, intake, row, request, TrailEvent.SYSTEM);
                mails.insert(row.becoming(opened.id()), raw);
            }
            return known.map(one -> !one.caseId().isEmpty()).orElse(true);
        });
    }

    private CaseRow open(LedgerTransaction tx, Intake intake, MailRow row, Request request, String by) {
        CaseRow opened = cases.openForMail(tx, request.meant(), request.wanted(), intake.name(), request.proof());
        tx.trail(
                opened.id(),
                "",
                new TrailEvent(
                        by,
                        TrailWord.MAIL_TAKEN_IN,
                        "",
                        Json.object()
                                .put("intake", intake.name())
                                .put("from", row.sender())
                                .put("proof", row.proof())
                                .put("mail", row.id())));
        documents.keep(tx, opened, request.meant(), request.mail().attachments());
        return opened;
    }

    private boolean leaveOut(MailRow row, byte[] raw, MailboxRow stands) {
        return writer.write(tx -> {
            mails.stands(stands);
            Optional<MailRow> known = mails.find(row.id());
            if (known.isEmpty()) {
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
            request = request(intake, MailParser.parse(raw), SenderProof.NONE, Set.of(), meant);
        } catch (LeftOut | MailParser.Unreadable e) {
            throw new InvalidCase(List.of("mail: " + e.getMessage()));
        }
        MailRow claimed = new MailRow(
                row.id(), row.intake(), row.received(), row.sender(), row.subject(), Proof.CLAIMED.word(), "", "");
        return writer.write(tx -> {
            if (mails.find(id)
                    .map(MailRow::caseId)
                    .filter(one -> !one.isEmpty())
                    .isPresent()) {
                throw new InvalidCase(List.of("mail: somebody else was faster"));
            }
            CaseRow opened = open(tx, intake, claimed, request, TrailEvent.person(by.id()));
            mails.became(claimed.becoming(opened.id()));
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
        return row(intake, raw, "", "(can't be read)", Proof.CLAIMED);
    }

    private MailRow row(Intake intake, SenderProof proof, Mail mail, byte[] raw) {
        String sender = mail.from().isEmpty() ? "" : mail.from().get(0).address();
        return row(intake, raw, sender, ThreadMark.plain(mail.subject()), proof.of(mail));
    }

    private MailRow row(Intake intake, byte[] raw, String sender, String subject, Proof proof) {
        return new MailRow(
                digest(intake.name(), raw),
                intake.name(),
                clock.instant(),
                bounded(sender, 400),
                bounded(subject, 1_000),
                proof.word(),
                "",
                "");
    }

    private static String bounded(String text, int most) {
        return text.length() > most ? text.substring(0, most) : text;
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

    /**
     * What a mail asks for.
     *
     * @param named who it is for by somebody's word; null for whom it says it is from
     */
    private Request request(Intake intake, Mail mail, SenderProof proof, Set<String> own, @Nullable Person named)
            throws LeftOut {
        if (named == null) {
            Optional<String> automatic = Automatic.reason(mail, own);
            if (automatic.isPresent()) {
                throw new LeftOut(automatic.get());
            }
        }
        Intake.Outcome outcome =
                intake.read(message(mail, intake, proof), clock.instant().toString());
        if (outcome instanceof Intake.LeftOut left && named == null) {
            throw new LeftOut(left.why());
        } else if (!(outcome instanceof Intake.Asked asked)) {
            throw new LeftOut(
                    outcome instanceof Intake.Unreadable unreadable
                            ? String.join("; ", unreadable.faults())
                            : "its intake leaves it out");
        } else {
            Person meant = named == null ? sender(String.valueOf(asked.requester())) : named;
            return new Request(
                    meant,
                    new NewCase(
                            intake.kind(),
                            bounded(asked.subject().isBlank() ? "(no subject)" : asked.subject(), LONGEST_SUBJECT),
                            asked.text(),
                            asked.language() == null || asked.language().isBlank() ? null : asked.language(),
                            meant.id(),
                            asked.fields()),
                    mail,
                    named == null && isSender(mail, asked.requester()) ? proof.of(mail) : Proof.CLAIMED);
        }
    }

    private static boolean isSender(Mail mail, @Nullable String address) {
        return mail.from().size() == 1 && address != null && mail.from().get(0).is(address.strip());
    }

    private Person sender(String address) throws LeftOut {
        List<PersonRow> meant = personStore.withAddress(address);
        if (meant.size() != 1) {
            throw new LeftOut(
                    (meant.isEmpty() ? "nobody here has" : "several people have") + " the address ‘" + address + "’");
        }
        return people.find(meant.get(0).id())
                .filter(Person::enabled)
                .orElseThrow(() -> new LeftOut("whoever has the address ‘" + address + "’ may sign in no more"));
    }

    /** A mail as expressions know it ({@link Intake#OF_MAIL}). */
    private static ObjectNode message(Mail mail, Intake intake, SenderProof proof) {
        String text = mail.text().length() > LONGEST_TEXT
                ? mail.text().substring(0, LONGEST_TEXT - CUT.length()) + CUT
                : mail.text();
        ObjectNode message = Json.object()
                .put("from", mail.from().isEmpty() ? "" : mail.from().get(0).address())
                .put("name", mail.from().isEmpty() ? "" : mail.from().get(0).name())
                .put("subject", ThreadMark.plain(mail.subject()))
                .put("text", text)
                .put("folder", intake.mailbox() == null ? "" : intake.mailbox().folder())
                .put(
                        "language",
                        mail.header("Content-Language")
                                .map(MailIntake::language)
                                .orElse(""))
                .put("size", mail.size())
                .put("proof", proof.of(mail).word());
        addresses(message.putArray("to"), mail.to());
        addresses(message.putArray("cc"), mail.cc());
        ArrayNode headers = message.putArray("headers");
        mail.headers().stream()
                .limit(900)
                .forEach(header -> headers.addObject()
                        .put("name", header.name())
                        .put("value", bounded(header.value(), LONGEST_TEXT)));
        ArrayNode attachments = message.putArray("attachments");
        mail.attachments()
                .forEach(one -> attachments
                        .addObject()
                        .put("name", one.name())
                        .put("type", one.type())
                        .put("size", one.content().length));
        return message;
    }

    private static void addresses(ArrayNode to, List<Mail.Address> all) {
        all.forEach(one -> to.add(one.address()));
    }

    private static String language(String header) {
        String first = header.split("[,;]", 2)[0].strip();
        return first.matches("[a-z]{2,3}(-[A-Za-z0-9]{2,8})?") ? first : "";
    }
}
