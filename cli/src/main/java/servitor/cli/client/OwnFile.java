package servitor.cli.client;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;

/** Files that hold what is in cases: nobody but their owner reads or writes them (0600). */
public final class OwnFile {
    private OwnFile() {}

    /** Writes all of {@code content} to a new file; throws {@link java.nio.file.FileAlreadyExistsException} when there is one. */
    public static void write(Path file, InputStream content) throws IOException {
        try (OutputStream out = Channels.newOutputStream(Files.newByteChannel(
                file,
                Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE),
                PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"))))) {
            content.transferTo(out);
        }
    }
}
