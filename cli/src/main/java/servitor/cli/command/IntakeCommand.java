package servitor.cli.command;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.StreamSupport;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/** {@code intake}: list, send. */
@Command(
        name = "intake",
        description = "Send messages of outside systems that become cases.",
        synopsisSubcommandLabel = "ACTION")
public final class IntakeCommand {
    private static final int MOST_BYTES = 1_000_000;

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List where messages can be sent, for the desks you work for.")
    int list() {
        JsonNode all = servitor.client().get("/api/intake");
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("INTAKE", "TITLE", "BECOMES", "AT DESK", "A MESSAGE HOLDS"),
                    StreamSupport.stream(all.spliterator(), false)
                            .map(item -> List.of(
                                    item.path("name").asString(),
                                    item.path("title").asString(),
                                    item.path("kind").asString(),
                                    item.path("desk").asString(),
                                    String.join(
                                            ", ",
                                            item.path("message")
                                                    .path("properties")
                                                    .propertyNames())))
                            .toList());
        }
        return 0;
    }

    @Command(name = "send", description = "Send one message, as an outside system would.")
    int send(
            @Parameters(paramLabel = "NAME") String name,
            @Parameters(paramLabel = "FILE", description = "A JSON file; - for standard input.") Path file,
            @Option(names = "--try", description = "Only say what would be opened.") boolean dry) {
        JsonNode taken =
                servitor.client().post("/api/intake/" + Client.part(name) + (dry ? "?try=true" : ""), message(file));
        if (servitor.printed(taken)) {
            return 0;
        }
        String id = taken.path("id").asString("");
        switch (taken.path("outcome").asString()) {
            case "opened" -> servitor.out().println("Opened " + id + ".");
            case "known" -> servitor.out().println("This message has been taken in already, as " + id + ".");
            case "left-out" ->
                servitor.out().println("Left out: " + taken.path("why").asString() + ".");
            default -> {
                JsonNode would = taken.path("would");
                servitor.out()
                        .println("This would open a case of kind "
                                + would.path("kind").asString() + " for "
                                + would.path("requester").asString() + ".");
                servitor.out().println("  " + would.path("subject").asString());
                would.path("text")
                        .asString("")
                        .lines()
                        .forEach(line -> servitor.out().println("  " + line));
                would.path("fields")
                        .properties()
                        .forEach(field -> servitor.out()
                                .println("  " + field.getKey() + ": "
                                        + field.getValue()
                                                .asString(field.getValue().toString())));
            }
        }
        return 0;
    }

    private static JsonNode message(Path file) {
        try (InputStream in = file.toString().equals("-") ? System.in : Files.newInputStream(file)) {
            byte[] bytes = in.readNBytes(MOST_BYTES + 1);
            if (bytes.length > MOST_BYTES) {
                throw new Trouble(
                        ExitCode.WRONG_USAGE, file + " has more than " + MOST_BYTES + " bytes; a message is small.");
            }
            return Client.JSON.readTree(new String(bytes, StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " can't be read: " + e.getMessage());
        } catch (JacksonException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " isn't JSON: " + e.getOriginalMessage());
        }
    }
}
