package servitor.cli.command;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/** {@code run}: show, and follow while it moves. */
@Command(name = "run", description = "See what a run did and does.", synopsisSubcommandLabel = "ACTION")
public final class RunCommand {
    private static final java.util.Set<String> ENDED = java.util.Set.of("finished", "failed", "stopped");

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List the runs of cases you see as staff, the one begun last first.")
    int list(
            @Option(names = "--status", description = "Only runs that stand so, such as waiting or in-doubt.") @Nullable
                    String status,
            @Mixin Paging paging) {
        Map<String, Object> parts = paging.query();
        parts.put("status", status);
        JsonNode found = servitor.client().get("/api/runs" + Client.query(parts));
        if (servitor.printed(found)) {
            return 0;
        }
        if (found.path("items").isEmpty()) {
            servitor.out().println("No runs.");
            return 0;
        }
        Output.table(
                servitor.out(),
                List.of("RUN", "CASE", "STATUS", "AGENT", "BEGUN", "STEP", "PAGE"),
                StreamSupport.stream(found.path("items").spliterator(), false)
                        .map(run -> List.of(
                                run.path("id").asString(),
                                run.path("caseId").asString(),
                                run.path("status").asString(),
                                run.path("agent").asString(),
                                Output.time(run.path("created")),
                                run.path("stepTitle").asString(),
                                run.path("pageTitle").asString()))
                        .toList());
        Paging.more(servitor.out(), found);
        return 0;
    }

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
        if (run.path("paused").isString()) {
            out.println("  Paused: " + run.path("paused").asString());
        }
        run.path("wrong")
                .forEach(trouble ->
                        out.println("  Went wrong (" + trouble.path("id").asString() + "): "
                                + trouble.path("problem").asString() + ", "
                                + trouble.path("detail").asString() + "\n  See to it with: servitor run mend "
                                + trouble.path("id").asString() + " --retry | --skip | --take-over, --reason …"));
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

    @Command(
            name = "pause",
            description = "Let nothing leave for a run, and the pages it follows, until it is resumed.")
    int pause(
            @Parameters(paramLabel = "RUN") String id,
            @Option(names = "--reason", required = true, description = "Why.") String reason) {
        return steer(id, "pause", Map.of("reason", reason), " is paused.");
    }

    @Command(name = "resume", description = "Let a paused run go on.")
    int resume(@Parameters(paramLabel = "RUN") String id) {
        return steer(id, "resume", Map.of(), " goes on.");
    }

    @Command(name = "tell", description = "Tell the agent something that its next steps take into account.")
    int tell(
            @Parameters(paramLabel = "RUN") String id,
            @Option(names = "--text", required = true, description = "What it should know.") String text) {
        return steer(id, "notes", Map.of("text", text), ": the agent takes it into account from its next step on.");
    }

    private int steer(String id, String action, Map<String, ?> body, String said) {
        JsonNode run = servitor.client().post("/api/runs/" + Client.part(id) + "/" + action, body);
        if (!servitor.printed(run)) {
            servitor.out().println(id + said);
        }
        return 0;
    }

    @Command(name = "wrong", description = "List what went wrong and waits for a person.")
    int wrong() {
        JsonNode all = servitor.client().get("/api/today").path("wentWrong");
        if (servitor.printed(all)) {
            return 0;
        }
        List<List<String>> rows = new ArrayList<>();
        all.forEach(item -> item.path("run")
                .path("wrong")
                .forEach(trouble -> rows.add(List.of(
                        trouble.path("id").asString(),
                        item.path("about").path("id").asString(),
                        trouble.path("what").asString(),
                        trouble.path("step").asString(),
                        trouble.path("problem").asString() + ": "
                                + Output.shorten(trouble.path("detail").asString(), 90)))));
        if (rows.isEmpty()) {
            servitor.out().println("Nothing has gone wrong that nobody has seen to.");
        } else {
            Output.table(servitor.out(), List.of("TROUBLE", "CASE", "WHAT", "AT", "PROBLEM"), rows);
        }
        return 0;
    }

    @Command(name = "mend", description = "See to something that went wrong: retry, skip the step, or take over.")
    int mend(
            @Parameters(paramLabel = "TROUBLE", description = "Its id, as ‘run wrong’ lists it.") String id,
            @ArgGroup(exclusive = true, multiplicity = "1") Mend how,
            @Option(
                            names = "--result",
                            paramLabel = "JSON",
                            description = "For a skipped call: what it would have given.")
                    @Nullable
                    String result,
            @Option(names = "--reason", required = true, description = "Why.") String reason) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("does", how.retry ? "retry" : how.skip ? "skip" : "take-over");
        body.put("reason", reason);
        body.put("result", result == null ? null : json(result));
        String run = id.replaceFirst("^(R-\\d+)-.*", "$1");
        JsonNode mended = servitor.client().post("/api/runs/" + Client.part(run) + "/wrong/" + Client.part(id), body);
        if (!servitor.printed(mended)) {
            servitor.out().println(run + " is " + mended.path("status").asString() + " now.");
        }
        return 0;
    }

    /** Exactly one of these. */
    static final class Mend {
        @Option(names = "--retry", required = true, description = "Take the step once more.")
        boolean retry;

        @Option(names = "--skip", required = true, description = "Go on behind it.")
        boolean skip;

        @Option(names = "--take-over", required = true, description = "Leave it to people; that is you.")
        boolean takeOver;
    }

    @Command(
            name = "move-out",
            description = "Move runs that ended long ago out of the database, into files beside it.")
    int moveOut(
            @Option(
                            names = "--older-than",
                            required = true,
                            paramLabel = "AGE",
                            description = "As in ISO 8601, such as P90D.")
                    String age) {
        JsonNode moved = servitor.client().post("/api/backups/moving-out", Map.of("age", age));
        if (!servitor.printed(moved)) {
            servitor.out()
                    .println(moved.path("runs").asInt() + " runs and "
                            + moved.path("texts").asInt() + " texts moved out to "
                            + moved.path("folder").asString() + ".");
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
