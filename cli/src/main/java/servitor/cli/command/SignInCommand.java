package servitor.cli.command;

import java.io.Console;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Profile;
import servitor.cli.client.Trouble;

/** Signs in once and keeps a token as a profile, for {@code --as}. */
@Command(
        name = "sign-in",
        description = {
            "Sign in and keep a profile, so that later commands can say --as PERSON.",
            "Asks for the password; on the very first start, give the token file that the service names in its log."
        })
public final class SignInCommand implements Callable<Integer> {
    @ParentCommand
    private Servitor servitor;

    @Parameters(paramLabel = "PERSON", description = "Who signs in.")
    private String person;

    @Option(names = "--profile", description = "The name of the profile (default: the person's).")
    private @Nullable String name;

    @Option(
            names = "--label",
            defaultValue = "command line",
            description = "What the token is for (default: ${DEFAULT-VALUE}).")
    private String label;

    @Option(
            names = "--token-file",
            paramLabel = "FILE",
            description = "A token instead of a password; - for standard input.")
    private @Nullable Path tokenFile;

    @Option(
            names = "--password-file",
            paramLabel = "FILE",
            description = "Read the password from this file instead of asking; - for standard input.")
    private @Nullable Path passwordFile;

    private static final int LONGEST = 4_000;

    @Override
    public Integer call() throws IOException {
        String url = servitor.url();
        String token = tokenFile != null
                ? new Client(new Profile(url, read(tokenFile)))
                        .post("/api/people/" + Client.part(person) + "/tokens", Map.of("label", label))
                        .path("token")
                        .asString()
                : Client.signIn(url, person, password(), label);
        String kept = name == null ? person : name;
        servitor.keep(kept, new Profile(url, token));
        servitor.out().println("Signed in as " + person + " at " + url + ". Use it with: servitor --as " + kept + " …");
        return 0;
    }

    private String password() {
        if (passwordFile != null) {
            return read(passwordFile);
        }
        Console console = System.console();
        if (console == null) {
            throw new Trouble(
                    ExitCode.WRONG_USAGE,
                    "There is no terminal to ask for the password at; give --password-file FILE.");
        }
        return new String(console.readPassword("Password of %s: ", person));
    }

    private static String read(Path file) {
        return Given.text(file, LONGEST);
    }
}
