package servitor.service.cases;

import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Service;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.engine.Engine;
import servitor.core.handbook.FileRule;
import servitor.core.handbook.Kind;
import servitor.core.json.Json;
import servitor.core.mail.Mail;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.editions.Editions;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.reading.Readings;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Takes documents that people attach to cases. */
@Service
public class Documents {
    private static final String UNKNOWN = "application/octet-stream";
    private static final ReadDocument NOT_READ = ReadDocument.nothing(ReadOutcome.NOT_READ, UNKNOWN, "");

    private final CaseStore caseStore;
    private final Writer writer;
    private final Engine engine;
    private final Editions editions;
    private final Readings readings;

    Documents(CaseStore caseStore, Writer writer, Engine engine, Editions editions, Readings readings) {
        this.readings = readings;
        this.editions = editions;
        this.caseStore = caseStore;
        this.writer = writer;
        this.engine = engine;
    }

    /** A file somebody attaches; {@code content} are its bytes. */
    public record NewDocument(String name, String type, byte[] content) {}

    /** Attaches a document to a case; a run that waits for one goes on with it. */
    public DocumentRow attach(Person person, String caseId, NewDocument wanted) {
        List<String> wrong = new java.util.ArrayList<>();
        if (wanted.name() == null || !wanted.name().matches("[^/\\\\\\p{Cntrl}]{1,200}")) {
            wrong.add("name: a document's name has from 1 to 200 characters and no slashes");
        }
        if (wanted.type() == null || !wanted.type().matches("[a-z]+/[A-Za-z0-9.+-]{1,80}")) {
            wrong.add("type: write the media type, such as text/plain");
        }
        if (!wrong.isEmpty()) {
            throw new InvalidCase(wrong);
        }
        CaseRow about = caseStore.seenBy(person, caseId);
        Access.ADD_TO_CASE.require(person, about);
        ReadDocument read = readings.read(wanted.content(), wanted.name(), true);
        return writer.write(tx -> {
            CaseRow row = caseStore.seenBy(person, caseId);
            Access.ADD_TO_CASE.require(person, row);
            List<String> faults =
                    rule(person, row).faults(wanted.type(), wanted.content().length, attached(person, row));
            if (!faults.isEmpty()) {
                throw new InvalidCase(faults);
            }
            DocumentRow document = row(tx, caseId, person, wanted, read);
            add(tx, row, document, person.asked(row) ? Origin.REQUESTER : Origin.PERSON);
            return document;
        });
    }

    /**
     * Keeps what came with a mail, in the transaction that takes it in: what is empty or too large stays in the mail alone. A run
     * that began by asking for a document goes on with it.
     */
    public void keep(LedgerTransaction tx, CaseRow row, Person by, List<Mail.Attachment> attachments) {
        FileRule rule = rule(by, row);
        int there = attached(by, row);
        for (Mail.Attachment one : attachments) {
            if (rule.faults(one.type(), one.content().length, there).isEmpty()) {
                NewDocument wanted = new NewDocument(one.name(), one.type(), one.content());
                ReadDocument read = readings.find(Json.sha256(one.content())).orElse(NOT_READ);
                DocumentRow document = row(tx, row.id(), by, wanted, read);
                add(tx, row, document, by.asked(row) ? Origin.REQUESTER : Origin.PERSON);
                there++;
            }
        }
    }

    /** What a person may attach: whoever asked is held to what the kind says, and the desk to what any kind takes. */
    private FileRule rule(Person person, CaseRow row) {
        FileRule ofKind = editions.current()
                .map(edition -> edition.handbook().kinds().get(row.kind()))
                .map(Kind::files)
                .orElse(FileRule.USUAL);
        return person.seesAsStaff(row) ? FileRule.ANY : ofKind;
    }

    private int attached(Person person, CaseRow row) {
        String author = TrailEvent.person(person.id());
        return (int) caseStore.documents(row.id()).stream()
                .filter(one -> one.author().equals(author))
                .count();
    }

    /**
     * Reads what comes with a mail, before the writer's turn in which it is taken in.
     *
     * @param proven whether it is known whom the mail is from
     */
    public void readBeforehand(List<Mail.Attachment> attachments, boolean proven) {
        attachments.stream()
                .filter(one ->
                        FileRule.ANY.faults(one.type(), one.content().length, 0).isEmpty())
                .limit(FileRule.USUAL.most())
                .forEach(one -> readings.read(one.content(), one.name(), proven));
    }

    /** What was read of a document; what wasn't is read now. */
    public ReadDocument reading(DocumentRow row) {
        return readings.read(row.content(), row.name(), true);
    }

    /** The titles of the documents that a case lacks, by what its kind says now. */
    public List<String> missing(CaseRow row) {
        ArrayNode there = Json.mapper().createArrayNode();
        caseStore.documents(row.id()).forEach(document -> there.add(document.toPages()));
        ObjectNode view = Json.object()
                .put("subject", row.subject())
                .put("text", row.text())
                .put("language", row.language())
                .put("priority", row.priority())
                .put("channel", row.channel());
        view.set("fields", Json.read(row.fields(), JsonNode.class));
        view.set("documents", there);
        return editions.current()
                .map(edition -> edition.handbook().kinds().get(row.kind()))
                .map(kind -> kind.missingIn(view))
                .orElse(List.of());
    }

    /** A page of a document as a picture; empty when there is none. */
    public Optional<byte[]> picture(DocumentRow row, int page) {
        return readings.picture(row.content(), row.name(), page);
    }

    /** Keeps a document, says so on the trail, and tells the runs of its case. */
    private void add(LedgerTransaction tx, CaseRow row, DocumentRow document, Origin origin) {
        caseStore.insertDocument(tx, document, row);
        tx.trail(
                row.id(),
                "",
                new TrailEvent(
                        document.author(),
                        TrailWord.DOCUMENT_ADDED,
                        "",
                        told(document).put("digest", document.digest())));
        engine.arrived(tx.store(), row.id(), "document", document.name(), TracedValue.of(document.toPages(), origin));
    }

    private static DocumentRow row(
            LedgerTransaction tx, String caseId, Person by, NewDocument wanted, ReadDocument read) {
        return new DocumentRow(
                "D-" + java.util.UUID.randomUUID(),
                caseId,
                tx.now(),
                TrailEvent.person(by.id()),
                wanted.name(),
                type(wanted, read),
                wanted.content().length,
                Json.sha256(wanted.content()),
                read.text(),
                read.outcome().word(),
                read.pages().size(),
                read.outcome() == ReadOutcome.TEXT ? Json.write(read.tablesOfCase()) : null,
                wanted.content());
    }

    private static ObjectNode told(DocumentRow document) {
        return Json.object()
                .put("name", document.name())
                .put("type", document.type())
                .put("size", document.size())
                .put("outcome", document.outcome());
    }

    /** Its type by its content; what was claimed counts where the content tells nothing, and for sorts of plain text. */
    private static String type(NewDocument wanted, ReadDocument read) {
        boolean plain = read.type().equals("text/plain") && wanted.type().startsWith("text/");
        return plain || read.type().equals(UNKNOWN) ? wanted.type() : read.type();
    }
}
