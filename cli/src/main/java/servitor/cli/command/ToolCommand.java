package servitor.cli.command;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.UseDefaultConverter;
import servitor.cli.client.Answers.Tool;
import servitor.cli.client.Answers.Tried;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import servitor.core.handbook.openapi.Documents;
import servitor.core.handbook.read.ToolProposal;
import tools.jackson.databind.JsonNode;

/** {@code tool}: list, try, import. */
@Command(name = "tool", description = "See, try out and import tools.", synopsisSubcommandLabel = "ACTION")
public final class ToolCommand {
    private static final int MOST_BYTES = Documents.LONGEST;

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List the tools of the current edition.")
    int list() {
        JsonNode all = servitor.client().get("/api/tools");
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("TOOL", "EFFECT", "CONNECTION", "DESCRIPTION"),
                    Client.all(Tool.class, all).stream()
                            .map(item -> List.of(
                                    item.name(),
                                    item.effect() + (item.personal() ? ", personal" : ""),
                                    item.connection(),
                                    Output.shorten(item.description(), 80)))
                            .toList());
        }
        return 0;
    }

    @Command(name = "try", description = "Call a tool that changes nothing and reads nothing personal.")
    int tryOut(
            @Parameters(paramLabel = "TOOL") String tool,
            @Option(
                            names = "--arg",
                            converter = {UseDefaultConverter.class, Given.class},
                            description = "An input, as in --arg number=S-214.")
                    @Nullable
                    Map<String, String> args) {
        Client client = servitor.client();
        JsonNode tried = client.post("/api/tools/" + Client.part(tool) + "/try", Inputs.of(client, tool, args));
        Tried came = Client.as(Tried.class, tried);
        boolean failed = !came.problem().isEmpty();
        if (!servitor.printed(tried)) {
            servitor.out().println(failed ? came.problem() + ": " + came.detail() : Output.value(came.answer(), ""));
            servitor.out().print(came.transcript());
        }
        return failed ? ExitCode.NO.number() : 0;
    }

    @Command(
            name = "import",
            description = {
                "Write a file of tools from an OpenAPI description, or from what a tool server offers.",
                "Effects and descriptions are proposed: read the file and put right what isn't so."
            })
    int take(
            @Parameters(paramLabel = "NAME", description = "The file's name: tools/NAME.yaml.") String name,
            @Option(names = "--into", required = true, paramLabel = "DIR", description = "The handbook folder.")
                    Path folder,
            @Option(names = "--connection", required = true, description = "The connection the tools go out by.")
                    String connection,
            @Option(
                            names = "--openapi",
                            paramLabel = "FILE|URL",
                            description = "An OpenAPI 3 description, as JSON or YAML; - for standard input.")
                    @Nullable
                    String openapi,
            @Option(names = "--only", split = ",", description = "Only these operations.") @Nullable
                    List<String> only) {
        Path file = folder.resolve("tools").resolve(name + ".yaml");
        if (Files.exists(file)) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " is there already; nothing was written.");
        }
        ToolProposal proposal;
        try {
            proposal = openapi == null
                    ? ToolProposal.ofServer(
                            name,
                            connection,
                            servitor.client().get("/api/connections/" + Client.part(connection) + "/tools"),
                            only)
                    : ToolProposal.ofOpenApi(name, connection, read(openapi), only);
            Files.createDirectories(folder.resolve("tools"));
            for (var one : proposal.files().entrySet()) {
                Files.writeString(folder.resolve(one.getKey()), one.getValue());
            }
        } catch (IllegalArgumentException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, String.valueOf(e.getMessage()));
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " can't be written: " + e.getMessage());
        }
        proposal.notes().forEach(note -> servitor.out().println("Note: " + note));
        servitor.out().println("Wrote " + file + ". Read what it proposes, then: servitor handbook check " + folder);
        return 0;
    }

    private static String read(String place) {
        try {
            if (!place.matches("https?://.*")) {
                try (InputStream file = Given.open(Path.of(place))) {
                    return bounded(place, file);
                }
            }
            HttpResponse<InputStream> answer = HttpClient.newHttpClient()
                    .send(
                            HttpRequest.newBuilder(URI.create(place))
                                    .timeout(Duration.ofSeconds(20))
                                    .build(),
                            HttpResponse.BodyHandlers.ofInputStream());
            try (InputStream body = answer.body()) {
                if (answer.statusCode() != 200) {
                    throw new Trouble(ExitCode.UNREACHABLE, place + " answered " + answer.statusCode() + ".");
                }
                return bounded(place, body);
            }
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, place + " can't be read: " + e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Trouble(ExitCode.UNREACHABLE, "interrupted");
        }
    }

    private static String bounded(String place, InputStream in) throws IOException {
        byte[] bytes = in.readNBytes(MOST_BYTES + 1);
        if (bytes.length > MOST_BYTES) {
            throw new Trouble(ExitCode.WRONG_USAGE, place + " has more than " + MOST_BYTES + " bytes.");
        }
        return new String(bytes, StandardCharsets.UTF_8);
    }
}
