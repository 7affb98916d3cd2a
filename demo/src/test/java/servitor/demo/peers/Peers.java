package servitor.demo.peers;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.File;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** Programs that nobody here wrote, as their packages have them; installed once from a lock file. */
public final class Peers {
    private static final Peers USUAL = new Peers(Path.of("src/test/peers"));

    /** Those of the long round. */
    static final Peers LONG = new Peers(Path.of("src/test/peers-long"));

    private final Path folder;

    private Peers(Path folder) {
        this.folder = folder.toAbsolutePath();
    }

    /** What a program said, and how it ended. */
    public record Said(int exit, String out) {}

    /** The folder of a package. */
    public static Path of(String name) throws Exception {
        return USUAL.installed(name);
    }

    /** The same, of these. */
    synchronized Path installed(String name) throws Exception {
        Path installed = folder.resolve("node_modules/.package-lock.json");
        Path locked = folder.resolve("package-lock.json");
        if (!Files.exists(installed)
                || Files.getLastModifiedTime(installed).compareTo(Files.getLastModifiedTime(locked)) < 0) {
            // a fetch that hangs is begun again after a minute, not after npm's usual five
            Said said = run(
                    List.of("npm", "ci", "--ignore-scripts", "--no-audit", "--no-fund", "--fetch-timeout=60000"),
                    Map.of());
            assertThat(said.exit()).as(said.out()).isZero();
        }
        return folder.resolve("node_modules").resolve(name);
    }

    /** Where Node is. */
    public static Path node() throws Exception {
        Said said = USUAL.run(List.of("node", "-p", "process.execPath"), Map.of());
        return Path.of(said.out().strip());
    }

    /** Runs a script of this folder with Node. */
    public static Said script(String name, Map<String, String> environment) throws Exception {
        of("");
        return USUAL.run(List.of("node", name), environment);
    }

    /** Starts a script of this folder; what it says on its standard output is for whoever started it. */
    public static Process started(String name) throws Exception {
        of("");
        return new ProcessBuilder("node", name)
                .directory(USUAL.folder.toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
    }

    /** Runs a program of a package in this folder. */
    public static Said program(String script, String... arguments) throws Exception {
        Path program = of(script);
        return USUAL.run(
                Stream.concat(Stream.of("node", program.toString()), Stream.of(arguments))
                        .toList(),
                Map.of());
    }

    private Said run(List<String> line, Map<String, String> environment) throws Exception {
        ProcessBuilder builder = new ProcessBuilder(new ArrayList<>(line))
                .directory(folder.toFile())
                .redirectErrorStream(true);
        builder.environment().putAll(environment);
        File out = File.createTempFile("servitor-peer-", ".log");
        Process process = builder.redirectOutput(out).start();
        try {
            if (!process.waitFor(10, TimeUnit.MINUTES)) {
                process.destroyForcibly();
                throw new IOException(String.join(" ", line) + " didn't end");
            }
            return new Said(process.exitValue(), Files.readString(out.toPath(), StandardCharsets.UTF_8));
        } finally {
            Files.deleteIfExists(out.toPath());
        }
    }
}
