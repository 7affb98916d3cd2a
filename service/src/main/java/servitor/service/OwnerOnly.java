package servitor.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;

/** Files and folders that nobody but their owner reads or writes (0600 and 0700). */
public final class OwnerOnly {
    private static final Set<PosixFilePermission> FILE = PosixFilePermissions.fromString("rw-------");
    private static final Set<PosixFilePermission> FOLDER = PosixFilePermissions.fromString("rwx------");

    private OwnerOnly() {}

    /** For files that are about to be made. */
    public static FileAttribute<Set<PosixFilePermission>> attribute() {
        return PosixFilePermissions.asFileAttribute(FILE);
    }

    /** Makes the folder, or closes the one there is to others. */
    public static Path folder(Path folder) throws IOException {
        Files.createDirectories(folder);
        return set(folder, FOLDER);
    }

    /** Makes the file if it isn't there, and closes it to others. */
    public static Path file(Path file) throws IOException {
        if (!Files.exists(file)) {
            Files.createFile(file, attribute());
        }
        return set(file, FILE);
    }

    /** Closes every file there is directly in a folder to others. */
    public static void filesOf(Path folder) {
        try (var files = Files.list(folder)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                set(file, FILE);
            }
        } catch (IOException e) {
            throw new UncheckedIOException("the files of " + folder + " can't be closed to others", e);
        }
    }

    private static Path set(Path path, Set<PosixFilePermission> permissions) throws IOException {
        return Files.getPosixFilePermissions(path).equals(permissions)
                ? path
                : Files.setPosixFilePermissions(path, permissions);
    }
}
