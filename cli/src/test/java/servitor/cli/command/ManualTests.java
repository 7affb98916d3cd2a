package servitor.cli.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ManualTests {
    @TempDir
    Path folder;

    private int run(String... args) {
        return Servitor.run(
                Map.of(), new PrintWriter(new StringWriter(), true), new PrintWriter(new StringWriter(), true), args);
    }

    private List<Path> written() throws Exception {
        assertThat(run("manual", folder.resolve("man1").toString())).isZero();
        try (Stream<Path> files = Files.list(folder.resolve("man1"))) {
            return files.sorted().toList();
        }
    }

    @Test
    void everyThingHasAPageWithTheWordsOfItsHelp() throws Exception {
        assertThat(written())
                .extracting(file -> file.getFileName().toString())
                .contains("servitor.1", "servitor-case.1");
        String page = Files.readString(folder.resolve("man1/servitor-connection.1"));
        assertThat(page)
                .startsWith(".TH \"SERVITOR-CONNECTION\" 1")
                .contains(".SH \"NAME\"\nservitor\\-connection \\- Say where outside systems are")
                .contains("\\fB\\-\\-secret\\-file\\fR \\fI")
                .doesNotContain("${");
    }

    @Test
    @Tag("outside")
    void theTypesetterFindsNothingToWarnOf() throws Exception {
        for (Path page : written()) {
            Process groff = new ProcessBuilder("groff", "-man", "-Tutf8", "-Kutf8", "-ww", "-z", page.toString())
                    .redirectErrorStream(true)
                    .start();
            assertThat(new String(groff.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
                    .as(page.toString())
                    .isEmpty();
            assertThat(groff.waitFor()).isZero();
        }
    }
}
