package servitor.service.intake;

import java.time.Clock;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Proof;
import servitor.core.json.Json;
import servitor.core.mail.Mail;
import servitor.core.mail.SenderProof;
import servitor.core.mail.ThreadMark;
import servitor.service.cases.Cases.NewCase;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Reads a mail as the case that it asks for. */
@Component
class MailRequests {
    static final int LONGEST_TEXT = 20_000;
    private static final int LONGEST_SUBJECT = 200;
    private static final int MOST_HEADERS = 900;
    private static final String CUT = "\n\n[The rest stands in the mail itself.]";

    private final PersonStore personStore;
    private final PeopleReader people;
    private final Clock clock;

    MailRequests(PersonStore personStore, PeopleReader people, Clock clock) {
        this.personStore = personStore;
        this.people = people;
        this.clock = clock;
    }

    /**
     * What a mail asks for, and for whom.
     *
     * @param proof how well it is known that they ask: what is known of a mail's sender says nothing of others that it names
     */
    record Request(Person meant, NewCase wanted, Mail mail, Proof proof) {}

    /** Whether the condition of an intake takes a mail, whatever else stands in the way of a case. */
    boolean isWanted(Intake intake, Mail mail, SenderProof proof) {
        Intake.Outcome outcome =
                intake.read(message(mail, intake, proof), clock.instant().toString());
        return !(outcome instanceof Intake.LeftOut);
    }

    /**
     * What a mail asks for.
     *
     * @param named who it is for by somebody's word; null for whom it says it is from
     */
    Request read(Intake intake, Mail mail, SenderProof proof, @Nullable Person named) throws LeftOut {
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

    static boolean isSender(Mail mail, @Nullable String address) {
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

    static String bounded(String text, int most) {
        return text.length() > most ? text.substring(0, most) : text;
    }

    /** What is written in a mail, so far as a note or a case holds that. */
    static String text(Mail mail) {
        return mail.text().length() > LONGEST_TEXT
                ? mail.text().substring(0, LONGEST_TEXT - CUT.length()) + CUT
                : mail.text();
    }

    /** A mail as expressions know it ({@link Intake#OF_MAIL}). */
    private static ObjectNode message(Mail mail, Intake intake, SenderProof proof) {
        ObjectNode message = Json.object()
                .put("from", mail.from().isEmpty() ? "" : mail.from().get(0).address())
                .put("name", mail.from().isEmpty() ? "" : mail.from().get(0).name())
                .put("subject", ThreadMark.plain(mail.subject()))
                .put("text", text(mail))
                .put("folder", intake.mailbox() == null ? "" : intake.mailbox().folder())
                .put(
                        "language",
                        mail.header("Content-Language")
                                .map(MailRequests::language)
                                .orElse(""))
                .put("size", mail.size())
                .put("proof", proof.of(mail).word());
        addresses(message.putArray("to"), mail.to());
        addresses(message.putArray("cc"), mail.cc());
        ArrayNode headers = message.putArray("headers");
        mail.headers().stream()
                .limit(MOST_HEADERS)
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
