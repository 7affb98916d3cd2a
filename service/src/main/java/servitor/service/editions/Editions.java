package servitor.service.editions;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.engine.PublishedEditions;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ServitorSettings;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import tools.jackson.databind.node.ObjectNode;

/** Publishes handbooks and gives back published ones, parsed once. */
@Service
public class Editions implements PublishedEditions {
    private final EditionStore editionStore;
    private final Writer writer;
    private final ServitorSettings settings;
    private volatile @Nullable Edition newest;
    private volatile int published;
    private final Map<Integer, Edition> parsed = new ConcurrentHashMap<>();

    Editions(EditionStore editionStore, Writer writer, ServitorSettings settings) {
        this.editionStore = editionStore;
        this.writer = writer;
        this.settings = settings;
        writer.onCommit(changes -> {
            if (changes.stream().anyMatch(change -> change.what().equals("edition"))) {
                forget();
            }
        });
    }

    /** What came of publishing. {@code isNew} is false when the newest edition already had this content. */
    public record Published(EditionRow edition, boolean isNew, List<Finding> findings) {}

    /** Publishes {@code files} as the next edition, or says why not. */
    public Published publish(Map<String, String> files, String note, String person) {
        return publish(files, new Why(note, ""), person, null);
    }

    /**
     * Why an edition is published.
     *
     * @param despite why although something isn't as rehearsed; empty when all is
     */
    record Why(String note, String despite) {}

    /** The same, but only while {@code after} is still the newest edition, where that is told. */
    Published publish(Map<String, String> files, Why why, String person, @Nullable Integer after) {
        CheckedHandbook checked = CheckedHandbook.of(files);
        if (!checked.sound()) {
            throw new HandbookRefused(checked.findings());
        }
        String digest = Json.digest(Json.of(new TreeMap<>(files)));
        return writer.write(tx -> {
            Optional<EditionRow> newest = editionStore.newest();
            if (newest.isPresent() && newest.get().digest().equals(digest)) {
                return new Published(newest.get(), false, checked.findings());
            }
            int number = newest.map(EditionRow::number).orElse(0) + 1;
            if (after != null && number != after + 1) {
                throw new DraftConflict(List.of("edition " + (number - 1)));
            }
            EditionRow row = new EditionRow(number, digest, why.note(), person, tx.now());
            editionStore.insert(row, files);
            tx.changed(new LedgerTransaction.Changed("edition", String.valueOf(number), "", ""));
            ObjectNode data =
                    Json.object().put("edition", number).put("digest", digest).put("note", why.note());
            if (!why.despite().isEmpty()) {
                data.put("despite", why.despite());
            }
            tx.trail("", "", new TrailEvent(TrailEvent.person(person), TrailWord.EDITION_PUBLISHED, "", data));
            return new Published(row, true, checked.findings());
        });
    }

    /** The edition that new runs start on; empty before the first is published. */
    @Override
    public Optional<Edition> current() {
        Edition known = newest;
        if (known != null) {
            return Optional.of(known);
        }
        int before = published;
        Optional<Edition> read = editionStore.newest().map(row -> get(row.number()));
        remember(read.orElse(null), before);
        return read;
    }

    private synchronized void forget() {
        published++;
        newest = null;
    }

    /** What was read before somebody published isn't remembered; nor is anything where other processes publish, too. */
    private synchronized void remember(@Nullable Edition read, int before) {
        if (before == published && !settings.isShared()) {
            newest = read;
        }
    }

    /** A published edition by its number. */
    @Override
    public Edition get(int number) {
        return parsed.computeIfAbsent(number, this::parse);
    }

    private Edition parse(int number) {
        Map<String, String> files = files(number);
        if (files.isEmpty()) {
            throw new IllegalArgumentException("there is no edition " + number);
        }
        return new Edition(number, CheckedHandbook.of(files).handbook());
    }

    /** The files of an edition by path. */
    public Map<String, String> files(int number) {
        Map<String, String> files = new LinkedHashMap<>();
        for (FileRow file : editionStore.files(number)) {
            files.put(file.path(), file.text());
        }
        return files;
    }
}
