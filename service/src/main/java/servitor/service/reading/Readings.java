package servitor.service.reading;

import java.util.Optional;
import org.springframework.stereotype.Service;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;
import servitor.documents.Reading;
import servitor.service.ledger.Writer;

/** Reads documents. The same file is read once; what came of a limit isn't remembered, as another try may come to something else. */
@Service
public class Readings {
    private static final String UNKNOWN = "application/octet-stream";

    private final Reading reading;
    private final ReadingStore store;
    private final Writer writer;

    Readings(Reading reading, ReadingStore store, Writer writer) {
        this.reading = reading;
        this.store = store;
        this.writer = writer;
    }

    /** Whether what reads has neither network nor files. */
    public boolean isContained() {
        return reading.isContained();
    }

    /**
     * What stands in a file. Takes its time: not to be called within the writer's turn.
     *
     * @param proven whether it is known whom it is from; without a sandbox nothing else is opened
     */
    public ReadDocument read(byte[] content, String name, boolean proven) {
        String digest = Json.sha256(content);
        Optional<ReadDocument> known = store.find(digest);
        if (known.isPresent()) {
            return known.get();
        } else if (!proven && !reading.isContained()) {
            return ReadDocument.nothing(
                    ReadOutcome.NOT_READ,
                    UNKNOWN,
                    "it is only claimed whom it is from, and nothing contains what reads it");
        }
        ReadDocument read = readNow(content, name);
        if (!read.outcome().isOfALimit()) {
            writer.write(tx -> {
                store.put(digest, read, tx.now());
                return read;
            });
        }
        return read;
    }

    /** A page as a picture, as PNG; empty when there is none, or it can't be had at the moment. Takes its time. */
    public Optional<byte[]> picture(byte[] content, String name, int page) {
        try {
            return reading.picture(content, name, page);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return Optional.empty();
        }
    }

    private ReadDocument readNow(byte[] content, String name) {
        try {
            return reading.read(content, name);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return ReadDocument.nothing(ReadOutcome.NOT_READ, UNKNOWN, "the service is ending");
        }
    }

    /** What was read of a file, by its digest; empty when it wasn't, or isn't remembered. */
    public Optional<ReadDocument> find(String digest) {
        return store.find(digest);
    }
}
