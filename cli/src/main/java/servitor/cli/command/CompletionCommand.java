package servitor.cli.command;

import org.jspecify.annotations.Nullable;
import picocli.AutoComplete;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.Spec;
import servitor.cli.output.FishCompletion;

/** {@code completion}: what makes a shell complete commands and options. */
@Command(
        name = "completion",
        description = {
            "Print what makes a shell complete commands and options.",
            "In bash, and in zsh with that name: source <(servitor completion bash)",
            "In fish: servitor completion fish | source"
        })
public final class CompletionCommand implements Runnable {
    /** The shells there is completion for. */
    enum Shell {
        bash,
        zsh,
        fish
    }

    @ParentCommand
    private Servitor servitor;

    @Spec
    private CommandSpec spec;

    @Parameters(paramLabel = "SHELL", description = "bash, zsh or fish.")
    private @Nullable Shell shell;

    @Override
    public void run() {
        CommandSpec root = spec.root();
        servitor.out()
                .print(
                        shell == Shell.fish
                                ? FishCompletion.of(root)
                                : AutoComplete.bash(root.name(), root.commandLine()));
    }
}
