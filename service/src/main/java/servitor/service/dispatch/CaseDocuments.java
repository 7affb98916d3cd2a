package servitor.service.dispatch;

import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.handbook.Proof;
import servitor.core.prompt.Prompt;
import servitor.core.run.RunInput.DocumentRead;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.DocumentRow;
import servitor.service.reading.Readings;

/** Reads the documents that runs ask for. */
@Component
class CaseDocuments {
    private static final ReadDocument GONE =
            ReadDocument.nothing(ReadOutcome.NOT_READ, "application/octet-stream", "the document isn't there any more");

    private final CaseStore cases;
    private final Readings readings;

    CaseDocuments(CaseStore cases, Readings readings) {
        this.cases = cases;
        this.readings = readings;
    }

    /** A page of a document of the case as a picture. */
    Optional<byte[]> picture(String caseId, Prompt.Picture picture) {
        return cases.document(picture.document())
                .filter(one -> one.caseId().equals(caseId))
                .flatMap(one -> readings.picture(one.content(), one.name(), picture.page()));
    }

    /** What stands in a document of the case; one of another case isn't there. */
    DocumentRead read(String caseId, String id, String document) {
        Optional<DocumentRow> row =
                cases.document(document).filter(one -> one.caseId().equals(caseId));
        boolean proven = cases.find(caseId)
                .map(CaseRow::proof)
                .filter(proof -> !proof.equals(Proof.CLAIMED.word()))
                .isPresent();
        return new DocumentRead(
                id,
                document,
                row.map(DocumentRow::name).orElse(document),
                row.map(one -> readings.read(one.content(), one.name(), proven)).orElse(GONE));
    }
}
