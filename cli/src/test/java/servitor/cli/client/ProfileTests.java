package servitor.cli.client;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ProfileTests {
    @TempDir
    Path home;

    private Map<String, String> environment() {
        return Map.of("SERVITOR_CONFIG", home.toString());
    }

    @Test
    void aProfileComesBackAsItWasKept() throws IOException {
        Profile kept = new Profile("http://127.0.0.1:9", "svt_1");
        kept.save(Profile.folder(environment()), "osei");
        assertThat(Profile.choose("osei", null, environment())).isEqualTo(kept);
    }

    @Test
    void onlyItsOwnerCanReadATokenEvenWhenTheFileWasOpenBefore() throws IOException {
        Path folder = Files.createDirectories(Profile.folder(environment()));
        Path file = Files.writeString(folder.resolve("osei.properties"), "token=old");
        Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-rw-rw-"));
        new Profile("http://127.0.0.1:9", "svt_1").save(folder, "osei");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                .isEqualTo("rw-------");
    }

    @Test
    void anAddressOnTheCommandLineComesFirst() throws IOException {
        new Profile("http://127.0.0.1:9", "svt_1").save(Profile.folder(environment()), "osei");
        assertThat(Profile.choose("osei", "http://127.0.0.1:10", environment()))
                .isEqualTo(new Profile("http://127.0.0.1:10", "svt_1"));
    }

    @Test
    void withoutAProfileTheEnvironmentSaysAndElseTheDefault() {
        assertThat(Profile.choose(null, null, Map.of())).isEqualTo(new Profile(Profile.DEFAULT_URL, null));
        assertThat(Profile.choose(null, null, Map.of("SERVITOR_URL", "http://127.0.0.1:9", "SERVITOR_TOKEN", "svt_2")))
                .isEqualTo(new Profile("http://127.0.0.1:9", "svt_2"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"../osei", "a/b", "", "a b"})
    void aNameIsNeverAPath(String name) {
        assertThatThrownBy(() -> Profile.choose(name, null, environment()))
                .isInstanceOf(Trouble.class)
                .hasMessageContaining("name of a profile");
    }

    @Test
    void aMissingProfileIsToldWithItsPlace() {
        assertThatThrownBy(() -> Profile.choose("nobody", null, environment()))
                .isInstanceOf(Trouble.class)
                .hasMessageContaining("nobody.properties");
    }
}
