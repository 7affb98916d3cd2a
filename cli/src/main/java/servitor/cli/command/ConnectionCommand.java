package servitor.cli.command;

import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Begun;
import servitor.cli.client.Answers.Connection;
import servitor.cli.client.Answers.Described;
import servitor.cli.client.Answers.Renewed;
import servitor.cli.client.Answers.Tested;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code connection}: list, set, sign-in, test, tools, delete, renew-key. */
@Command(
        name = "connection",
        description = "Say where outside systems are and how to sign in there.",
        synopsisSubcommandLabel = "ACTION")
public final class ConnectionCommand {
    private static final int LONGEST_SECRET = 4_000;
    private static final int LONGEST_AUTHORITIES = 64_000;

    @ParentCommand
    private Servitor servitor;

    /** How to sign in; the secret itself comes from a file, so that it stands in no history of commands. */
    static final class SignIn {
        @Option(
                names = "--sign-in",
                required = true,
                description = {
                    "none, password, key, bearer, api-key, signature, path or hmac (web hooks), client-credentials, or",
                    "authorization-code: somebody signs in there in a browser, by ‘connection sign-in’."
                })
        private String kind;

        @Option(names = "--user", description = "The name, or the client's id.")
        private @Nullable String user;

        @Option(names = "--secret-file", description = "A file with the password, token or key; - for standard input.")
        private @Nullable Path secretFile;

        @Option(names = "--header", description = "The header a key or a signature is sent in.")
        private @Nullable String header;

        @Option(names = "--token-url", description = "Where tokens are fetched.")
        private @Nullable String tokenUrl;

        @Option(names = "--scope", description = "What the token is asked for.")
        private @Nullable String scope;

        @Option(
                names = "--issuer",
                paramLabel = "ADDRESS",
                description = "Who signs people in; its description says where. Without it, the system is asked.")
        private @Nullable String issuer;

        @Option(
                names = "--authorize-url",
                paramLabel = "ADDRESS",
                description = "Where browsers sign in, with --token-url, when nobody describes that.")
        private @Nullable String authorizeUrl;

        @Option(
                names = "--resource",
                paramLabel = "ADDRESS",
                description = "What the token is for, should the authorization server want to know.")
        private @Nullable String resource;

        Map<String, Object> body() {
            Map<String, Object> body = new LinkedHashMap<>();
            body.put("kind", kind);
            body.put("user", user);
            body.put("secret", secretFile == null ? null : Given.text(secretFile, LONGEST_SECRET));
            body.put("header", header);
            body.put("tokenUrl", tokenUrl);
            body.put("scope", scope);
            body.put("issuer", issuer);
            body.put("authorizeUrl", authorizeUrl);
            body.put("resource", resource);
            return body;
        }
    }

