package servitor.service.reading;

import java.time.Instant;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.core.document.ReadDocument;
import servitor.core.json.Json;

/** What was read of documents, as it is kept. */
@Component
class ReadingStore {
    private final ReadingMapper rows;

    ReadingStore(ReadingMapper rows) {
        this.rows = rows;
    }

    Optional<ReadDocument> find(String digest) {
        return Optional.ofNullable(rows.find(digest)).map(read -> Json.read(read, ReadDocument.class));
    }

    void put(String digest, ReadDocument read, Instant at) {
        rows.put(digest, at, Json.write(read));
    }
}
