package servitor.service.editions;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;
import servitor.service.Precondition;
import servitor.service.editions.Editions.Published;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;

/**
 * What each person has changed in the handbook and not published yet, file by file. A draft lies over the current
 * edition; a file that was published meanwhile with another text is a conflict, which the person settles.
 */
@Service
public class Drafts {
    private static final int MOST_FILES = 2_000;

    private final EditionStore editionStore;
    private final Writer writer;
    private final Editions editions;
    private final Publishing publishing;

    Drafts(EditionStore editionStore, Writer writer, Editions editions, Publishing publishing) {
        this.publishing = publishing;
        this.editionStore = editionStore;
        this.writer = writer;
        this.editions = editions;
    }

    /**
     * A handbook as one person sees it while working on it.
     *
     * @param edition the edition it lies over; 0 before the first
     * @param published the files of that edition
     * @param files every file by its path, changes included
     * @param changed the changes, by path
     * @param conflicts files that were published with another text since the change was begun
     * @param others who else has changed a file and not published it, by path
     */
    public record Draft(
            int edition,
            Map<String, String> published,
            Map<String, String> files,
            Map<String, DraftRow> changed,
            List<String> conflicts,
            Map<String, List<String>> others) {}

    public Draft of(String person) {
        int edition = editionStore.newest().map(EditionRow::number).orElse(0);
        Map<String, String> published = edition == 0 ? Map.of() : editions.files(edition);
        Map<String, String> files = new TreeMap<>(published);
        Map<String, DraftRow> changed = new TreeMap<>();
        List<String> conflicts = new ArrayList<>();
        for (DraftRow row : editionStore.draft(person)) {
            String now = published.get(row.path());
            if (same(row.text(), now)) {
                continue; // published meanwhile, just like that
            }
            changed.put(row.path(), row);
            if (!row.base().equals(digest(now))) {
                conflicts.add(row.path());
            }
            if (row.text() == null) {
                files.remove(row.path());
            } else {
                files.put(row.path(), row.text());
            }
        }
        Map<String, List<String>> others = new TreeMap<>();
        editionStore
                .draftsOfOthers(person)
                .forEach(row -> others.computeIfAbsent(row.path(), key -> new ArrayList<>())
                        .add(row.person()));
        return new Draft(edition, published, files, changed, conflicts, others);
    }

    private static boolean same(@Nullable String one, @Nullable String other) {
        return one == null ? other == null : one.equals(other);
    }

    private static String digest(@Nullable String text) {
        return text == null ? "-".repeat(64) : Json.digest(text);
    }

    /** Keeps a person's text for a file; null takes the file out. The base stays what the change was begun from. */
    public void put(String person, String path, @Nullable String text, Precondition precondition) {
        checkPath(path);
        if (text != null && text.length() > 1_000_000) {
            throw new IllegalArgumentException("A file may have at most a million characters.");
        }
        writer.write(tx -> {
            precondition.require(text(person, path));
            List<DraftRow> before = editionStore.draft(person);
            Optional<DraftRow> mine =
                    before.stream().filter(row -> row.path().equals(path)).findFirst();
            if (mine.isEmpty() && before.size() >= MOST_FILES) {
                throw new IllegalArgumentException("A draft may change at most " + MOST_FILES + " files.");
            }
            String base = mine.map(DraftRow::base).orElseGet(() -> digest(published(path)));
            editionStore.putDraft(new DraftRow(person, path, text, base, tx.now()));
            return null;
        });
    }

    /** A file as {@code person} sees it: with their change, if they have one. */
    private Optional<String> text(String person, String path) {
        return editionStore.draft(person).stream()
                .filter(row -> row.path().equals(path))
                .findFirst()
                .map(row -> Optional.ofNullable(row.text()))
                .orElseGet(() -> Optional.ofNullable(published(path)));
    }

    private @Nullable String published(String path) {
        return editionStore
                .newest()
                .map(edition -> editions.files(edition.number()).get(path))
                .orElse(null);
    }

    /** Gives up a change: the file is the published one again. */
    public void drop(String person, String path, Precondition precondition) {
        writer.write(tx -> {
            precondition.require(text(person, path));
            editionStore.dropDraft(person, path);
            return null;
        });
    }

    /** Keeps a change although the file was published with another text meanwhile: the person has seen that text. */
    public void keepOver(String person, String path) {
        writer.write(tx -> {
            editionStore.draft(person).stream()
                    .filter(row -> row.path().equals(path))
                    .forEach(row -> editionStore.putDraft(
                            new DraftRow(person, path, row.text(), digest(published(path)), tx.now())));
            return null;
        });
    }

    /** Publishes what a person has changed; refused while the handbook has errors or a file is in conflict. */
    public Published publish(Person person, Publishing.Intent why) {
        Draft draft = of(person.id());
        if (!draft.conflicts().isEmpty()) {
            throw new DraftConflict(draft.conflicts());
        }
        Published published = publishing.publishDraft(person, draft.files(), why, draft.edition());
        writer.write(tx -> {
            draft.changed().keySet().forEach(path -> editionStore.dropDraft(person.id(), path));
            return null;
        });
        return published;
    }

    /** One's draft as if it were in force; throws {@link IllegalArgumentException} while it has errors. */
    public Edition edition(String person) {
        Draft draft = of(person);
        CheckedHandbook checked = CheckedHandbook.of(draft.files());
        if (!checked.sound()) {
            throw new IllegalArgumentException(
                    "Your draft has errors; see its findings, and try it once they are gone.");
        }
        return new Edition(draft.edition(), checked.handbook());
    }

    /** A path inside a handbook folder, with forward slashes and no way out of it. */
    public static void checkPath(String path) {
        if (!path.matches("[a-zA-Z0-9_.-]+(/[a-zA-Z0-9_.-]+){0,4}") || path.contains("..") || path.length() > 300) {
            throw new IllegalArgumentException("‘" + path + "’ can't be a handbook file.");
        }
    }
}
