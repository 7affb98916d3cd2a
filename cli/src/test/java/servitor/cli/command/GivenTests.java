package servitor.cli.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatExceptionOfType;

import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine.TypeConversionException;

class GivenTests {
    private static final InputStream USUAL = System.in;

    private final Given given = new Given();

    @TempDir
    Path folder;

    @AfterEach
    void giveBack() {
        System.setIn(USUAL);
    }

    @Test
    void aTextIsItselfStandardInputOrAFile() throws Exception {
        Path note = Files.writeString(folder.resolve("note.txt"), "Two lines,\nas they stand.\n");
        System.setIn(new ByteArrayInputStream("Grüße\n".getBytes(StandardCharsets.UTF_8)));
        assertThat(given.convert("as it stands - @ all")).isEqualTo("as it stands - @ all");
        assertThat(given.convert("")).isEmpty();
        assertThat(given.convert("@")).isEqualTo("@");
        assertThat(given.convert("@@home")).isEqualTo("@home");
        assertThat(given.convert("-")).isEqualTo("Grüße");
        assertThat(given.convert("@" + note)).isEqualTo("Two lines,\nas they stand.");
    }

    @Test
    void whatCannotBeReadIsSaid() throws Exception {
        System.setIn(new ByteArrayInputStream(new byte[0]));
        Path large = Files.writeString(folder.resolve("large"), "x".repeat(1_000_001));
        assertThatExceptionOfType(TypeConversionException.class)
                .isThrownBy(() -> given.convert("-"))
                .withMessageContaining("standard input is empty");
        assertThatExceptionOfType(TypeConversionException.class)
                .isThrownBy(() -> given.convert("@" + folder.resolve("none")))
                .withMessageContaining("there is no such file");
        assertThatExceptionOfType(TypeConversionException.class)
                .isThrownBy(() -> given.convert("@" + large))
                .withMessageContaining("more than 1000000 bytes");
    }
}
