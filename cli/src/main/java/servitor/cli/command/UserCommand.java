package servitor.cli.command;

import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Person;
import servitor.cli.client.Answers.Token;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code user}: list, set, token. */
@Command(name = "user", description = "Look after people and their tokens.", synopsisSubcommandLabel = "ACTION")
public final class UserCommand {
    private static final int LONGEST = 4_000;

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List everybody.")
    int list() {
        JsonNode people = servitor.client().get("/api/people");
        if (!servitor.printed(people)) {
            Output.table(
                    servitor.out(),
                    List.of("PERSON", "NAME", "ROLES", "DESKS", "GROUPS"),
                    Client.all(Person.class, people).stream()
                            .map(item -> List.of(
                                    item.id(),
                                    item.name(),
                                    String.join(", ", item.roles()),
                                    String.join(", ", item.desks()),
                                    String.join(", ", item.groups())))
                            .toList());
        }
        return 0;
    }

    @Command(name = "set", description = "Add a person, or change the named parts of one.")
    int set(
            @Parameters(paramLabel = "PERSON") String id,
            @Option(names = "--name") @Nullable String name,
            @Option(names = "--email") @Nullable String email,
            @Option(names = "--account", description = "The account they are known by in outside systems.") @Nullable
                    String account,
            @Option(names = "--manager", description = "Whom they report to, by that person's id.") @Nullable
                    String manager,
            @Option(
                            names = "--password",
                            interactive = true,
                            arity = "0..1",
                            description = "Asks for a password (at least 10 characters).")
                    @Nullable
                    String password,
            @Option(
                            names = "--roles",
                            split = ",",
                            description = "requester, resolver, approver, engineer, auditor, admin")
                    @Nullable
                    Set<String> roles,
            @Option(names = "--desks", split = ",") @Nullable Set<String> desks,
            @Option(names = "--groups", split = ",") @Nullable Set<String> groups,
            @Option(
                            names = "--password-file",
                            paramLabel = "FILE",
                            description = "Read the password from this file instead of asking; - for standard input.")
                    @Nullable
                    Path passwordFile)
            throws IOException {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("name", name);
        body.put("email", email);
        body.put("account", account);
        body.put("manager", manager);
        body.put("password", passwordFile == null ? password : Given.text(passwordFile, LONGEST));
        body.put("roles", roles);
        body.put("desks", desks);
        body.put("groups", groups);
        JsonNode person = servitor.client().put("/api/people/" + Client.part(id), body);
        if (!servitor.printed(person)) {
            servitor.out()
                    .println("Kept " + Client.as(Person.class, person).name() + " (" + id + "): "
                            + String.join(", ", Client.as(Person.class, person).roles()) + ".");
        }
        return 0;
    }

    @Command(name = "token", description = "Make a token; it is told once, here.")
    int token(
            @Parameters(paramLabel = "PERSON") String id,
            @Option(names = "--label", required = true, description = "What it is for.") String label) {
        JsonNode made = servitor.client().post("/api/people/" + Client.part(id) + "/tokens", Map.of("label", label));
        if (!servitor.printed(made)) {
            servitor.out().println(Client.as(Token.class, made).token());
        }
        return 0;
    }

    @Command(
            name = "disable",
            description = "Let a person sign in no more; sessions and live streams end, tokens open nothing.")
    int disable(@Parameters(paramLabel = "PERSON") String id) {
        return enabled(id, false);
    }

    @Command(name = "enable", description = "Let a person sign in again.")
    int enable(@Parameters(paramLabel = "PERSON") String id) {
        return enabled(id, true);
    }

    private int enabled(String id, boolean enabled) {
        JsonNode person = servitor.client().put("/api/people/" + Client.part(id), Map.of("enabled", enabled));
        if (!servitor.printed(person)) {
            servitor.out()
                    .println(Client.as(Person.class, person).name()
                            + (enabled ? " may sign in again." : " may sign in no more."));
        }
        return 0;
    }

    @Command(name = "sign-out", description = "End all sessions of a person.")
    int signOut(@Parameters(paramLabel = "PERSON") String id) {
        servitor.client().delete("/api/people/" + Client.part(id) + "/sessions");
        servitor.out().println("All sessions of " + id + " have ended; tokens still hold (user tokens, user revoke).");
        return 0;
    }

    @Command(name = "tokens", description = "List the tokens of a person; themselves they are never shown again.")
    int tokens(@Parameters(paramLabel = "PERSON") String id) {
        JsonNode tokens = servitor.client().get("/api/people/" + Client.part(id) + "/tokens");
        if (!servitor.printed(tokens)) {
            Output.table(
                    servitor.out(),
                    List.of("LABEL", "MADE", "RUNS OUT"),
                    Client.all(Token.class, tokens).stream()
                            .map(item ->
                                    List.of(item.label(), Output.time(item.created()), Output.time(item.expires())))
                            .toList());
        }
        return 0;
    }

    @Command(name = "revoke", description = "End a token.")
    int revoke(
            @Parameters(paramLabel = "PERSON") String id,
            @Option(names = "--label", required = true, description = "Which one, as ‘user tokens’ lists it.")
                    String label) {
        servitor.client().delete("/api/people/" + Client.part(id) + "/tokens" + Client.query(Map.of("label", label)));
        servitor.out().println("The token ‘" + label + "’ of " + id + " opens nothing any more.");
        return 0;
    }

    @Command(name = "password", description = "Change one's own password; all sessions end.")
    int password(
            @Option(
                            names = "--current",
                            interactive = true,
                            arity = "0..1",
                            required = true,
                            description = "Asks for the current one.")
                    String current,
            @Option(
                            names = "--new",
                            interactive = true,
                            arity = "0..1",
                            required = true,
                            description = "Asks for the new one.")
                    String wanted) {
        servitor.client().post("/api/session/password", Map.of("current", current, "wanted", wanted));
        servitor.out().println("The password is changed, and all sessions have ended.");
        return 0;
    }
}
