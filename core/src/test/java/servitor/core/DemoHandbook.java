package servitor.core;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;

/** The demo handbook, as files and as an edition, for tests to change and run. */
public final class DemoHandbook {
    public static final String PAGE = "runbooks/cancelled-sailing-refund.md";
    public static final String MANDATE = "mandates/purser.yaml";

    private DemoHandbook() {}

    public static Map<String, String> files() {
        Path root = Path.of("../demo/handbook");
        Map<String, String> files = new TreeMap<>();
        try (Stream<Path> all = Files.walk(root)) {
            for (Path file : all.filter(Files::isRegularFile).toList()) {
                files.put(root.relativize(file).toString(), Files.readString(file));
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return files;
    }

    /** The files with one of them changed by replacing {@code from}, which must be there, with {@code to}. */
    public static Map<String, String> with(String file, String from, String to) {
        Map<String, String> files = files();
        String text = files.get(file);
        if (!text.contains(from)) {
            throw new IllegalArgumentException(file + " does not hold: " + from);
        }
        files.put(file, text.replace(from, to));
        return files;
    }

    public static Edition edition(Map<String, String> files) {
        CheckedHandbook checked = CheckedHandbook.of(files);
        if (!checked.sound()) {
            throw new IllegalArgumentException(checked.findings().toString());
        }
        return new Edition(1, checked.handbook());
    }

    /** An edition with faults, to see that the machine and the judge hold where the checker should have refused. */
    public static Edition unchecked(Map<String, String> files) {
        return new Edition(1, CheckedHandbook.of(files).handbook());
    }
}
