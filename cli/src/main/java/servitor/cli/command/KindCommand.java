package servitor.cli.command;

import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Kind;
import servitor.cli.client.Answers.Link;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code kind}: list, link, qr. */
@Command(
        name = "kind",
        description = "See which kinds of case you are offered, and where their forms are.",
        synopsisSubcommandLabel = "ACTION")
public final class KindCommand {
    private static final String KINDS = "/api/handbook/kinds";

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List the kinds of case you are offered, with their fields.")
    int list() {
        JsonNode all = servitor.client().get(KINDS);
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("KIND", "TITLE", "DESK", "FIELDS (* IS NEEDED)"),
                    Client.all(Kind.class, all).stream()
                            .map(kind -> List.of(
                                    kind.name(),
                                    kind.title(),
                                    kind.desk(),
                                    kind.fields().stream()
                                            .map(field -> field.name() + (field.required() ? "*" : ""))
                                            .collect(Collectors.joining(", "))))
                            .toList());
        }
        return 0;
    }

    @Command(name = "link", description = "Say where the form of a kind is.")
    int link(@Parameters(paramLabel = "KIND") String kind) {
        JsonNode link = servitor.client().get(KINDS + "/" + Client.part(kind) + "/link");
        if (!servitor.printed(link)) {
            servitor.out().println(Client.as(Link.class, link).url());
        }
        return 0;
    }

    @Command(name = "qr", description = "Write the link to a kind's form as a QR code, for a poster.")
    int qr(
            @Parameters(paramLabel = "KIND") String kind,
            @Parameters(paramLabel = "FILE", description = "Ends in .png or .svg; it mustn't be there yet.")
                    Path file) {
        String name = String.valueOf(file.getFileName());
        String as = name.substring(name.lastIndexOf('.') + 1);
        if (!List.of("png", "svg").contains(as)) {
            throw new Trouble(ExitCode.WRONG_USAGE, "‘" + name + "’ must end in .png or .svg.");
        }
        servitor.save(KINDS + "/" + Client.part(kind) + "/qr?as=" + as, file);
        return 0;
    }
}
