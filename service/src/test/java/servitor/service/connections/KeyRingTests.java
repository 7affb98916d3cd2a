package servitor.service.connections;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class KeyRingTests {
    @TempDir
    private Path folder;

    private KeyRing keys;

    @BeforeEach
    void make() {
        keys = new KeyRing(folder.resolve("keys"));
    }

    @Test
    void whatIsSealedOpensForItsConnectionOnly() {
        String sealed = keys.seal("fares", "tide and time");

        assertThat(sealed).doesNotContain("tide");
        assertThat(keys.seal("fares", "tide and time"))
                .as("never the same twice")
                .isNotEqualTo(sealed);
        assertThat(keys.open("fares", sealed)).isEqualTo("tide and time");
        assertThatThrownBy(() -> keys.open("models", sealed)).isInstanceOf(KeyRing.CannotOpen.class);
    }

    @Test
    void whatWasTamperedWithDoesntOpen() {
        String sealed = keys.seal("fares", "tide and time");
        char last = sealed.charAt(sealed.length() - 3);
        String other = sealed.substring(0, sealed.length() - 3)
                + (last == 'A' ? 'B' : 'A')
                + sealed.substring(sealed.length() - 2);

        assertThatThrownBy(() -> keys.open("fares", other)).isInstanceOf(KeyRing.CannotOpen.class);
        assertThatThrownBy(() -> keys.open("fares", "1:nonsense")).isInstanceOf(KeyRing.CannotOpen.class);
    }

    @Test
    void afterRenewingOldAndNewOpenUntilTheOldKeyIsForgotten() {
        String old = keys.seal("fares", "ebb");
        keys.renew();
        String renewed = keys.seal("fares", "flood");
        assertThat(keys.open("fares", old)).isEqualTo("ebb");

        keys.keepNewest();

        assertThat(keys.open("fares", renewed)).isEqualTo("flood");
        assertThatThrownBy(() -> keys.open("fares", old))
                .isInstanceOf(KeyRing.CannotOpen.class)
                .hasMessageContaining("isn't in");
    }

    @Test
    void theFileIsItsOwnersAlone() throws IOException {
        keys.seal("fares", "ebb");

        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve("keys"))))
                .isEqualTo("rw-------");
    }
}
