package servitor.cli.command;

import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;

/** A handbook as a folder of plain files. */
public final class HandbookFolder {
    private static final int MOST_ENTRIES = 5_000;

    private HandbookFolder() {}

    /** The text files of a handbook folder by path; hidden files are left out, links aren't followed. */
    public static Map<String, String> read(Path folder) {
        if (!Files.isDirectory(folder)) {
            throw new Trouble(ExitCode.WRONG_USAGE, folder + " is not a folder.");
        }
        Map<String, String> files = new TreeMap<>();
        int entries = 0;
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path file : all.limit(MOST_ENTRIES + 1).toList()) {
                String path = folder.relativize(file).toString().replace('\\', '/');
                if (Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)
                        && Stream.of(path.split("/")).noneMatch(part -> part.startsWith("."))) {
                    files.put(path, text(file));
                }
                if (++entries > MOST_ENTRIES) {
                    throw new Trouble(
                            ExitCode.WRONG_USAGE,
                            folder + " has more than " + MOST_ENTRIES
                                    + " files and folders: that is hardly a handbook. Name the handbook's own folder.");
                }
            }
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, folder + " can't be read: " + e.getMessage());
        }
        return files;
    }

    private static String text(Path file) throws IOException {
        try {
            return Files.readString(file);
        } catch (MalformedInputException e) {
            throw new Trouble(ExitCode.NO, file + " is not a text file in UTF-8.");
        }
    }

    /** Writes files over those of a folder, and takes others out. */
    static void overwrite(Path folder, Map<String, String> files, List<String> removed) {
        try {
            for (Map.Entry<String, String> file : files.entrySet()) {
                Path path = inside(folder, file.getKey());
                Files.createDirectories(path.getParent());
                Files.writeString(path, file.getValue());
            }
            for (String path : removed) {
                Files.deleteIfExists(inside(folder, path));
            }
        } catch (IOException e) {
            throw new Trouble(ExitCode.NO, folder + " can't be written: " + e.getMessage());
        }
    }

    private static Path inside(Path folder, String file) {
        Path path = folder.resolve(file).normalize();
        if (!path.startsWith(folder.normalize())) {
            throw new Trouble(ExitCode.NO, "‘" + file + "’ would lie outside the folder.");
        }
        return path;
    }

    /** Writes files into a folder; a file that is there with another text is never overwritten. */
    static void write(Path folder, Map<String, String> files) {
        try {
            for (Map.Entry<String, String> file : files.entrySet()) {
                Path path = inside(folder, file.getKey());
                if (Files.exists(path) && !Files.readString(path).equals(file.getValue())) {
                    throw new Trouble(
                            ExitCode.NO,
                            path + " is there already with another text. Choose an empty folder, or move it first.");
                }
            }
            for (Map.Entry<String, String> file : files.entrySet()) {
                Path path = folder.resolve(file.getKey());
                Files.createDirectories(path.getParent());
                Files.writeString(path, file.getValue());
            }
        } catch (IOException e) {
            throw new Trouble(ExitCode.NO, folder + " can't be written: " + e.getMessage());
        }
    }
}
