package servitor.demo;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.spi.ToolProvider;
import org.springframework.util.FileSystemUtils;
import servitor.service.ServitorApplication;

/**
 * Java with an archive of the classes that the service loads, made once for all processes that tests start: each of them
 * starts a third faster. An archive takes classes from jars only, so that folders become jars first.
 */
final class Trained {
    private static final List<String> QUICK = List.of("-XX:TieredStopAtLevel=1", "-XX:+UseSerialGC", "-Xmx512m");
    private static Java java;

    private Trained() {}

    static synchronized Java java() {
        if (java == null) {
            java = train();
        }
        return java;
    }

    private static Java train() {
        try {
            Path target = Path.of("target").toAbsolutePath();
            Path archive = target.resolve("service.jsa");
            Files.deleteIfExists(archive);
            List<String> jars = new ArrayList<>();
            for (String place : System.getProperty("java.class.path").split(File.pathSeparator)) {
                Path folder = Path.of(place);
                if (Files.isDirectory(folder)) {
                    Path jar = target.resolve(folder.getFileName() + "-to-archive.jar");
                    ToolProvider.findFirst("jar")
                            .orElseThrow()
                            .run(System.out, System.err, "cf", jar.toString(), "-C", place, ".");
                    jars.add(jar.toString());
                } else {
                    jars.add(place);
                }
            }
            Java jarred = new Java(String.join(File.pathSeparator, jars), QUICK);
            Path data = Files.createTempDirectory("servitor-training-");
            Process training = jarred.process(
                            List.of("-XX:ArchiveClassesAtExit=" + archive), Trained.class.getName(), data.toString())
                    .redirectErrorStream(true)
                    .redirectOutput(target.resolve("training.log").toFile())
                    .start();
            if (!training.waitFor(3, TimeUnit.MINUTES)) {
                training.destroyForcibly().waitFor(); // without an archive all works the same, only slower
            }
            FileSystemUtils.deleteRecursively(data);
            List<String> options = new ArrayList<>(QUICK);
            if (Files.exists(archive)) {
                options.add("-XX:SharedArchiveFile=" + archive);
            }
            return new Java(jarred.classPath(), options);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Starts the service without the web and with it, and ends. */
    public static void main(String[] args) throws Exception {
        SmallService.start(Path.of(args[0], "small"), Path.of("handbook"), "http://127.0.0.1:9", "http://127.0.0.1:9")
                .close();
        System.setProperty("spring.context.exit", "onRefresh");
        System.clearProperty("servitor.database-url");
        System.setProperty("servitor.data", args[0] + "/whole");
        System.setProperty("server.port", "0");
        ServitorApplication.main(new String[0]);
        System.exit(0);
    }
}