    @Command(name = "list", description = "List all connections.")
    int list() {
        JsonNode all = servitor.client().get("/api/connections");
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("CONNECTION", "ADDRESS", "SIGNS IN", "DESK", "MAY LEAD INSIDE", "TRUSTS", "CALLS AT ONCE"),
                    Client.all(Connection.class, all).stream()
                            .map(item -> List.of(
                                    item.name(),
                                    item.url(),
                                    item.signsIn(),
                                    item.desk().isEmpty() ? "not said" : item.desk(),
                                    item.inside() ? "yes" : "no",
                                    item.authorities().isEmpty() ? "the machine's" : item.authorities(),
                                    item.atOnce()))
                            .toList());
        }
        return 0;
    }

    @Command(name = "set", description = "Set where a connection leads and how it signs in; what isn't given stays.")
    int set(
            @Parameters(paramLabel = "NAME") String name,
            @Parameters(paramLabel = "ADDRESS", arity = "0..1") @Nullable String url,
            @Option(names = "--at-once", description = "How many calls may be under way at the same time.") @Nullable
                    Integer atOnce,
            @Option(
                            names = "--inside",
                            negatable = true,
                            description = "It may lead into a private network, or to this machine.")
                    @Nullable
                    Boolean inside,
            @Option(
                            names = "--ca-file",
                            paramLabel = "FILE",
                            description = {
                                "Certificates of the authorities to trust over TLS, in PEM;",
                                "an empty text (--ca-file=) for those of the machine."
                            })
                    @Nullable
                    String authorities,
            @Option(
                            names = "--desk",
                            description = {
                                "The desk it belongs to, or house: an engineer there",
                                "agrees to tools that go out by it."
                            })
                    @Nullable
                    String desk,
            @ArgGroup(exclusive = false) @Nullable SignIn signIn) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("url", url);
        body.put("atOnce", atOnce);
        body.put("inside", inside);
        body.put("desk", desk);
        body.put(
                "authorities",
                authorities == null || authorities.isEmpty()
                        ? authorities
                        : Given.text(Path.of(authorities), LONGEST_AUTHORITIES));
        body.put("signIn", signIn == null ? null : signIn.body());
        JsonNode kept = servitor.client().put("/api/connections/" + Client.part(name), body);
        if (!servitor.printed(kept)) {
            Connection shown = Client.as(Connection.class, kept);
            String how = shown.signIn();
            servitor.out()
                    .println("‘" + name + "’ is at " + shown.url()
                            + (how.isEmpty() ? "." : ", signing in by " + how + "."));
        }
        return 0;
    }

    @Command(
            name = "sign-in",
            description = {
                "Sign in at a system in a browser, for a connection set to ‘--sign-in authorization-code’.",
                "The browser comes back to the console, where the sign-in is kept; without one, give what it came back to."
            })
    int signIn(
            @Parameters(paramLabel = "NAME") String name,
            @Option(
                            names = "--came-back",
                            paramLabel = "ADDRESS",
                            description = "The address that the browser was sent back to, as a browser shows it.")
                    @Nullable
                    String cameBack) {
        if (cameBack != null) {
            JsonNode kept = servitor.client().post("/api/connections/sign-ins", answer(cameBack));
            if (!servitor.printed(kept)) {
                servitor.out().println("‘" + Client.as(Connection.class, kept).name() + "’ is signed in to.");
            }
            return 0;
        }
        JsonNode begun = servitor.client().post("/api/connections/" + Client.part(name) + "/sign-in", Map.of());
        if (!servitor.printed(begun)) {
            Begun told = Client.as(Begun.class, begun);
            servitor.out()
                    .println("Open this at " + told.provider() + " within a quarter of an hour, in a browser that is "
                            + "signed in to the console as you:");
            servitor.out().println(told.address());
        }
        return 0;
    }

    /** What the query of an address says of a sign-in (RFC 6749, section 4.1.2). */
    private static Map<String, String> answer(String address) {
        Map<String, String> answer = new LinkedHashMap<>();
        try {
            for (String pair : String.valueOf(URI.create(address).getRawQuery()).split("&")) {
                int end = pair.indexOf('=');
                if (end > 0 && List.of("state", "code", "iss", "error").contains(pair.substring(0, end))) {
                    answer.put(
                            pair.substring(0, end), URLDecoder.decode(pair.substring(end + 1), StandardCharsets.UTF_8));
                }
            }
        } catch (IllegalArgumentException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, "‘" + address + "’ is no address: " + e.getMessage());
        }
        if (!answer.containsKey("state")) {
            throw new Trouble(
                    ExitCode.WRONG_USAGE,
                    "The address has no ‘state’: copy it whole, as the browser shows it, in quotes.");
        }
        return answer;
    }

    @Command(name = "delete", description = "Forget a connection that nothing in force goes out by.")
    int delete(@Parameters(paramLabel = "NAME") String name) {
        servitor.client().delete("/api/connections/" + Client.part(name));
        servitor.out().println("‘" + name + "’ is deleted, with its credentials.");
        return 0;
    }

    @Command(name = "test", description = "Reach a system and sign in, changing nothing there.")
    int test(@Parameters(paramLabel = "NAME") String name) {
        JsonNode tested = servitor.client().post("/api/connections/" + Client.part(name) + "/test", Map.of());
        Tested outcome = Client.as(Tested.class, tested);
        if (!servitor.printed(tested)) {
            boolean reached = outcome.reached();
            servitor.out()
                    .println((reached ? "‘" + name + "’ answers: " : "‘" + name + "’ doesn't work: ")
                            + outcome.detail());
        }
        return outcome.reached() ? 0 : ExitCode.NO.number();
    }

    @Command(name = "tools", description = "List what a tool server offers.")
    int tools(@Parameters(paramLabel = "NAME") String name) {
        JsonNode all = servitor.client().get("/api/connections/" + Client.part(name) + "/tools");
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("TOOL", "WHAT ITS SERVER SAYS", "DIGEST"),
                    Client.all(Described.class, all).stream()
                            .map(item -> List.of(
                                    item.name(),
                                    Output.shorten(item.description(), 60),
                                    item.digest().substring(0, 12)))
                            .toList());
        }
        return 0;
    }

    @Command(name = "renew-key", description = "Seal all credentials with a new key.")
    int renewKey() {
        JsonNode renewed = servitor.client().post("/api/connections/key", Map.of());
        if (!servitor.printed(renewed)) {
            servitor.out()
                    .println("A new key seals "
                            + Client.as(Renewed.class, renewed).renewed()
                            + " connection(s); keep a copy of the key file.");
        }
        return 0;
    }
}
