package servitor.cli.command;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import picocli.CommandLine.ITypeConverter;
import picocli.CommandLine.TypeConversionException;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;

/**
 * A text as it is given on a command line: as it stands; {@code -} for what comes on standard input; {@code @FILE} for what a file
 * holds; {@code @@…} for one that begins with {@code @}. A file is given by its path, or by {@code -} as well.
 */
final class Given implements ITypeConverter<String> {
    private static final String STANDARD_INPUT = "-";
    private static final int LONGEST = 1_000_000;

    @Override
    public String convert(String value) {
        if (value.startsWith("@@")) {
            return value.substring(1);
        }
        boolean elsewhere = value.equals(STANDARD_INPUT) || value.startsWith("@") && value.length() > 1;
        if (!elsewhere) {
            return value;
        }
        try {
            return text(Path.of(value.equals(STANDARD_INPUT) ? value : value.substring(1)), LONGEST);
        } catch (Trouble e) {
            throw new TypeConversionException(String.valueOf(e.getMessage()));
        }
    }

    static boolean isStandardInput(Path file) {
        return file.toString().equals(STANDARD_INPUT);
    }

    /** What a file holds, to be closed by whoever reads it. */
    static InputStream open(Path file) throws IOException {
        return isStandardInput(file) ? System.in : Files.newInputStream(file);
    }

    /** Up to {@code most} bytes of a file; throws {@link Trouble} when it can't be read or has more. */
    static byte[] bytes(Path file, int most) {
        try (InputStream in = open(file)) {
            byte[] bytes = in.readNBytes(most + 1);
            if (bytes.length > most) {
                throw new Trouble(
                        ExitCode.WRONG_USAGE,
                        name(file) + " has more than " + most + " bytes, which is too much here.");
            }
            return bytes;
        } catch (IOException e) {
            throw new Trouble(
                    ExitCode.WRONG_USAGE,
                    name(file) + " can't be read: "
                            + (e instanceof java.nio.file.NoSuchFileException
                                    ? "there is no such file."
                                    : e.getMessage()));
        }
    }

    /** The text of a file, without what is blank at its ends; throws {@link Trouble} when there is none. */
    static String text(Path file, int most) {
        String text = new String(bytes(file, most), StandardCharsets.UTF_8).strip();
        if (text.isEmpty()) {
            throw new Trouble(ExitCode.WRONG_USAGE, name(file) + " is empty.");
        }
        return text;
    }

    private static String name(Path file) {
        return isStandardInput(file) ? "standard input" : file.toString();
    }
}
