package servitor.cli.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.cli.client.Trouble;

class HandbookFolderTests {
    @TempDir
    Path home;

    private Path folder;

    @BeforeEach
    void aFolder() throws IOException {
        folder = Files.createDirectory(home.resolve("handbook"));
    }

    @Test
    void aHandbookComesBackAsItWasWritten() {
        Map<String, String> files = Map.of("desks.yaml", "a: é\n", "runbooks/refund.md", "# Refund\r\n");
        HandbookFolder.write(folder, files);
        assertThat(HandbookFolder.read(folder)).isEqualTo(files);
    }

    @Test
    void hiddenFilesStayOut() throws IOException {
        Files.createDirectories(folder.resolve(".git"));
        Files.writeString(folder.resolve(".git/config"), "x");
        Files.writeString(folder.resolve(".swp"), "x");
        Files.writeString(folder.resolve("desks.yaml"), "x");
        assertThat(HandbookFolder.read(folder)).containsOnlyKeys("desks.yaml");
    }

    @Test
    void aLinkIsNotFollowed() throws IOException {
        Path secret = Files.writeString(home.resolve("secret"), "x");
        Files.createSymbolicLink(folder.resolve("page.md"), secret);
        Files.createSymbolicLink(folder.resolve("runbooks"), home);
        assertThat(HandbookFolder.read(folder)).isEmpty();
    }

    @Test
    void aFileThatIsNotTextIsNamed() throws IOException {
        Files.write(folder.resolve("page.md"), new byte[] {(byte) 0xff, (byte) 0xfe, 0});
        assertThatThrownBy(() -> HandbookFolder.read(folder))
                .isInstanceOf(Trouble.class)
                .hasMessageContaining("page.md is not a text file");
    }

    @Test
    void aFolderThatIsTooLargeIsRefusedRatherThanReadInPart() throws IOException {
        for (int i = 0; i < 5_001; i++) {
            Files.createFile(folder.resolve(i + ".md"));
        }
        assertThatThrownBy(() -> HandbookFolder.read(folder))
                .isInstanceOf(Trouble.class)
                .hasMessageContaining("more than 5000");
    }

    @Test
    void aPlaceThatIsNotAFolderIsToldSo() {
        assertThatThrownBy(() -> HandbookFolder.read(home.resolve("nowhere")))
                .isInstanceOf(Trouble.class)
                .hasMessageContaining("is not a folder");
    }

    @Test
    void nothingIsOverwrittenAndThenNothingIsWrittenAtAll() throws IOException {
        Files.writeString(folder.resolve("desks.yaml"), "mine");
        assertThatThrownBy(() -> HandbookFolder.write(folder, Map.of("desks.yaml", "theirs", "agents/a.yaml", "x")))
                .isInstanceOf(Trouble.class)
                .hasMessageContaining("is there already");
        assertThat(folder.resolve("desks.yaml")).hasContent("mine");
        assertThat(folder.resolve("agents")).doesNotExist();
    }

    @Test
    void theSameTextMayBeWrittenAgain() throws IOException {
        Files.writeString(folder.resolve("desks.yaml"), "same");
        HandbookFolder.write(folder, Map.of("desks.yaml", "same"));
        assertThat(folder.resolve("desks.yaml")).hasContent("same");
    }

    @ParameterizedTest
    @ValueSource(strings = {"../outside.md", "/outside.md", "runbooks/../../outside.md"})
    void nothingIsWrittenOutsideTheFolder(String path) {
        assertThatThrownBy(() -> HandbookFolder.write(folder, Map.of(path, "x")))
                .isInstanceOf(Trouble.class)
                .hasMessageContaining("outside the folder");
        assertThat(home.resolve("outside.md")).doesNotExist();
    }
}
