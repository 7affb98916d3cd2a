package servitor.cli.command;

import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.Client;
import servitor.cli.ExitCode;
import servitor.cli.Output;
import servitor.cli.Servitor;
import servitor.cli.Trouble;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/** {@code run}: show, and follow while it moves. */
@Command(name = "run", description = "See what a run did and does.", synopsisSubcommandLabel = "ACTION")
public final class RunCommand {
    private static final java.util.Set<String> ENDED = java.util.Set.of("finished", "failed", "stopped");

    @ParentCommand
    private Servitor servitor;

    @Command(name = "show", description = "Show a run with everything it knows and did.")
    int show(
            @Parameters(paramLabel = "RUN") String id,
            @Option(names = "--follow", description = "Stay, and print what happens until the run ends.")
                    boolean follow)
            throws InterruptedException {
        Client client = servitor.client();
        JsonNode run = client.get("/api/runs/" + Client.part(id));
        if (!follow && servitor.printed(run)) {
            return 0;
        }
        var out = servitor.out();
        out.println(run.path("id").asString() + "  " + run.path("pageTitle").asString() + ", "
                + run.path("agent").asString() + ", edition "
                + run.path("edition").asInt());
        out.println("  " + run.path("status").asString() + " at ‘"
                + run.path("stepTitle").asString() + "’, " + run.path("calls").asInt() + " calls, "
                + run.path("tokens").asInt() + " model tokens");
        if (run.path("doubt").isObject()) {
            out.println("  In doubt, key " + run.path("doubt").path("key").asString() + ": "
                    + run.path("doubt").path("tool").asString()
                    + Output.value(run.path("doubt").path("inputs"), "    "));
            out.println("  Settle it with: servitor run settle " + id + " --happened RESULT | --did-not, --reason …");
        }
        run.path("known")
                .forEach(known ->
                        out.println("  " + known.path("name").asString() + " (" + Output.join(known.path("origins"))
                                + "): " + Output.shorten(Client.JSON.writeValueAsString(known.path("value")), 200)));
        long after = 0;
        while (true) {
            after = entries(client, run, after);
            out.flush();
            if (!follow || ENDED.contains(run.path("status").asString())) {
                return 0;
            }
            Thread.sleep(500);
            run = client.get("/api/runs/" + Client.part(id));
        }
    }

    @Command(name = "start", description = "Start a page by hand on a case that no run works on.")
    int start(@Parameters(paramLabel = "CASE") String id, @Parameters(paramLabel = "PAGE") String page) {
        JsonNode started = servitor.client().post("/api/cases/" + Client.part(id) + "/runs", Map.of("page", page));
        if (!servitor.printed(started)) {
            servitor.out().println("Started ‘" + page + "’ on " + id + ".");
        }
        return 0;
    }

    @Command(name = "move", description = "Move a waiting run to another edition, where nothing it stands on differs.")
    int move(
            @Parameters(paramLabel = "RUN") String id,
            @Option(names = "--to", required = true, paramLabel = "EDITION", description = "The edition's number.")
                    int edition) {
        JsonNode moved =
                servitor.client().post("/api/runs/" + Client.part(id) + "/edition", Map.of("edition", edition));
        if (!servitor.printed(moved)) {
            servitor.out()
                    .println(id + " is on edition " + moved.path("edition").asInt() + " now.");
        }
        return 0;
    }

    @Command(name = "settle", description = "Say whether a call in doubt happened; the run goes on from there.")
    int settle(
            @Parameters(paramLabel = "RUN") String id,
            @ArgGroup(exclusive = true, multiplicity = "1") Settlement settlement,
            @Option(names = "--reason", required = true, description = "How you know.") String reason) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("happened", settlement.happened != null);
        body.put("result", settlement.happened == null ? null : json(settlement.happened));
        body.put("reason", reason);
        JsonNode run = servitor.client().post("/api/runs/" + Client.part(id) + "/settlement", body);
        if (!servitor.printed(run)) {
            servitor.out().println(id + " goes on: " + run.path("status").asString() + ".");
        }
        return 0;
    }

    /** Exactly one of the two. */
    static final class Settlement {
        @Option(
                names = "--happened",
                required = true,
                paramLabel = "RESULT",
                description = "It happened, with this result (JSON, as the tool answers).")
        @Nullable
        String happened;

        @Option(names = "--did-not", required = true, description = "It did not happen; it is judged and sent again.")
        boolean didNot;
    }

    private static JsonNode json(String text) {
        try {
            return Client.JSON.readTree(text);
        } catch (JacksonException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, "The result isn't JSON: " + e.getOriginalMessage());
        }
    }

    @Command(name = "stop", description = "End a run and leave the case to people.")
    int stop(
            @Parameters(paramLabel = "RUN") String id,
            @Option(names = "--reason", required = true, description = "Why.") String reason) {
        JsonNode stopped = servitor.client().post("/api/runs/" + Client.part(id) + "/stop", Map.of("reason", reason));
        if (!servitor.printed(stopped)) {
            servitor.out().println(id + " is stopped.");
        }
        return 0;
    }

    private long entries(Client client, JsonNode run, long after) {
        JsonNode page = client.get("/api/trail"
                + Client.query(Map.of("case", run.path("caseId").asString(), "cursor", after, "limit", 200)));
        long last = after;
        for (JsonNode entry : page.path("items")) {
            last = entry.path("seq").asLong();
            if (entry.path("run").asString().equals(run.path("id").asString())) {
                servitor.out().println(TrailCommand.line(entry));
            }
        }
        return page.path("next").isString() ? entries(client, run, last) : last;
    }
}
