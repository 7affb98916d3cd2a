package servitor.cli.command;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.UseDefaultConverter;
import servitor.cli.client.Answers.MovedOut;
import servitor.cli.client.Answers.Run;
import servitor.cli.client.Answers.Runs;
import servitor.cli.client.Answers.Steering;
import servitor.cli.client.Answers.Trail;
import servitor.cli.client.Answers.TrailEntry;
import servitor.cli.client.Answers.Working;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
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
        JsonNode answer = servitor.client().get("/api/runs" + Client.query(parts));
        if (servitor.printed(answer)) {
            return 0;
        }
        Runs found = Client.as(Runs.class, answer);
        if (found.items().isEmpty()) {
            servitor.out().println("No runs.");
            return 0;
        }
        Output.table(
                servitor.out(),
                List.of("RUN", "CASE", "STATUS", "AGENT", "BEGUN", "STEP", "PAGE"),
                found.items().stream()
                        .map(run -> List.of(
                                run.id(),
                                run.caseId(),
                                run.status(),
                                run.agent(),
                                Output.time(run.created()),
                                run.stepTitle(),
                                run.pageTitle()))
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
        JsonNode answer = client.get("/api/runs/" + Client.part(id));
        if (!follow && servitor.printed(answer)) {
            return 0;
        }
        Run run = Client.as(Run.class, answer);
        var out = servitor.out();
        out.println(run.id() + "  " + run.pageTitle() + ", " + run.agent() + ", edition " + run.edition());
        out.println("  " + run.status() + " at ‘"
                + run.stepTitle() + "’, " + run.calls() + " calls, "
                + run.tokens() + " model tokens"
                + (run.cost() == null ? "" : ", its own cost " + run.cost().toPlainString()));
        if (run.doubt() != null) {
            out.println("  In doubt, key " + run.doubt().key() + ": "
                    + run.doubt().tool()
                    + Output.value(run.doubt().inputs(), "    "));
            out.println("  Settle it with: servitor run settle " + id + " --happened RESULT | --did-not, --reason …");
        }
        if (run.held() != null) {
            out.println("  Held, in shadow: " + run.held().says() + " ("
                    + run.held().tool() + ")" + Output.value(run.held().inputs(), "    "));
            out.println("  Do it by hand, and say so: servitor run by-hand " + id
                    + " --done RESULT | --nothing, --reason …");
        }
        if (run.paused() != null) {
            out.println("  Paused: " + run.paused());
        }
        run.troubles()
                .forEach(trouble -> out.println("  Went wrong (" + trouble.id() + "): "
                        + trouble.problem() + ", "
                        + trouble.detail() + "\n  See to it with: servitor run mend "
                        + trouble.id() + " --retry | --skip | --take-over, --reason …"));
        run.known()
                .forEach(known -> out.println("  " + known.name() + " (" + String.join(", ", known.origins()) + "): "
                        + Output.shorten(Client.JSON.writeValueAsString(known.value()), 200)));
        long after = 0;
        while (true) {
            after = entries(client, run, after);
            out.flush();
            if (!follow || ENDED.contains(run.status())) {
                return 0;
            }
            Thread.sleep(500);
            run = Client.as(Run.class, client.get("/api/runs/" + Client.part(id)));
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
                    .println(
                            id + " is on edition " + Client.as(Run.class, moved).edition() + " now.");
        }
        return 0;
    }

    @Command(name = "settle", description = "Say whether a call in doubt happened; the run goes on from there.")
    int settle(
            @Parameters(paramLabel = "RUN") String id,
            @ArgGroup(exclusive = true, multiplicity = "1") Settlement settlement,
            @Option(names = "--reason", converter = Given.class, required = true, description = "How you know.")
                    String reason) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("happened", settlement.happened != null);
        body.put("result", settlement.happened == null ? null : Inputs.json(settlement.happened));
        body.put("reason", reason);
        JsonNode run = servitor.client().post("/api/runs/" + Client.part(id) + "/settlement", body);
        if (!servitor.printed(run)) {
            servitor.out().println(id + " goes on: " + Client.as(Run.class, run).status() + ".");
        }
        return 0;
    }

    /** What was done by hand: exactly one of the two. */
    static final class ByHand {
        @Option(
                names = "--done",
                converter = Given.class,
                required = true,
                paramLabel = "RESULT",
                description = "It was done, with this result (JSON, as the tool answers; {} for none).")
        @Nullable
        String done;

        @Option(names = "--nothing", required = true, description = "Nothing of the kind was done.")
        boolean nothing;
    }

    @Command(
            name = "by-hand",
            description = "Say what you did by hand where a call is held in shadow; the run goes on from there.")
    int byHand(
            @Parameters(paramLabel = "RUN") String id,
            @ArgGroup(exclusive = true, multiplicity = "1") ByHand byHand,
            @Option(
                            names = "--with",
                            converter = {UseDefaultConverter.class, Given.class},
                            description = "An input that you did it with, where it differs, as in --with amount=40.")
                    @Nullable
                    Map<String, String> with,
            @Option(names = "--reason", converter = Given.class, required = true, description = "Why so.")
                    String reason) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("did", byHand.nothing ? "nothing" : "done");
        body.put("reason", reason);
        if (byHand.done != null) {
            body.put("result", Inputs.json(byHand.done));
            body.put("inputs", with == null ? null : inputs(id, with));
        }
        JsonNode run = servitor.client().post("/api/runs/" + Client.part(id) + "/by-hand", body);
        if (!servitor.printed(run)) {
            servitor.out().println(id + " goes on: " + Client.as(Run.class, run).status() + ".");
        }
        return 0;
    }

    /** What was proposed, with what was done otherwise. */
    private Map<String, Object> inputs(String id, Map<String, String> with) {
        Run run = Client.as(Run.class, servitor.client().get("/api/runs/" + Client.part(id)));
        Map<String, Object> inputs = new LinkedHashMap<>();
        if (run.held() != null) {
            run.held().inputs().properties().forEach(e -> inputs.put(e.getKey(), e.getValue()));
            inputs.putAll(Inputs.of(servitor.client(), run.held().tool(), with));
        }
        return inputs;
    }

    /** Exactly one of the two. */
    static final class Settlement {
        @Option(
                names = "--happened",
                converter = Given.class,
                required = true,
                paramLabel = "RESULT",
                description = "It happened, with this result (JSON, as the tool answers).")
        @Nullable
        String happened;

        @Option(names = "--did-not", required = true, description = "It did not happen; it is judged and sent again.")
        boolean didNot;
    }

    @Command(name = "stop", description = "End a run and leave the case to people.")
    int stop(
            @Parameters(paramLabel = "RUN") String id,
            @Option(names = "--reason", converter = Given.class, required = true, description = "Why.") String reason) {
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
            @Option(names = "--reason", converter = Given.class, required = true, description = "Why.") String reason) {
        return steer(id, "pause", Map.of("reason", reason), " is paused.");
    }

    @Command(name = "resume", description = "Let a paused run go on.")
    int resume(@Parameters(paramLabel = "RUN") String id) {
        return steer(id, "resume", Map.of(), " goes on.");
    }

    @Command(
            name = "tell",
            description = {
                "Say in your own words what should be done: go ahead, skip that, stop, or what should be different.",
                "How that is read is shown first, and counts when you say so."
            })
    int tell(
            @Parameters(paramLabel = "RUN") String id,
            @Option(names = "--text", converter = Given.class, required = true, description = "Your words.")
                    String text,
            @Option(names = "--yes", description = "Don't ask; for programs.") boolean yes) {
        String path = "/api/runs/" + Client.part(id);
        JsonNode answer = servitor.client().post(path + "/reading", Map.of("text", text));
        Steering read = Client.as(Steering.class, answer);
        boolean doable = !List.of("nothing", "decide").contains(read.does());
        if (!ReadBack.counts(servitor, read.said(), read.words(), doable, yes)) {
            servitor.printed(answer);
            return 1;
        }
        return switch (read.does()) {
            case "tell" ->
                steer(
                        id,
                        "notes",
                        Map.of("text", read.text()),
                        ": the agent takes it into account from its next step on.");
            case "resume" -> steer(id, "resume", Map.of(), " goes on.");
            case "stop" -> steer(id, "stop", Map.of("reason", read.text()), " is stopped.");
            default ->
                steer(
                        id,
                        "troubles/" + Client.part(String.valueOf(read.trouble())),
                        Map.of("does", read.does(), "reason", read.text()),
                        read.does().equals("skip") ? " goes on behind it." : " tries it once more.");
        };
    }

    private int steer(String id, String action, Map<String, ?> body, String said) {
        JsonNode run = servitor.client().post("/api/runs/" + Client.part(id) + "/" + action, body);
        if (!servitor.printed(run)) {
            servitor.out().println(id + said);
        }
        return 0;
    }

    @Command(name = "troubled", description = "List what went wrong and waits for a person.")
    int troubled() {
        JsonNode all = servitor.client().get("/api/today").path("troubled");
        if (servitor.printed(all)) {
            return 0;
        }
        List<List<String>> rows = new ArrayList<>();
        all.forEach(one -> {
            Working item = Client.as(Working.class, one);
            item.run()
                    .troubles()
                    .forEach(trouble -> rows.add(List.of(
                            trouble.id(),
                            item.about().id(),
                            trouble.what(),
                            trouble.step(),
                            trouble.problem() + ": " + Output.shorten(trouble.detail(), 90))));
        });
        if (rows.isEmpty()) {
            servitor.out().println("Nothing has gone wrong that nobody has seen to.");
        } else {
            Output.table(servitor.out(), List.of("TROUBLE", "CASE", "WHAT", "AT", "PROBLEM"), rows);
        }
        return 0;
    }

    @Command(name = "mend", description = "See to something that went wrong: retry, skip the step, or take over.")
    int mend(
            @Parameters(paramLabel = "TROUBLE", description = "Its id, as ‘run troubled’ lists it.") String id,
            @ArgGroup(exclusive = true, multiplicity = "1") Mend how,
            @Option(
                            names = "--result",
                            converter = Given.class,
                            paramLabel = "JSON",
                            description = "For a skipped call: what it would have given.")
                    @Nullable
                    String result,
            @Option(names = "--reason", converter = Given.class, required = true, description = "Why.") String reason) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("does", how.retry ? "retry" : how.skip ? "skip" : "take-over");
        body.put("reason", reason);
        body.put("result", result == null ? null : Inputs.json(result));
        String run = id.replaceFirst("^(R-\\d+)-.*", "$1");
        JsonNode mended =
                servitor.client().post("/api/runs/" + Client.part(run) + "/troubles/" + Client.part(id), body);
        if (!servitor.printed(mended)) {
            servitor.out().println(run + " is " + Client.as(Run.class, mended).status() + " now.");
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
            MovedOut out = Client.as(MovedOut.class, moved);
            servitor.out()
                    .println(out.runs() + " runs and " + out.texts() + " texts moved out to " + out.folder() + ".");
        }
        return 0;
    }

    private long entries(Client client, Run run, long after) {
        Trail page = Client.as(
                Trail.class,
                client.get("/api/trail" + Client.query(Map.of("case", run.caseId(), "cursor", after, "limit", 200))));
        long last = after;
        for (TrailEntry entry : page.items()) {
            last = entry.seq();
            if (entry.run().equals(run.id())) {
                servitor.out().println(TrailCommand.line(entry));
            }
        }
        return page.next() != null ? entries(client, run, last) : last;
    }
}
