package servitor.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import org.springframework.util.FileSystemUtils;

/** Plays the demo's past in a process of its own, which has a clock of its own. */
final class PastProcess {
    private PastProcess() {}

    /** Fills {@code folder} with {@code days} days that end now. What was begun and broken off before is thrown away. */
    static void play(Path folder, Path handbook, int days) throws IOException, InterruptedException {
        Path playing = folder.resolve("past-being-played");
        FileSystemUtils.deleteRecursively(playing);
        Files.createDirectories(playing);
        System.out.println("Playing the last " + days + " days of Skerry Line; this takes a minute or two, once.");
        Process process = Java.ofThisProcess()
                .process(
                        List.of(),
                        "servitor.demo.past.DemoHistory",
                        playing.toString(),
                        handbook.toString(),
                        String.valueOf(days))
                .redirectOutput(ProcessBuilder.Redirect.appendTo(
                        folder.resolve("service.log").toFile()))
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        Thread ending = new Thread(process::destroy);
        Runtime.getRuntime().addShutdownHook(ending);
        int code = process.waitFor();
        Runtime.getRuntime().removeShutdownHook(ending);
        if (code != 0) {
            throw new IllegalStateException("The past couldn't be played; see " + folder.resolve("service.log")
                    + ", or start the demo with --without-past.");
        }
        try (Stream<Path> played = Files.list(playing)) {
            // The database last: with it the past is there.
            Comparator<Path> databaseLast =
                    Comparator.comparing(path -> path.getFileName().toString().equals("ledger.mv.db"));
            for (Path path : played.sorted(databaseLast).toList()) {
                Path to = folder.resolve(path.getFileName());
                FileSystemUtils.deleteRecursively(to);
                Files.move(path, to);
            }
        }
        FileSystemUtils.deleteRecursively(playing);
    }
}
