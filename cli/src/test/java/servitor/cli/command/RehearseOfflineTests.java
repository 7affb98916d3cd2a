package servitor.cli.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** Rehearsals play where there is no network at all. */
@Tag("outside")
class RehearseOfflineTests {
    @Test
    void aHandbookIsRehearsedWithoutAnyNetwork() throws IOException, InterruptedException {
        Process process = new ProcessBuilder(
                        "bwrap",
                        "--unshare-net",
                        "--dev-bind",
                        "/",
                        "/",
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-cp",
                        System.getProperty("java.class.path"),
                        "servitor.cli.Main",
                        "handbook",
                        "rehearse",
                        Path.of("../demo/handbook").toAbsolutePath().normalize().toString())
                .redirectErrorStream(true)
                .start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(said).isZero();
        assertThat(said).contains("all as rehearsed");
    }
}
