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
import tools.jackson.databind.JsonNode;

/** {@code approval}: list, show, decide. */
@Command(name = "approval", description = "See and answer what waits for people.", synopsisSubcommandLabel = "ACTION")
public final class ApprovalCommand {
    @ParentCommand
    private Servitor servitor;

    /** Exactly one of the three. */
    static final class Choice {
        @Option(names = "--approve", required = true, description = "Yes.")
        boolean approve;

        @Option(names = "--decline", required = true, description = "No; needs a --reason.")
        boolean decline;

        @Option(
                names = "--feedback",
                required = true,
                paramLabel = "WORDS",
                description = "Send it back to be written again, with what should be different.")
        @Nullable
        String feedback;
    }

    private static final Map<String, String> SAID =
            Map.of("approve", " approved", "decline", " declined", "feedback", " sent it back");

    private static String place(String place) {
        return place.isEmpty() ? "" : ": " + place;
    }

    /** What was typed for a form, in the types the form asks for. */
    private static Map<String, Object> typed(Map<String, String> form, JsonNode fields) {
        Map<String, Object> typed = new LinkedHashMap<>(form);
        for (JsonNode field : fields) {
            String name = field.path("name").asString();
            String value = form.get(name);
            if (value != null) {
                switch (field.path("type").asString()) {
                    case "yes/no" -> typed.put(name, value.equals("yes") || value.equals("true"));
                    case "number", "whole number" -> typed.put(name, number(name, value));
                    default -> typed.put(name, value);
                }
            }
        }
        return typed;
    }

