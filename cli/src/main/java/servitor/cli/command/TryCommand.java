package servitor.cli.command;

import java.io.PrintWriter;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.UseDefaultConverter;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code try}: pages of one's draft, played to what nobody has answered yet. */
@Command(
        name = "try",
        description = "Try out a page of your draft, step by step; nothing is done, and nothing is kept on a case.",
        synopsisSubcommandLabel = "ACTION")
public final class TryCommand {
    private static final String TRIES = "/api/handbook/draft/tries";

    @ParentCommand
    private Servitor servitor;

    record Listed(String id, String source, String named, String title, String updated) {}

    record Mark(String at, String lane, String weight, String title, Actor actor) {}

    record Actor(String name) {}

    record Lanes(List<Mark> marks) {}

    record Open(
            String sort,
            String step,
            String what,
            JsonNode shown,
            JsonNode schema,
            String notForReal,
            @Nullable JsonNode suggested) {}

    record Try(
            Listed about,
            String state,
            List<String> faults,
            int answers,
            Lanes lanes,
            @Nullable Open open) {}

    /** A request as it is typed. */
    static final class Request {
        @Option(names = "--kind", required = true, description = "A request of this kind.")
        @Nullable
        String kind;

        @Option(names = "--subject", converter = Given.class, description = "What it is called.")
        @Nullable
        String subject;

        @Option(names = "--text", converter = Given.class, description = "What it says.")
        @Nullable
        String text;

        @Option(
                names = "--field",
                converter = {UseDefaultConverter.class, Given.class},
                description = "A field, as in --field booking=SK-48213.")
        @Nullable
        Map<String, String> fields;

        Map<String, Object> told() {
            Map<String, Object> told = new LinkedHashMap<>();
            told.put("kind", kind);
            told.put("subject", subject == null ? "A request" : subject);
            told.put("text", text == null ? "" : text);
            told.put("fields", Inputs.read(fields));
            return told;
        }
    }

    /** What a try begins with: exactly one of the three. */
    static final class Source {
        @Option(names = "--rehearsal", required = true, description = "A rehearsal of your draft, by its name.")
        @Nullable
        String rehearsal;

        @Option(names = "--case", required = true, description = "A case that is done.")
        @Nullable
        String caseId;

        @ArgGroup(exclusive = false, multiplicity = "1")
        @Nullable
        Request request;
    }

    @Command(name = "list", description = "What you try out.")
    int list() {
        JsonNode tries = servitor.client().get(TRIES);
        if (!servitor.printed(tries)) {
            Output.table(
                    servitor.out(),
                    List.of("TRY", "FROM", "LAST", "WHAT"),
                    Client.all(Listed.class, tries).stream()
                            .map(one -> List.of(
                                    one.id(),
                                    (one.source() + " " + one.named()).strip(),
                                    Output.time(one.updated()),
                                    one.title()))
                            .toList());
        }
        return 0;
    }

    @Command(name = "begin", description = "Begin with a rehearsal, a case or a request.")
    int begin(@ArgGroup(exclusive = true, multiplicity = "1") Source source) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("rehearsal", source.rehearsal);
        body.put("caseId", source.caseId);
        body.put("request", source.request == null ? null : source.request.told());
        return shown(servitor.client().post(TRIES, body));
    }

    @Command(name = "show", description = "What has happened so far, and what is open.")
    int show(@Parameters(paramLabel = "TRY") String id) {
        return shown(servitor.client().get(at(id)));
    }

    @Command(name = "answer", description = "Answer what is open; it plays on.")
    int answer(
            @Parameters(index = "0", paramLabel = "TRY") String id,
            @Parameters(
                            index = "1",
                            arity = "0..1",
                            paramLabel = "ANSWER",
                            converter = Given.class,
                            description =
                                    "JSON in the form of a rehearsal's answers, such as '{\"people\": \"Pay\", \"say\": \"approve\"}';"
                                            + " nothing when nobody answers, so that time passes.")
                    @Nullable
                    String answer) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("answer", answer == null ? null : Inputs.json(answer));
        return shown(servitor.client().post(at(id) + "/answers", body));
    }

    @Command(name = "ask", description = "Ask the tool or the model that is open for real, where that is allowed.")
    int ask(@Parameters(paramLabel = "TRY") String id) {
        return shown(servitor.client().post(at(id) + "/for-real", Map.of()));
    }

    @Command(name = "back", description = "Take the last answer back.")
    int back(@Parameters(paramLabel = "TRY") String id) {
        return shown(servitor.client().post(at(id) + "/back", Map.of()));
    }

    @Command(name = "keep", description = "Keep it as a rehearsal of your draft.")
    int keep(@Parameters(paramLabel = "TRY") String id, @Parameters(paramLabel = "NAME") String name) {
        JsonNode kept = servitor.client().post(at(id) + "/rehearsal", Map.of("name", name));
        if (!servitor.printed(kept)) {
            servitor.out().println("Kept in your draft: " + kept.path("path").asString("") + ".");
        }
        return 0;
    }

    @Command(name = "end", description = "Give it up.")
    int end(@Parameters(paramLabel = "TRY") String id) {
        servitor.client().delete(at(id));
        servitor.out().println("Given up.");
        return 0;
    }

    private static String at(String id) {
        return TRIES + "/" + Client.part(id);
    }

    private int shown(JsonNode answer) {
        if (servitor.printed(answer)) {
            return 0;
        }
        Try shown = Client.as(Try.class, answer);
        PrintWriter out = servitor.out();
        out.println(shown.about().id() + "  " + shown.about().title() + ": " + shown.state());
        Output.table(
                out,
                List.of("AT", "WHO", "WHAT"),
                shown.lanes().marks().stream()
                        .filter(mark -> !mark.weight().equals("expected"))
                        .map(mark ->
                                List.of(Output.time(mark.at()), mark.actor().name(), mark.title()))
                        .toList());
        shown.faults().forEach(fault -> out.println("It broke off: " + fault));
        if (shown.open() != null) {
            open(out, shown.open());
        }
        return 0;
    }

    private static void open(PrintWriter out, Open open) {
        out.println();
        out.println("Open, at ‘" + open.step() + "’: " + asked(open) + Output.value(open.shown(), "    "));
        if (open.suggested() != null && !open.suggested().isNull()) {
            out.println("  Said there: " + Client.JSON.writeValueAsString(open.suggested()));
        }
        if (!open.schema().isEmpty()) {
            out.println("  It answers as: " + Output.shorten(Client.JSON.writeValueAsString(open.schema()), 400));
        }
        if (!List.of("people", "wait").contains(open.sort())) {
            out.println(
                    open.notForReal().isEmpty()
                            ? "  It can be asked for real: try ask."
                            : "  Not for real: " + open.notForReal() + ".");
        }
    }

    private static String asked(Open open) {
        return switch (open.sort()) {
            case "tool" -> "what does " + open.what() + " answer?";
            case "hand" -> open.what() + " is held, in shadow; what comes of it by hand?";
            case "model" -> "what does the model ‘" + open.what() + "’ answer?";
            case "people" -> "what do people answer? " + open.what();
            default -> "what comes? It waits for: " + open.what();
        };
    }
}
