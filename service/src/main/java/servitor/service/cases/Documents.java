package servitor.service.cases;

import java.util.List;
import org.springframework.stereotype.Service;
import servitor.core.engine.Engine;
import servitor.core.json.Json;
import servitor.core.mail.Mail;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.Person;
import tools.jackson.databind.node.ObjectNode;

/** Takes documents that people attach to cases. */
@Service
public class Documents {
    private static final int MOST_BYTES = 1_000_000;
    private static final int MOST_OF_MAIL = 20;

    private final CaseStore caseStore;
    private final Writer writer;
    private final Engine engine;

    Documents(CaseStore caseStore, Writer writer, Engine engine) {
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
        if (wanted.content().length == 0 || wanted.content().length > MOST_BYTES) {
            wrong.add(
                    "content: a document has from 1 to " + MOST_BYTES + " bytes, this has " + wanted.content().length);
        }
        if (!wrong.isEmpty()) {
            throw new InvalidCase(wrong);
        }
        return writer.write(tx -> {
            CaseRow row = caseStore.seenBy(person, caseId);
            Access.ADD_TO_CASE.require(person, row);
            DocumentRow document = row(tx, caseId, person, wanted);
            add(tx, row, document, person.asked(row) ? Origin.REQUESTER : Origin.PERSON);
            return document;
        });
    }

    /**
     * Keeps what came with a mail, in the transaction that takes it in: what is empty or too large stays in the mail alone. A run
     * that began by asking for a document goes on with it.
     */
    public void keep(LedgerTransaction tx, CaseRow row, Person by, List<Mail.Attachment> attachments) {
        attachments.stream()
                .filter(one -> one.content().length > 0 && one.content().length <= MOST_BYTES)
                .limit(MOST_OF_MAIL)
                .forEach(one -> {
                    DocumentRow document =
                            row(tx, row.id(), by, new NewDocument(one.name(), one.type(), one.content()));
                    add(tx, row, document, by.asked(row) ? Origin.REQUESTER : Origin.PERSON);
                });
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
        engine.arrived(
                tx.store(),
                row.id(),
                "document",
                document.name(),
                TracedValue.of(told(document).put("text", document.text()), origin));
    }

    private static DocumentRow row(LedgerTransaction tx, String caseId, Person by, NewDocument wanted) {
        return new DocumentRow(
                "D-" + java.util.UUID.randomUUID(),
                caseId,
                tx.now(),
                TrailEvent.person(by.id()),
                wanted.name(),
                wanted.type(),
                wanted.content().length,
                Json.sha256(wanted.content()),
                text(wanted),
                wanted.content());
    }

    private static ObjectNode told(DocumentRow document) {
        return Json.object()
                .put("name", document.name())
                .put("type", document.type())
                .put("size", document.size());
    }

    /** The text of a document that is text; reading other kinds is for later. */
    private static String text(NewDocument document) {
        return document.type().startsWith("text/")
                ? new String(document.content(), java.nio.charset.StandardCharsets.UTF_8)
                : "";
    }
}
