package servitor.service.ledger;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.OwnerOnly;
import servitor.service.ServitorSettings;

/**
 * Copies of the whole database, made while the service works. A backup holds the database file and the head of the trail
 * that had been acknowledged before it was begun, so that whoever restores it can see that nothing is missing.
 */
@Component
public class Backups {
    private static final DateTimeFormatter STAMP =
            DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss").withZone(ZoneOffset.UTC);
    private static final String NAME = "servitor-\\d{8}-\\d{6}-\\d+\\.zip";

    private final Writer writer;
    private final TrailMapper trail;
    private final ServitorSettings settings;

    Backups(Writer writer, TrailMapper trail, ServitorSettings settings) {
        this.writer = writer;
        this.trail = trail;
        this.settings = settings;
    }

    /** A backup, and the last entry of the trail it is certain to hold. */
    public record Backup(String name, long seq, long bytes) {}

    /** Makes one; that it was begun is on the trail, and so in the backup itself. */
    public Backup make(String person) {
        if (settings.isShared()) {
            throw new IllegalArgumentException(
                    "The database is shared, so its backup is made where it runs; docs/scaling.md says how.");
        }
        HeadRow head = writer.write(tx -> {
            tx.trail("", "", new TrailEvent(TrailEvent.person(person), TrailWord.BACKUP_BEGUN, "", Json.object()));
            return tx.head();
        });
        String name = "servitor-" + STAMP.format(writer.write(LedgerTransaction::now)) + "-" + head.seq() + ".zip";
        try {
            Path file = OwnerOnly.folder(folder()).resolve(name);
            trail.backup(OwnerOnly.file(file).toString());
            try (FileSystem zip = FileSystems.newFileSystem(URI.create("jar:" + file.toUri()), Map.of())) {
                HeadFile.write(zip.getPath("head"), head);
            }
            OwnerOnly.file(file);
            return new Backup(name, head.seq(), Files.size(file));
        } catch (IOException e) {
            throw new UncheckedIOException("the backup couldn't be written", e);
        }
    }

    private Path folder() {
        return settings.data().resolve("backups");
    }

    /** The file of a backup by its name; empty when there is none. */
    public Optional<Path> file(String name) {
        return Optional.of(name)
                .filter(asked -> asked.matches(NAME))
                .map(folder()::resolve)
                .filter(Files::isRegularFile);
    }

    /** The backups there are, the newest first. */
    public List<String> all() {
        if (!Files.isDirectory(folder())) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(folder())) {
            return files.map(file -> file.getFileName().toString())
                    .filter(name -> name.matches(NAME))
                    .sorted(java.util.Comparator.reverseOrder())
                    .toList();
        } catch (IOException e) {
            throw new UncheckedIOException("the backups can't be listed", e);
        }
    }
}
