package servitor.service.connections;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Which files may be followed. */
class FollowedPathTests {
    @TempDir
    private Path folder;

    private static final List<Path> LOGS = List.of(Path.of("/var/log/kiosks"));

    @ParameterizedTest
    @ValueSource(
            strings = {
                "file:/etc/passwd",
                "file:/var/log/kiosks",
                "file:/var/log/kiosks/../../../etc/passwd",
                "file:/var/log/kiosks/./a.log",
                "file:/var/log/kiosks2/a.log",
                "file://host/var/log/kiosks/a.log",
                "file:/var/log/kiosks/%2e%2e/a.log",
                "file:/var/log/kiosks/a.log?x=1",
                "file:kiosks/a.log",
                "file:",
                "http://var/log/kiosks/a.log"
            })
    void whatLiesElsewhereIsRefused(String url) {
        assertThatThrownBy(() -> FollowedPath.of(url, LOGS)).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void nothingIsFollowedUntilSomebodyAllowsIt() {
        assertThat(FollowedPath.of("file:/var/log/kiosks/a.log", LOGS).path()).hasToString("/var/log/kiosks/a.log");
        assertThatThrownBy(() -> FollowedPath.of("file:/var/log/kiosks/a.log", List.of()))
                .hasMessageContaining("SERVITOR_FOLLOW_UNDER");
        assertThatThrownBy(() -> FollowedPath.of("file:/var/log/kiosks/a.log", List.of(Path.of(""))))
                .isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void aLinkThatLeadsOutOfTheFolderIsNotRead() throws IOException {
        Path logs = Files.createDirectory(folder.resolve("logs"));
        Path secret = Files.writeString(folder.resolve("secret"), "secret");
        Files.createSymbolicLink(logs.resolve("out.log"), secret);
        Files.writeString(logs.resolve("real.log"), "x");
        Files.createSymbolicLink(logs.resolve("in.log"), logs.resolve("real.log"));
        assertThatThrownBy(() -> FollowedPath.of("file:" + logs.resolve("out.log"), List.of(logs))
                        .real())
                .isInstanceOf(IOException.class)
                .hasMessageContaining("leads out");
        assertThat(FollowedPath.of("file:" + logs.resolve("in.log"), List.of(logs))
                        .real())
                .isEqualTo(logs.resolve("real.log").toRealPath());
    }
}
