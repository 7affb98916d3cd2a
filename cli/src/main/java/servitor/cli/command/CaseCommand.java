package servitor.cli.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.UseDefaultConverter;
import servitor.cli.client.Answers.Actor;
import servitor.cli.client.Answers.CaseDetail;
import servitor.cli.client.Answers.CaseSummary;
import servitor.cli.client.Answers.Cases;
import servitor.cli.client.Answers.Document;
import servitor.cli.client.Answers.Heard;
import servitor.cli.client.Answers.Note;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code case}: open, list, show, reply. */
@Command(name = "case", description = "Open, find and answer cases.", synopsisSubcommandLabel = "ACTION")
public final class CaseCommand {
    private static final int LONGEST_FILE = 5_000_000;

    @ParentCommand
    private Servitor servitor;

    @Command(name = "open", description = "Open a case; its page starts at once.")
    int open(
            @Option(names = "--kind", required = true, description = "What sort of case, such as refund.") String kind,
            @Option(
                            names = "--subject",
                            converter = Given.class,
                            required = true,
                            description = "What it is about, in a few words.")
                    String subject,
            @Option(
                            names = "--text",
                            converter = Given.class,
                            defaultValue = "",
                            description = "The request in the requester's words.")
                    String text,
            @Option(
                            names = "--field",
                            converter = {UseDefaultConverter.class, Given.class},
                            paramLabel = "NAME=VALUE",
                            description = "A field of the kind; repeat for more.")
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
            CaseSummary summary = Client.as(CaseDetail.class, opened).summary();
            servitor.out().println("Opened " + summary.id() + ", " + state(summary) + ".");
            servitor.out().println("See it with: servitor case show " + summary.id());
        }
        return 0;
    }

    @Command(name = "list", description = "List the cases you see, newest first.")
    int list(
            @Option(names = "--state", description = "Only cases in this state, such as with-people.") @Nullable
                    String state,
            @Option(names = "--search", description = "Only cases with these words in subject, text or id.") @Nullable
                    String words,
            @Option(names = "--late", description = "Only cases that are open although they were due.") boolean late,
            @Option(
                            names = "--owner",
                            paramLabel = "WHO",
                            description =
                                    "Only cases that this group, or person:ID, is to see to; ‘me’ for you and your groups.")
                    @Nullable
                    String owner,
            @Mixin Paging paging) {
        Map<String, Object> parts = paging.query();
        parts.put("state", state);
        parts.put("late", late ? "true" : null);
        parts.put("owner", owner);
        parts.put("q", words);
        JsonNode answer = servitor.client().get("/api/cases" + Client.query(parts));
        if (servitor.printed(answer)) {
            return 0;
        }
        Cases page = Client.as(Cases.class, answer);
        if (page.items().isEmpty()) {
            servitor.out().println("No cases.");
            return 0;
        }
        Output.table(
                servitor.out(),
                List.of("CASE", "STATE", "KIND", "REQUESTER", "OPENED", "SUBJECT"),
                page.items().stream()
                        .map(item -> List.of(
                                item.id(),
                                item.state() + (item.late() ? ", late" : ""),
                                item.kind(),
                                item.requester().name(),
                                Output.time(item.created()),
                                Output.shorten(item.called(), 60)))
                        .toList());
        Paging.more(servitor.out(), page);
        return 0;
    }

    private static String marks(Note note) {
        return (note.author().sort().equals("stranger") ? ", who takes no part in the case" : "")
                + (note.channel().equals("note") ? "" : ", by " + note.channel())
                + (note.told() == null ? "" : ", to " + note.told())
                + ("claimed".equals(note.proof()) ? ", only claimed to be from them" : "")
                + (note.audience().equals("staff") ? ", for staff" : "")
                + (note.written() ? ", written by a model" : "");
    }

    @Command(name = "own", description = "Say who is to see to a case.")
    int own(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "WHO", arity = "0..1", description = "A group, a desk, or person:ID.") @Nullable
                    String who,
            @Option(names = "--nobody", description = "Nobody in particular.") boolean nobody) {
        if (nobody == (who != null)) {
            throw new Trouble(
                    ExitCode.WRONG_USAGE, "Say either WHO, such as it-resolvers or person:teun, or --nobody.");
        }
        JsonNode answer =
                servitor.client().put("/api/cases/" + Client.part(id) + "/owner", Map.of("owner", nobody ? "" : who));
        if (!servitor.printed(answer)) {
            Actor owner = Client.as(CaseDetail.class, answer).summary().owner();
            servitor.out()
                    .println((owner == null ? "Nobody in particular" : owner.name()) + " is to see to " + id + ".");
        }
        return 0;
    }

    @Command(name = "name", description = "Name somebody as taking part in a case: their mails are no stranger's.")
    int name(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "PERSON") String person,
            @Option(names = "--no-longer", description = "Take that back.") boolean noLonger) {
        String path = "/api/cases/" + Client.part(id) + "/people/" + Client.part(person);
        JsonNode answer =
                noLonger ? servitor.client().delete(path) : servitor.client().put(path, Map.of());
        if (!servitor.printed(answer)) {
            servitor.out()
                    .println(noLonger ? person + " takes part no longer." : person + " takes part in " + id + ".");
        }
        return 0;
    }

    @Command(name = "documents", description = "List the documents of a case, and those it lacks.")
    int documents(@Parameters(paramLabel = "CASE") String id) {
        return DocumentCommand.list(servitor, id);
    }

    @Command(name = "show", description = "Show one case with its notes, runs and approvals.")
    int show(@Parameters(paramLabel = "CASE") String id) {
        JsonNode answer = servitor.client().get("/api/cases/" + Client.part(id));
        if (servitor.printed(answer)) {
            return 0;
        }
        CaseDetail shown = Client.as(CaseDetail.class, answer);
        CaseSummary summary = shown.summary();
        var out = servitor.out();
        out.println(summary.id() + "  " + summary.called());
        if (summary.title() != null) {
            out.println("  asked as ‘" + summary.subject() + "’");
        }
        out.println("  " + summary.kindTitle() + ", desk " + summary.desk() + ", " + state(summary));
        out.println("  for " + summary.requester().name() + " ("
                + summary.proof() + "), came by " + summary.channel() + ", opened " + Output.time(summary.created())
                + " by "
                + shown.openedBy().name());
        if (summary.owner() != null) {
            out.println("  " + summary.owner().name() + " to see to it");
        }
        if (shown.models() != null && shown.models().tokens() > 0) {
            out.println("  " + shown.models().tokens() + " model tokens"
                    + (shown.models().cost() == null
                            ? ""
                            : ", " + shown.models().cost().stripTrailingZeros().toPlainString() + " "
                                    + shown.models().currency()));
        }
        if (shown.askedOf() != null) {
            out.println("  waits for an answer of "
                    + String.join(" and ", shown.askedOf().whom()) + " since "
                    + Output.time(shown.askedOf().since())
                    + (shown.askedOf().until() == null
                            ? ""
                            : ", until " + Output.time(shown.askedOf().until())));
        }
        shown.fields()
                .properties()
                .forEach(field -> out.println("  " + field.getKey() + ": " + Output.plain(field.getValue())));
        if (!shown.text().isEmpty()) {
            out.println(Output.indent(shown.text()));
        }
        shown.notes().forEach(note -> {
            out.println();
            out.println(note.author().name() + ", " + Output.time(note.at()) + marks(note) + ":");
            out.println(Output.indent(note.text()));
        });
        if (!shown.people().isEmpty()) {
            out.println();
            out.println("Takes part: "
                    + String.join(", ", shown.people().stream().map(Actor::name).toList()));
        }
        shown.documents()
                .forEach(document -> out.println("Document " + document.id() + ": "
                        + document.name() + " ("
                        + document.type() + ", "
                        + document.size() + " bytes)"));
        shown.relations().forEach(relation -> out.println("Related: " + relation.words()));
        shown.repeats()
                .forEach(repeat -> out.println(
                        repeat.times() + " more of ‘" + repeat.from().name() + "’ since " + Output.time(repeat.since())
                                + ", the last " + Output.time(repeat.latest())));
        shown.runs().forEach(run -> {
            out.println();
            out.println("Run " + run.id() + ": "
                    + run.pageTitle() + " (edition "
                    + run.edition() + "), " + run.status() + " at ‘"
                    + run.stepTitle() + "’");
        });
        shown.approvals()
                .forEach(approval ->
                        out.println("Approval " + approval.id() + ": " + approval.headline() + " " + approval.state()));
        return 0;
    }

    @Command(
            name = "rehearse",
            description = {
                "Make a rehearsal of a case: a file for a handbook folder, or to read.",
                "Values that tell about people are made up; texts and documents stay out."
            })
    int rehearse(
            @Parameters(paramLabel = "CASE") String id,
            @Option(names = "--into", paramLabel = "DIR", description = "Write it into this handbook folder.") @Nullable
                    Path folder) {
        JsonNode answer = servitor.client().get("/api/cases/" + Client.part(id) + "/rehearsal");
        if (servitor.printed(answer)) {
            return 0;
        }
        String text = answer.path("text").asString("");
        if (folder == null) {
            servitor.out().print(text);
            servitor.out().flush();
            return 0;
        }
        String path = answer.path("path").asString("");
        HandbookFolder.write(folder, Map.of(path, text));
        servitor.out()
                .println("Wrote " + folder.resolve(path) + ". Say under ‘must’ what should have come of it, then:");
        servitor.out()
                .println("servitor handbook rehearse " + folder + " "
                        + path.replaceFirst("^rehearsals/", "").replaceFirst("\\.yaml$", ""));
        return 0;
    }

    @Command(name = "reply", description = "Write a note on a case.")
    int reply(
            @Parameters(paramLabel = "CASE") String id,
            @Option(names = "--text", converter = Given.class, required = true, description = "What to write.")
                    String text,
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
            @Option(
                            names = "--how",
                            converter = Given.class,
                            required = true,
                            description = "What was done; kept as a note for staff.")
                    String how) {
        JsonNode detail = servitor.client().post("/api/cases/" + Client.part(id) + "/resolution", Map.of("how", how));
        if (!servitor.printed(detail)) {
            servitor.out()
                    .println(id + " is "
                            + state(Client.as(CaseDetail.class, detail).summary()) + ".");
        }
        return 0;
    }

    @Command(name = "withdraw", description = "Take back what you have asked.")
    int withdraw(
            @Parameters(paramLabel = "CASE") String id,
            @Option(names = "--why", converter = Given.class, description = "Why, for the desk.") @Nullable String why,
            @Option(names = "--yes", description = "Don't ask.") boolean yes) {
        if (!yes) {
            throw new Trouble(
                    ExitCode.WRONG_USAGE,
                    "Nothing more is done for " + id
                            + " then, and it can't be taken up again. Say --yes if you mean it.");
        }
        JsonNode detail = servitor.client()
                .post("/api/cases/" + Client.part(id) + "/withdrawal", Map.of("why", why == null ? "" : why));
        if (!servitor.printed(detail)) {
            servitor.out().println(id + " is taken back.");
        }
        return 0;
    }

    @Command(name = "attach", description = "Attach a file to a case.")
    int attach(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "FILE", description = "- for standard input, with its --name.") Path file,
            @Option(names = "--name", description = "What it is called; the file's own name when left out.") @Nullable
                    String name,
            @Option(names = "--type", description = "Its media type; guessed from the name when left out.") @Nullable
                    String type)
            throws IOException {
        if (name == null && Given.isStandardInput(file)) {
            throw new Trouble(ExitCode.WRONG_USAGE, "Give what comes on standard input a --name, such as receipt.pdf.");
        }
        Path called = name == null ? file.getFileName() : Path.of(name);
        String guessed = type != null ? type : Files.probeContentType(called);
        JsonNode document = servitor.client()
                .post(
                        "/api/cases/" + Client.part(id) + "/documents",
                        Map.of(
                                "name",
                                called.toString(),
                                "type",
                                guessed == null ? "application/octet-stream" : guessed,
                                "content",
                                Base64.getEncoder().encodeToString(Given.bytes(file, LONGEST_FILE))));
        if (!servitor.printed(document)) {
            servitor.out()
                    .println("Attached to " + id + " as "
                            + Client.as(Document.class, document).id() + ".");
        }
        return 0;
    }

    @Command(name = "event", description = "Report something that has happened outside to the runs of a case.")
    int event(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "NAME") String name,
            @Option(
                            names = "--data",
                            converter = Given.class,
                            paramLabel = "JSON",
                            defaultValue = "{}",
                            description = "What else is known.")
                    String data) {
        JsonNode heard = servitor.client()
                .post(
                        "/api/cases/" + Client.part(id) + "/events",
                        Map.of("name", name, "data", Client.JSON.readTree(data)));
        if (!servitor.printed(heard)) {
            servitor.out()
                    .println(
                            Client.as(Heard.class, heard).awaited()
                                    ? "A run waited for this and goes on."
                                    : "Noted; no run waits for this.");
        }
        return 0;
    }

    static String state(CaseSummary summary) {
        return summary.state()
                + (summary.waitingFor() == null ? "" : " for " + summary.waitingFor())
                + (summary.due() == null ? "" : summary.late() ? ", late" : ", due " + Output.time(summary.due()));
    }
}
