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

/** Programs that nobody here wrote, as their packages have them; installed once from a lock file. */
public final class Peers {
    private static final Path FOLDER = Path.of("src/test/peers").toAbsolutePath();

    private Peers() {}

    /** What a program said, and how it ended. */
    public record Said(int exit, String out) {}

    /** The folder of a package. */
    public static synchronized Path of(String name) throws Exception {
        Path installed = FOLDER.resolve("node_modules/.package-lock.json");
        Path locked = FOLDER.resolve("package-lock.json");
        if (!Files.exists(installed)
                || Files.getLastModifiedTime(installed).compareTo(Files.getLastModifiedTime(locked)) < 0) {
            Said said = run(List.of("npm", "ci", "--ignore-scripts", "--no-audit", "--no-fund"), Map.of());
            assertThat(said.exit()).as(said.out()).isZero();
        }
        return FOLDER.resolve("node_modules").resolve(name);
    }

    /** Where Node is. */
    public static Path node() throws Exception {
        Said said = run(List.of("node", "-p", "process.execPath"), Map.of());
        return Path.of(said.out().strip());
    }

    /** Runs a script of this folder with Node. */
    public static Said script(String name, Map<String, String> environment) throws Exception {
        of("");
        return run(List.of("node", name), environment);
    }

    private static Said run(List<String> line, Map<String, String> environment) throws Exception {
        ProcessBuilder builder = new ProcessBuilder(new ArrayList<>(line))
                .directory(FOLDER.toFile())
                .redirectErrorStream(true);
        builder.environment().putAll(environment);
        File out = File.createTempFile("servitor-peer-", ".log");
        Process process = builder.redirectOutput(out).start();
        try {
            if (!process.waitFor(5, TimeUnit.MINUTES)) {
                process.destroyForcibly();
                throw new IOException(String.join(" ", line) + " didn't end");
            }
            return new Said(process.exitValue(), Files.readString(out.toPath(), StandardCharsets.UTF_8));
        } finally {
            Files.deleteIfExists(out.toPath());
        }
    }
}
