package servitor.cli.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.UUID;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code case}: open, list, show, reply. */
@Command(name = "case", description = "Open, find and answer cases.", synopsisSubcommandLabel = "ACTION")
public final class CaseCommand {
    @ParentCommand
    private Servitor servitor;

    @Command(name = "open", description = "Open a case; its page starts at once.")
    int open(
            @Option(names = "--kind", required = true, description = "What sort of case, such as refund.") String kind,
            @Option(names = "--subject", required = true, description = "What it is about, in a few words.")
                    String subject,
            @Option(names = "--text", defaultValue = "", description = "The request in the requester's words.")
                    String text,
            @Option(names = "--field", paramLabel = "NAME=VALUE", description = "A field of the kind; repeat for more.")
                    @Nullable
                    Map<String, String> fields,
            @Option(
                            names = "--for",
                            paramLabel = "PERSON",
                            description = "Open it for somebody else; who it is then counts as claimed only.")
                    @Nullable
                    String requester,
            @Option(names = "--language", description = "The language to answer in, such as de.") @Nullable
                    String language,
            @Option(names = "--key", description = "Repeating the command with the same key opens nothing new.")
                    @Nullable
                    String key) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("kind", kind);
        body.put("subject", subject);
        body.put("text", text);
        body.put("language", language);
        body.put("requester", requester);
        body.put("fields", fields == null ? Map.of() : fields);
        JsonNode opened = servitor.client()
                .post("/api/cases", body, key == null ? UUID.randomUUID().toString() : key);
        if (!servitor.printed(opened)) {
            JsonNode summary = opened.path("summary");
            servitor.out().println("Opened " + summary.path("id").asString() + ", " + state(summary) + ".");
            servitor.out()
                    .println("See it with: servitor case show "
                            + summary.path("id").asString());
        }
        return 0;
    }

    @Command(name = "list", description = "List the cases you see, newest first.")
    int list(
            @Option(names = "--state", description = "Only cases in this state, such as with-people.") @Nullable
                    String state,
            @Option(names = "--search", description = "Only cases with these words in subject, text or id.") @Nullable
                    String words,
            @Mixin Paging paging) {
        Map<String, Object> parts = paging.query();
        parts.put("state", state);
        parts.put("q", words);
        JsonNode page = servitor.client().get("/api/cases" + Client.query(parts));
        if (servitor.printed(page)) {
            return 0;
        }
        if (page.path("items").isEmpty()) {
            servitor.out().println("No cases.");
            return 0;
        }
        Output.table(
                servitor.out(),
                java.util.List.of("CASE", "STATE", "KIND", "REQUESTER", "OPENED", "SUBJECT"),
                StreamSupport.stream(page.path("items").spliterator(), false)
                        .map(item -> java.util.List.of(
                                item.path("id").asString(),
                                item.path("state").asString(),
                                item.path("kind").asString(),
                                item.path("requester").path("name").asString(),
                                Output.time(item.path("created")),
                                Output.shorten(item.path("subject").asString(), 60)))
                        .toList());
        Paging.more(servitor.out(), page);
        return 0;
    }

    @Command(name = "show", description = "Show one case with its notes, runs and approvals.")
    int show(@Parameters(paramLabel = "CASE") String id) {
        JsonNode shown = servitor.client().get("/api/cases/" + Client.part(id));
        if (servitor.printed(shown)) {
            return 0;
        }
        JsonNode summary = shown.path("summary");
        var out = servitor.out();
        out.println(
                summary.path("id").asString() + "  " + summary.path("subject").asString());
        out.println("  " + summary.path("kindTitle").asString() + ", desk "
                + summary.path("desk").asString() + ", " + state(summary));
        out.println("  for " + summary.path("requester").path("name").asString() + " ("
                + summary.path("proof").asString() + "), opened " + Output.time(summary.path("created")) + " by "
                + shown.path("openedBy").path("name").asString());
        shown.path("fields")
                .properties()
                .forEach(field -> out.println("  " + field.getKey() + ": " + Output.plain(field.getValue())));
        if (!shown.path("text").asString().isEmpty()) {
            out.println(Output.indent(shown.path("text").asString()));
        }
        shown.path("notes").forEach(note -> {
            String marks = (note.path("audience").asString().equals("staff") ? ", for staff" : "")
                    + (note.path("written").asBoolean() ? ", written by a model" : "");
            out.println();
            out.println(
                    note.path("author").path("name").asString() + ", " + Output.time(note.path("at")) + marks + ":");
            out.println(Output.indent(note.path("text").asString()));
        });
        shown.path("documents")
                .forEach(document ->
                        out.println("Document " + document.path("id").asString() + ": "
                                + document.path("name").asString() + " ("
                                + document.path("type").asString() + ", "
                                + document.path("size").asInt() + " bytes)"));
        shown.path("relations")
                .forEach(relation ->
                        out.println("Related: " + relation.path("what").asString() + " "
                                + relation.path("other").asString()));
        shown.path("runs").forEach(run -> {
            out.println();
            out.println("Run " + run.path("id").asString() + ": "
                    + run.path("pageTitle").asString() + " (edition "
                    + run.path("edition").asInt() + "), " + run.path("status").asString() + " at ‘"
                    + run.path("stepTitle").asString() + "’");
        });
        shown.path("approvals")
                .forEach(approval ->
                        out.println("Approval " + approval.path("id").asString() + ": "
                                + approval.path("question").asString() + " "
                                + approval.path("state").asString()));
        return 0;
    }

    @Command(name = "reply", description = "Write a note on a case.")
    int reply(
            @Parameters(paramLabel = "CASE") String id,
            @Option(names = "--text", required = true, description = "What to write.") String text,
            @Option(names = "--staff", description = "For the people of the desk only, not for the requester.")
                    boolean staff) {
        JsonNode note = servitor.client()
                .post("/api/cases/" + Client.part(id) + "/notes", Map.of("text", text, "staff", staff));
        if (!servitor.printed(note)) {
            servitor.out().println("Written on " + id + (staff ? ", for staff." : "."));
        }
        return 0;
    }

    @Command(name = "resolve", description = "Resolve a case that people have in hand.")
    int resolve(
            @Parameters(paramLabel = "CASE") String id,
            @Option(names = "--how", required = true, description = "What was done; kept as a note for staff.")
                    String how) {
        JsonNode detail = servitor.client().post("/api/cases/" + Client.part(id) + "/resolution", Map.of("how", how));
        if (!servitor.printed(detail)) {
            servitor.out().println(id + " is " + state(detail.path("summary")) + ".");
        }
        return 0;
    }

    @Command(name = "attach", description = "Attach a file to a case.")
    int attach(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "FILE") Path file,
            @Option(names = "--type", description = "Its media type; guessed from the name when left out.") @Nullable
                    String type)
            throws IOException {
        if (!Files.isRegularFile(file)) {
            throw new Trouble(ExitCode.WRONG_USAGE, "There is no file " + file + ".");
        }
        String guessed = type != null ? type : Files.probeContentType(file);
        JsonNode document = servitor.client()
                .post(
                        "/api/cases/" + Client.part(id) + "/documents",
                        Map.of(
                                "name",
                                file.getFileName().toString(),
                                "type",
                                guessed == null ? "application/octet-stream" : guessed,
                                "content",
                                Base64.getEncoder().encodeToString(Files.readAllBytes(file))));
        if (!servitor.printed(document)) {
            servitor.out()
                    .println("Attached to " + id + " as " + document.path("id").asString() + ".");
        }
        return 0;
    }

    @Command(name = "event", description = "Report something that has happened outside to the runs of a case.")
    int event(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "NAME") String name,
            @Option(names = "--data", paramLabel = "JSON", defaultValue = "{}", description = "What else is known.")
                    String data) {
        JsonNode heard = servitor.client()
                .post(
                        "/api/cases/" + Client.part(id) + "/events",
                        Map.of("name", name, "data", Client.JSON.readTree(data)));
        if (!servitor.printed(heard)) {
            servitor.out()
                    .println(
                            heard.path("awaited").asBoolean()
                                    ? "A run waited for this and goes on."
                                    : "Noted; no run waits for this.");
        }
        return 0;
    }

    static String state(JsonNode summary) {
        String waiting = summary.path("waitingFor").asString("");
        return summary.path("state").asString() + (waiting.isEmpty() ? "" : " for " + waiting);
    }
}
