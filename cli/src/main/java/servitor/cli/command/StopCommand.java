package servitor.cli.command;

import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Stop;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** Emergency stops. */
@Command(
        name = "stop",
        description = "Stop an agent, a tool, a connection or a page at once, without publishing, and let it go on.",
        synopsisSubcommandLabel = "ACTION")
public final class StopCommand {
    private static final String WHAT = "agent, tool, connection or page";

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List what stands still, and why.")
    int list() {
        JsonNode stops = servitor.client().get("/api/stops");
        if (!servitor.printed(stops)) {
            print(stops);
        }
        return 0;
    }

    private void print(JsonNode stops) {
        if (stops.isEmpty()) {
            servitor.out().println("Nothing is stopped.");
            return;
        }
        Output.table(
                servitor.out(),
                List.of("WHAT", "NAME", "SINCE", "BY", "REASON"),
                Client.all(Stop.class, stops).stream()
                        .map(item -> List.of(
                                item.what(),
                                item.name(),
                                Output.time(item.at()),
                                item.by().name(),
                                item.reason()))
                        .toList());
    }

    @Command(name = "begin", description = "Stop something: nothing new leaves by it, and runs wait and say why.")
    int begin(
            @Parameters(paramLabel = "WHAT", description = WHAT) String what,
            @Parameters(paramLabel = "NAME") String name,
            @Option(
                            names = "--reason",
                            converter = Given.class,
                            required = true,
                            description = "Why, for those who wait.")
                    String reason) {
        JsonNode stop = servitor.client().post("/api/stops", Map.of("what", what, "name", name, "reason", reason));
        if (!servitor.printed(stop)) {
            servitor.out()
                    .println("Stopped the " + what + " ‘" + name + "’. Let it go on with: servitor stop lift " + what
                            + " " + name + " --reason …");
        }
        return 0;
    }

    @Command(name = "lift", description = "Let what was stopped go on.")
    int lift(
            @Parameters(paramLabel = "WHAT", description = WHAT) String what,
            @Parameters(paramLabel = "NAME") String name,
            @Option(names = "--reason", converter = Given.class, required = true, description = "Why it may.")
                    String reason) {
        JsonNode stops = servitor.client()
                .post("/api/stops/" + Client.part(what) + "/" + Client.part(name) + "/lift", Map.of("reason", reason));
        if (!servitor.printed(stops)) {
            servitor.out().println("The " + what + " ‘" + name + "’ goes on.");
        }
        return 0;
    }
}
