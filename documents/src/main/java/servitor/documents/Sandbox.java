package servitor.documents;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Starts workers: without environment and with little memory in any case; and where the machine has bubblewrap, without network and with no
 * files but those that Java and the worker's own classes are in.
 *
 * @param contained whether bubblewrap contains them
 * @param classes the worker's classes as Java maps them into memory, so that it starts sooner; null where there is no such file
 */
record Sandbox(boolean contained, @Nullable Path classes) {
    private static final String WRAP = "bwrap";
    /** Where programs and what they link to are, on every machine that has bubblewrap. */
    private static final List<String> SYSTEM = List.of("/usr", "/lib", "/lib64", "/bin");

    private static final int MEGABYTES = 320;

    /** As well contained as this machine can. */
    static Sandbox ofThisMachine() {
        return new Sandbox(works(), null);
    }

    /** The same, starting sooner by classes that are laid out beforehand in {@code folder}; that takes some seconds. */
    Sandbox withClassesIn(Path folder) throws InterruptedException {
        Path laidOut = folder.resolve("reader.jsa");
        if (classPath().anyMatch(path -> !path.toString().endsWith(".jar"))) {
            return this; // Java does that for archives only
        }
        try {
            List<String> command = new ArrayList<>(java());
            command.add(1, "-XX:ArchiveClassesAtExit=" + laidOut);
            command.add(Worker.ONLY_CLASSES);
            Process process = bare(command)
                    .redirectErrorStream(true)
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                    .start();
            boolean done = process.waitFor(1, TimeUnit.MINUTES) && process.exitValue() == 0 && Files.exists(laidOut);
            return done ? new Sandbox(contained, laidOut) : this;
        } catch (IOException e) {
            return this;
        }
    }

    /** The same, starting as Java does by itself. */
    Sandbox withoutClasses() {
        return new Sandbox(contained, null);
    }

    private static boolean works() {
        List<String> command = new ArrayList<>(wrap());
        command.add("/bin/true");
        try {
            Process process = bare(command).redirectErrorStream(true).start();
            process.getOutputStream().close();
            return process.waitFor(10, TimeUnit.SECONDS) && process.exitValue() == 0;
        } catch (IOException e) {
            return false;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    /** A new worker that waits for its document. */
    Process start() throws IOException {
        List<String> command = new ArrayList<>(contained ? wrap() : List.of());
        List<String> java = new ArrayList<>(java());
        if (classes != null) {
            java.add(1, "-XX:SharedArchiveFile=" + classes);
            if (contained) {
                command.addAll(List.of("--ro-bind-try", classes.toString(), classes.toString()));
            }
        }
        command.addAll(java);
        return bare(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
    }

    private static List<String> java() {
        return List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xmx" + MEGABYTES + "m",
                "-XX:+ExitOnOutOfMemoryError",
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-XX:-UsePerfData",
                "-Xlog:disable", // whatever Java itself has to say would stand before the answer
                "-Xlog:all=warning:stderr",
                "-Xshare:auto",
                "-Djava.awt.headless=true",
                "-Dfile.encoding=UTF-8",
                "-Dpdfbox.fontcache=/tmp",
                "-Duser.home=/tmp",
                "-cp",
                classPath().map(Path::toString).collect(Collectors.joining(File.pathSeparator)),
                Worker.class.getName());
    }

    private static ProcessBuilder bare(List<String> command) {
        ProcessBuilder builder = new ProcessBuilder(command);
        builder.environment().clear();
        builder.directory(new File("/"));
        return builder;
    }

    private static List<String> wrap() {
        List<String> command = new ArrayList<>(List.of(
                WRAP,
                "--unshare-all",
                "--die-with-parent",
                "--new-session",
                "--clearenv",
                "--proc",
                "/proc",
                "--dev",
                "/dev",
                "--tmpfs",
                "/tmp",
                "--chdir",
                "/tmp"));
        Stream.concat(SYSTEM.stream(), needed().stream())
                .forEach(path -> command.addAll(List.of("--ro-bind-try", path, path)));
        return command;
    }

    /** Where the classes of this process are, from wherever it is looked at. */
    private static Stream<Path> classPath() {
        return Stream.of(System.getProperty("java.class.path").split(File.pathSeparator))
                .map(entry -> Path.of(entry).toAbsolutePath());
    }

    /** Where this Java is, and the classes of this process. */
    private static Set<String> needed() {
        Set<String> paths = new LinkedHashSet<>();
        paths.add(System.getProperty("java.home"));
        try (Stream<Path> settings = Files.list(Path.of("/etc"))) { // where distributions keep those of Java
            settings.filter(path -> path.getFileName().toString().startsWith("java"))
                    .forEach(path -> paths.add(path.toString()));
        } catch (IOException e) {
            // Java is whole without
        }
        classPath().forEach(path -> {
            Path folder = path.getParent();
            paths.add((path.toString().endsWith(".jar") && folder != null ? folder : path).toString());
        });
        return paths;
    }
}
