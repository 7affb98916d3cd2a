package servitor.cli.command;

import java.io.Console;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ScopeType;
import picocli.CommandLine.Spec;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.OwnFile;
import servitor.cli.client.Profile;
import servitor.cli.client.Trouble;
import tools.jackson.databind.JsonNode;

/** The root command: what holds for all others. */
@Command(
        name = "servitor",
        description = "Agents that resolve service desk cases by runbooks, under mandates, with people in control.",
        mixinStandardHelpOptions = true,
        scope = ScopeType.INHERIT,
        version = "servitor 0.1.0",
        footer = {
            "",
            "Also: ‘servitor serve’ starts the service, ‘servitor demo’ starts it with demo data, ‘servitor restore’ puts a backup back;",
            "each has --help.",
            "A text is given as it stands, as - for standard input, or as @FILE for what a file holds (@@… for one that begins so).",
            "Exit codes: 0 done, 1 the answer is no, 2 wrong usage, 3 service unreachable, 4 not allowed."
        },
        subcommands = {
            CaseCommand.class,
            DocumentCommand.class,
            IntakeCommand.class,
            KindCommand.class,
            RunCommand.class,
            ApprovalCommand.class,
            TrailCommand.class,
            HandbookCommand.class,
            RunbookCommand.class,
            UserCommand.class,
            ConnectionCommand.class,
            ToolCommand.class,
            AgentCommand.class,
            AgreementCommand.class,
            TryCommand.class,
            ModelCommand.class,
            MandateCommand.class,
            BackupCommand.class,
            StopCommand.class,
            SignInCommand.class,
            CompletionCommand.class,
            ManualCommand.class,
            CommandLine.HelpCommand.class
        })
public final class Servitor implements Runnable {
    @Spec
    private CommandSpec spec;

    @Option(
            names = "--as",
            paramLabel = "NAME",
            scope = ScopeType.INHERIT,
            description = "Use the profile of this name.")
    private @Nullable String profile;

    @Option(
            names = "--url",
            paramLabel = "URL",
            scope = ScopeType.INHERIT,
            description = "Where the service is (default: $SERVITOR_URL).")
    private @Nullable String url;

    @Option(names = "--json", scope = ScopeType.INHERIT, description = "Print the API's own JSON, for programs.")
    private boolean json;

    private final Map<String, String> environment;

    public Servitor(Map<String, String> environment) {
        this.environment = environment;
    }

    /** Runs one command line and returns its exit code. */
    public static int run(Map<String, String> environment, PrintWriter out, PrintWriter err, String... args) {
        CommandLine line = new CommandLine(new Servitor(environment));
        line.setOut(out);
        line.setErr(err);
        line.setExpandAtFiles(false); // @FILE stands for a text, not for more of the command line
        boolean json = List.of(args).contains("--json");
        line.setExecutionExceptionHandler((e, command, parsed) -> {
            if (e instanceof Trouble trouble) {
                return failed(
                        err,
                        json,
                        String.valueOf(trouble.getMessage()),
                        trouble.code().number());
            }
            throw e;
        });
        CommandLine.IParameterExceptionHandler usual = line.getParameterExceptionHandler();
        line.setParameterExceptionHandler((e, given) -> json
                ? failed(err, true, String.valueOf(e.getMessage()), ExitCode.WRONG_USAGE.number())
                : usual.handleParseException(e, given));
        int code = line.execute(args);
        out.flush();
        err.flush();
        return code;
    }

    /** Says what went wrong, as JSON to whoever asked for that; gives the exit code back. */
    private static int failed(PrintWriter err, boolean json, String why, int code) {
        err.println(
                json
                        ? Client.JSON.writeValueAsString(
                                Client.JSON.createObjectNode().put("error", why).put("exit", code))
                        : why);
        err.flush();
        return code;
    }

    @Override
    public void run() {
        throw new CommandLine.ParameterException(spec.commandLine(), "Say what to do, such as ‘approval list’.");
    }

    /** Where the service is that a command without a profile talks to. */
    public String url() {
        return Profile.choose(profile, url, environment).url();
    }

    /** Keeps a profile for later commands. */
    public void keep(String name, Profile kept) throws IOException {
        kept.save(Profile.folder(environment), name);
    }

    /** Asks a question whose answer must be yes; without a terminal there is nobody to ask. */
    public boolean agreed(String question) {
        Console console = System.console();
        return console != null
                && console.readLine("%s Type yes: ", question).strip().equals("yes");
    }

    public PrintWriter err() {
        return spec.commandLine().getErr();
    }

    public Client client() {
        return new Client(Profile.choose(profile, url, environment));
    }

    public PrintWriter out() {
        return spec.commandLine().getOut();
    }

    /** Writes what is downloaded into a file that isn't there yet, for its owner alone. */
    void save(String path, Path file) {
        try (InputStream in = client().download(path)) {
            OwnFile.write(file, in);
        } catch (FileAlreadyExistsException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " is there already; name another file.");
        } catch (IOException e) {
            throw new Trouble(ExitCode.NO, "It couldn't be written to " + file + ": " + e.getMessage());
        }
        out().println("Wrote " + file + ".");
    }

    /** Prints the JSON when it was asked for; true when that is all there is to print. */
    public boolean printed(JsonNode answer) {
        if (json) {
            out().println(Client.JSON.writerWithDefaultPrettyPrinter().writeValueAsString(answer));
        }
        return json;
    }
}
