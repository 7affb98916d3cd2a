package servitor.demo;

import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.time.LocalTime;
import java.time.format.DateTimeFormatter;
import java.util.Objects;
import servitor.cli.client.Client;
import servitor.cli.client.Profile;

/** The log of the kiosks is posted: one that repeats itself four hundred times is one case with a count. */
final class LineScene {
    private static final int REPEATS = 400;

    private final Monitor monitor;
    private final Profile teun;
    private final Path data;
    private final PrintStream out;

    LineScene(Path profiles, PrintStream out) throws IOException {
        this.data = Objects.requireNonNull(profiles.toAbsolutePath().getParent());
        this.teun = DemoSeeder.profileOf(profiles, "teun");
        this.monitor = new Monitor(URI.create(teun.url()));
        this.out = out;
    }

    void play() throws IOException, InterruptedException {
        String now = LocalTime.now().format(DateTimeFormatter.ofPattern("HH:mm"));
        String error = now + " ERROR quillport-1 at Quillport: the printer is out of paper\n";
        Monitor.Answer first =
                monitor.log(error + (now + " INFO sandholm-1 at Sandholm: sold 3 tickets\n" + error).repeat(REPEATS));
        out.println(first.caseId() + ": quillport-1 is out of paper. Its log has said so " + REPEATS
                + " times more, which is counted; what else stands in it is left out.");
        followed(now);
        out.println("Look at " + first.caseId() + " as teun, and at ./servitor --as teun intake events " + Monitor.LOG);
    }

    /** A log that the service follows is rotated between two lines. */
    private void followed(String now) throws IOException, InterruptedException {
        Path log = data.resolve("logs/turnstiles.log");
        String line = now + " ERROR sandholm-2 at Sandholm: the arm is stuck\n";
        Files.createDirectories(data.resolve("logs"));
        int before = lines();
        Files.writeString(log, line, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        Scenes.await(() -> lines() > before);
        Files.writeString(log, line.repeat(2), StandardOpenOption.APPEND);
        Files.move(log, data.resolve("logs/turnstiles.log.1"), StandardCopyOption.REPLACE_EXISTING);
        Files.writeString(log, line.repeat(3));
        Scenes.await(() -> lines() >= before + 6);
        out.println("The log of the turnstiles, " + log
                + ", is followed: it was rotated between six lines, and none of them is missing.");
    }

    /** How many lines of that log were taken in. */
    private int lines() {
        return new Client(teun)
                .get("/api/intake/turnstile-log/events")
                .path("events")
                .valueStream()
                .mapToInt(
                        event -> Integer.parseInt(event.path("named").asString().replaceAll("[^0-9].*", "")))
                .sum();
    }
}
