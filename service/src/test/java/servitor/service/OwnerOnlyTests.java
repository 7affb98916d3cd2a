package servitor.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class OwnerOnlyTests {
    private static String rights(Path path) throws Exception {
        return PosixFilePermissions.toString(Files.getPosixFilePermissions(path));
    }

    @Test
    void whatIsMadeAndWhatWasThereIsClosedToOthers(@TempDir Path there) throws Exception {
        Path folder = there.resolve("data");
        Files.createDirectories(folder);
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxrwxrwx"));
        Path old = Files.writeString(folder.resolve("ledger.mv.db"), "x");
        Files.setPosixFilePermissions(old, PosixFilePermissions.fromString("rw-r--r--"));

        OwnerOnly.folder(folder);
        OwnerOnly.filesOf(folder);
        OwnerOnly.file(folder.resolve("head"));

        assertThat(rights(folder)).isEqualTo("rwx------");
        assertThat(rights(old)).isEqualTo("rw-------");
        assertThat(rights(folder.resolve("head"))).isEqualTo("rw-------");
    }
}
