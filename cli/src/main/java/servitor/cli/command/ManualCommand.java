package servitor.cli.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.Spec;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.ManPage;

/** {@code manual}: pages for {@code man}. */
@Command(
        name = "manual",
        description = {
            "Write pages for man into a folder, made from the text of --help.",
            "For oneself: servitor manual ~/.local/share/man/man1, then man servitor-case"
        })
public final class ManualCommand implements Runnable {
    @ParentCommand
    private Servitor servitor;

    @Spec
    private CommandSpec spec;

    @Parameters(paramLabel = "DIR", description = "Where to write them; what is there by these names is replaced.")
    private Path folder;

    @Override
    public void run() {
        Map<String, String> pages = ManPage.all(spec.root());
        try {
            Files.createDirectories(folder);
            for (Map.Entry<String, String> page : pages.entrySet()) {
                Files.writeString(folder.resolve(page.getKey()), page.getValue());
            }
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, folder + " can't be written: " + e.getMessage());
        }
        servitor.out().println("Wrote " + pages.size() + " pages to " + folder + ".");
    }
}