    private static Object number(String name, String value) {
        try {
            return new java.math.BigDecimal(value);
        } catch (NumberFormatException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, "‘" + name + "’ should be a number, not ‘" + value + "’.");
        }
    }

    @Command(name = "list", description = "List approvals, the most urgent first; * marks those you are asked.")
    int list(
            @Option(names = "--closed", description = "Those already decided instead.") boolean closed,
            @Option(names = "--asked", description = "Only those you are asked.") boolean asked,
            @Mixin Paging paging) {
        Map<String, Object> parts = paging.query();
        parts.put("state", closed ? "closed" : "open");
        parts.put("asked", asked ? "true" : null);
        JsonNode page = servitor.client().get("/api/approvals" + Client.query(parts));
        JsonNode found = page.path("items");
        if (servitor.printed(page)) {
            return 0;
        }
        if (found.isEmpty()) {
            servitor.out().println(closed ? "Nothing was decided yet." : "Nothing waits for an answer.");
            return 0;
        }
        Output.table(
                servitor.out(),
                List.of("", "APPROVAL", "STATE", "CASE", "REQUESTER", "ASKS", "LEFT", "QUESTION"),
                StreamSupport.stream(found.spliterator(), false)
                        .map(item -> List.of(
                                item.path("asked").asBoolean() ? "*" : "",
                                item.path("id").asString(),
                                item.path("state").asString(),
                                item.path("caseId").asString(),
                                item.path("requester").path("name").asString(),
                                Output.join(item.path("asks")),
                                item.path("state").asString().equals("open") ? Output.until(item.path("due")) : "",
                                item.path("question").asString()))
                        .toList());
        Paging.more(servitor.out(), page);
        return 0;
    }

    @Command(name = "show", description = "Show exactly what will happen, and what it rests on.")
    int show(@Parameters(paramLabel = "APPROVAL") String id) {
        JsonNode sheet = servitor.client().get("/api/approvals/" + Client.part(id));
        if (servitor.printed(sheet)) {
            return 0;
        }
        var out = servitor.out();
        JsonNode summary = sheet.path("summary");
        out.println(summary.path("question").asString() + "  ["
                + summary.path("state").asString() + "]");
        out.println("  " + id + ", case " + summary.path("caseId").asString() + " ‘"
                + summary.path("caseSubject").asString() + "’, asks "
                + summary.path("quorum").asString() + " "
                + Output.join(summary.path("asks")));
        if (summary.path("paused").isString()) {
            out.println("  Paused: " + summary.path("paused").asString() + ". Its time stands still.");
        }
        out.println("  by " + sheet.path("agent").asString() + " in ‘"
                + sheet.path("pageTitle").asString() + "’, step ‘"
                + sheet.path("stepTitle").asString() + "’");
        JsonNode call = sheet.path("sheet").path("call");
        if (call.isObject()) {
            out.println("\nWhat will happen: " + call.path("tool").asString() + " ("
                    + call.path("effect").asString() + ")");
            out.println("  " + call.path("description").asString());
            call.path("inputs")
                    .properties()
                    .forEach(input -> out.println("  " + input.getKey() + ": " + Output.plain(input.getValue())
                            + "   [from " + Output.join(call.path("origins").path(input.getKey()))
                            + place(call.path("places").path(input.getKey()).asString("")) + "]"));
            out.println("  Asked because " + sheet.path("sheet").path("why").asString());
        }
        for (JsonNode edit : sheet.path("sheet").path("edits")) {
            String model = sheet.path("written").path("model").asString("");
            out.println("\nThe text ‘" + edit.path("key").asString() + "’"
                    + (edit.path("written").asBoolean()
                            ? ", written by a model" + (model.isEmpty() ? "" : ": " + model)
                            : "")
                    + ":");
            out.println(Output.indent(edit.path("text").asString()));
        }
        if (sheet.path("sheet").path("plan").isArray()) {
            out.println("\nWhat the agent means to do:"
                    + Output.value(sheet.path("sheet").path("plan"), "  "));
        }
        for (JsonNode field : sheet.path("sheet").path("form").path("fields")) {
            out.println("\nTo fill in: " + field.path("name").asString() + " ("
                    + (field.path("options").isEmpty() ? field.path("type").asString() : "one of " + choices(field))
                    + "), with --form "
                    + field.path("name").asString() + "=…");
        }
        if (sheet.path("follows").isObject() && summary.path("state").asString().equals("open")) {
            out.println("\nAfter a yes:  " + sheet.path("follows").path("yes").asString());
            out.println("After a no:   " + sheet.path("follows").path("no").asString());
            out.println("With silence: " + sheet.path("follows").path("silence").asString());
        }
        if (sheet.path("maySendLate").asBoolean()) {
            out.println("\nNobody answered in time. You may still send it: servitor approval send-late " + id);
        }
        if (summary.path("rounds").asInt() > 0) {
            out.println("\nIt may be sent back " + summary.path("rounds").asInt() + " more times, with --feedback.");
        }
        out.println(
                "\nThe request, by " + summary.path("requester").path("name").asString() + " ("
                        + sheet.path("proof").asString() + "):");
        sheet.path("requestFields")
                .properties()
                .forEach(field -> out.println("  " + field.getKey() + ": " + Output.plain(field.getValue())));
        out.println(Output.indent(sheet.path("requestText").asString()));
        out.println("\nWhat is known:");
        sheet.path("known")
                .forEach(known -> out.println("  " + known.path("name").asString() + " [from "
                        + Output.join(known.path("origins")) + "]"
                        + Output.value(known.path("value"), "    ")));
        sheet.path("answers")
                .forEach(answer ->
                        out.println("\n" + answer.path("person").path("name").asString()
                                + SAID.getOrDefault(answer.path("says").asString(), "") + ". "
                                + answer.path("reason").asString()));
        out.println("\nSheet " + sheet.path("digest").asString().substring(0, 12));
        return 0;
    }

    private static String choices(JsonNode field) {
        List<String> choices = new ArrayList<>();
        for (int i = 0; i < field.path("options").size(); i++) {
            String value = field.path("options").path(i).asString();
            String title = field.path("titles").path(i).asString(value);
            choices.add(title.equals(value) ? value : value + " (" + title + ")");
        }
        return String.join(", ", choices);
    }

    @Command(
            name = "send-late",
            description = "Send a text that lapsed because nobody answered in time, as your note to the requester.")
    int sendLate(
            @Parameters(paramLabel = "APPROVAL") String id,
            @Option(names = "--edit", paramLabel = "KEY=TEXT", description = "The text as you want it.") @Nullable
                    Map<String, String> texts) {
        String path = "/api/approvals/" + Client.part(id);
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("digest", servitor.client().get(path).path("digest").asString());
        body.put("texts", texts);
        JsonNode sent = servitor.client().post(path + "/late", body);
        if (!servitor.printed(sent)) {
            servitor.out()
                    .println("Sent to "
                            + sent.path("summary")
                                    .path("requester")
                                    .path("name")
                                    .asString() + ".");
        }
        return 0;
    }

    @Command(name = "decide", description = "Answer an approval.")
    int decide(
            @Parameters(paramLabel = "APPROVAL") String id,
            @ArgGroup(exclusive = true, multiplicity = "1") Choice choice,
            @Option(names = "--reason", defaultValue = "", description = "Why; needed when declining.") String reason,
            @Option(names = "--text", description = "The text as you want it, where there is one to edit.") @Nullable
                    String text,
            @Option(names = "--edit", paramLabel = "KEY=TEXT", description = "One of several texts; repeat for more.")
                    @Nullable
                    Map<String, String> texts,
            @Option(names = "--form", paramLabel = "NAME=VALUE", description = "A field of the form; repeat for more.")
                    @Nullable
                    Map<String, String> form,
            @Option(names = "--sheet", description = "Only if the sheet is still this one (as ‘show’ printed it).")
                    @Nullable
                    String seen) {
        Client client = servitor.client();
        String path = "/api/approvals/" + Client.part(id);
        JsonNode sheet = client.get(path);
        String digest = sheet.path("digest").asString();
        if (seen != null && !digest.startsWith(seen)) {
            throw new Trouble(
                    ExitCode.NO,
                    "The sheet is not the one you saw any more (it is " + digest.substring(0, 12)
                            + " now). Look again, then answer.");
        }
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("decision", choice.approve ? "approve" : choice.decline ? "decline" : "feedback");
        body.put("digest", digest);
        body.put("reason", choice.feedback != null ? choice.feedback : reason);
        body.put("text", text);
        body.put("texts", texts);
        if (form != null) {
            body.put("form", typed(form, sheet.path("sheet").path("form").path("fields")));
        }
        JsonNode answered = client.post(path + "/answers", body);
        if (!servitor.printed(answered)) {
            servitor.out()
                    .println(id + " is now "
                            + answered.path("summary").path("state").asString() + ".");
        }
        return 0;
    }
}
