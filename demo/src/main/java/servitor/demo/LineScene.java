package servitor.demo;

import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.nio.file.Path;
import java.time.LocalTime;
import java.time.format.DateTimeFormatter;
import servitor.cli.client.Profile;

/** The log of the kiosks is posted: one that repeats itself four hundred times is one case with a count. */
final class LineScene {
    private static final int REPEATS = 400;

    private final Monitor monitor;
    private final PrintStream out;

    LineScene(Path profiles, PrintStream out) throws IOException {
        Profile teun = DemoSeeder.profileOf(profiles, "teun");
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
        out.println("Look at " + first.caseId() + " as teun, and at ./servitor --as teun intake events " + Monitor.LOG);
    }
}
