package servitor.service.ledger;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** The trail, and the long texts it refers to. Entries are added by {@link LedgerTransaction#trail}. */
@Component
public class TrailStore {
    private final TrailMapper trail;

    TrailStore(TrailMapper trail) {
        this.trail = trail;
    }

    /** The time of the newest entry; empty when there is none. */
    public Optional<Instant> newestEntry() {
        return Optional.ofNullable(trail.newestTime());
    }

    /** Long texts that were kept before {@code before}, the oldest first. */
    public List<MaterialRow> materialToMoveOut(Instant before, int limit) {
        return trail.materialBefore(before, limit);
    }

    public void dropMaterial(String hash) {
        trail.deleteMaterial(hash);
    }

    /** The number of the last trail entry. */
    public long head() {
        return trail.head().seq();
    }

    /** Trail entries after number {@code after}, oldest first. */
    public List<RecordedEntry> after(long after, int limit) {
        return trail.after(after, limit).stream().map(TrailStore::recorded).toList();
    }

    public List<RecordedEntry> ofCase(String caseId, long after, int limit) {
        return ofCase(caseId, null, after, limit);
    }

    /** Entries of a case above number {@code after}, the oldest first; those of one sort, or all. */
    public List<RecordedEntry> ofCase(String caseId, @Nullable String what, long after, int limit) {
        return trail.ofCase(caseId, what, after, limit).stream()
                .map(TrailStore::recorded)
                .toList();
    }

    /** Newest trail entries below number {@code below} that concern no case or one of {@code desks}. */
    public List<RecordedEntry> newest(Collection<String> desks, @Nullable String what, long below, int limit) {
        return trail.newest(desks, what, below, limit).stream()
                .map(TrailStore::recorded)
                .toList();
    }

    /** The cases of these desks in which one of these words was written since, the one written last first. */
    public List<String> casesWith(Collection<String> desks, Collection<TrailWord> words, Instant since, int limit) {
        return desks.isEmpty()
                ? List.of()
                : trail.casesWith(desks, words.stream().map(TrailWord::word).toList(), since, limit);
    }

    public Optional<String> material(String hash) {
        LedgerTransaction.writeHeld();
        return Optional.ofNullable(trail.material(hash));
    }

    private static RecordedEntry recorded(TrailRow row) {
        TrailEntry entry = new TrailEntry(
                row.seq(),
                row.at(),
                row.actor(),
                row.caseId(),
                row.runId(),
                row.step(),
                row.what(),
                row.digest(),
                row.previous(),
                row.hash());
        return new RecordedEntry(entry, row.salt(), row.data() == null ? null : readData(row.data()));
    }

    /** Data that was tampered with may no longer be JSON; it is then shown as the text it is, and fails verification. */
    private static JsonNode readData(String data) {
        try {
            return Json.read(data);
        } catch (MalformedJson e) {
            return Json.of(data);
        }
    }
}
