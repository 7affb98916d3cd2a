package servitor.cli.command;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.Client;
import servitor.cli.Output;
import servitor.cli.Servitor;
import tools.jackson.databind.JsonNode;

/** {@code connection}: list, set. */
@Command(name = "connection", description = "Say where outside systems are.", synopsisSubcommandLabel = "ACTION")
public final class ConnectionCommand {
    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List all connections.")
    int list() {
        JsonNode all = servitor.client().get("/api/connections");
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("CONNECTION", "ADDRESS", "CALLS AT ONCE"),
                    StreamSupport.stream(all.spliterator(), false)
                            .map(item -> List.of(
                                    item.path("name").asString(),
                                    item.path("url").asString(),
                                    item.path("atOnce").asString()))
                            .toList());
        }
        return 0;
    }

    @Command(name = "set", description = "Set where a connection leads.")
    int set(
            @Parameters(paramLabel = "NAME") String name,
            @Parameters(paramLabel = "URL") String url,
            @Option(names = "--at-once", description = "How many calls may be under way at the same time.") @Nullable
                    Integer atOnce) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("url", url);
        body.put("atOnce", atOnce);
        JsonNode kept = servitor.client().put("/api/connections/" + Client.part(name), body);
        if (!servitor.printed(kept)) {
            servitor.out().println("‘" + name + "’ is at " + kept.path("url").asString() + ".");
        }
        return 0;
    }
}
