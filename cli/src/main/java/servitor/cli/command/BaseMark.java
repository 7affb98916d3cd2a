package servitor.cli.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;

/** A hidden file in a handbook folder that says which edition the folder was made from. */
final class BaseMark {
    private static final String NAME = ".made-from";

    private BaseMark() {}

    static Optional<Integer> read(Path folder) {
        Path file = folder.resolve(NAME);
        if (!Files.exists(file)) {
            return Optional.empty();
        }
        try {
            String text = Files.readString(file).strip();
            return text.matches("edition [0-9]{1,9}")
                    ? Optional.of(Integer.valueOf(text.substring("edition ".length())))
                    : Optional.empty();
        } catch (IOException e) {
            throw new Trouble(ExitCode.NO, file + " can't be read: " + e.getMessage());
        }
    }

    static void write(Path folder, int edition) {
        Path file = folder.resolve(NAME);
        try {
            Files.writeString(file, "edition " + edition + "\n");
        } catch (IOException e) {
            throw new Trouble(ExitCode.NO, file + " can't be written: " + e.getMessage());
        }
    }
}
