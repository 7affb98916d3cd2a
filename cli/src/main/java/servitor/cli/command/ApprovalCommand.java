package servitor.cli.command;

import java.io.PrintWriter;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.UseDefaultConverter;
import servitor.cli.client.Answers.AnswerReading;
import servitor.cli.client.Answers.ApprovalSheet;
import servitor.cli.client.Answers.ApprovalSummary;
import servitor.cli.client.Answers.Approvals;
import servitor.cli.client.Answers.Call;
import servitor.cli.client.Answers.Deputy;
import servitor.cli.client.Answers.Edit;
import servitor.cli.client.Answers.FormField;
import servitor.cli.client.Answers.Seen;
import servitor.cli.client.Answers.Sheet;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code approval}: list, show, decide; several together by {@link TogetherCommand}. */
@Command(
        name = "approval",
        description = "See and answer what waits for people.",
        synopsisSubcommandLabel = "ACTION",
        subcommands = TogetherCommand.class)
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
    private static Map<String, Object> typed(Map<String, String> form, List<FormField> fields) {
        Map<String, Object> typed = new LinkedHashMap<>(form);
        for (FormField field : fields) {
            String name = field.name();
            String value = form.get(name);
            if (value != null) {
                switch (field.type()) {
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
        JsonNode answer = servitor.client().get("/api/approvals" + Client.query(parts));
        if (servitor.printed(answer)) {
            return 0;
        }
        Approvals page = Client.as(Approvals.class, answer);
        List<ApprovalSummary> found = page.items();
        if (found.isEmpty()) {
            servitor.out().println(closed ? "Nothing was decided yet." : "Nothing waits for an answer.");
            return 0;
        }
        Output.table(
                servitor.out(),
                List.of("", "APPROVAL", "STATE", "CASE", "REQUESTER", "ASKS", "LEFT", "WHAT HAPPENS"),
                found.stream()
                        .map(item -> List.of(
                                item.asked() ? "*" : "",
                                item.id(),
                                item.state(),
                                item.caseId(),
                                item.requester().name(),
                                String.join(", ", item.asks()),
                                item.state().equals("open") ? Output.until(item.due()) : "",
                                item.headline()))
                        .toList());
        Paging.more(servitor.out(), page);
        return 0;
    }

    @Command(name = "show", description = "Show exactly what will happen, and what it rests on.")
    int show(
            @Parameters(paramLabel = "APPROVAL") String id,
            @Option(
                            names = "--as-seen",
                            description = "As it was shown then: who saw it, and what they saw who saw it last.")
                    boolean asSeen,
            @Option(names = "--by", paramLabel = "PERSON", description = "With --as-seen: what this person saw last.")
                    @Nullable
                    String by) {
        String path = "/api/approvals/" + Client.part(id);
        JsonNode answer = servitor.client().get(asSeen ? path + "/seen" : path);
        if (asSeen) {
            List<Seen> all =
                    answer.valueStream().map(one -> Client.as(Seen.class, one)).toList();
            Seen last = all.stream()
                    .filter(one -> by == null || one.person().id().equals(by))
                    .reduce((earlier, later) -> later)
                    .orElseThrow(() -> new Trouble(
                            ExitCode.NO, by == null ? "Nobody was shown it." : "It wasn't shown to ‘" + by + "’."));
            answer = servitor.client().get(path + "/seen/" + last.picture());
            if (!servitor.printed(answer)) {
                all.forEach(one -> servitor.out()
                        .println(Output.time(one.at()) + "  seen by "
                                + one.person().name() + ", by " + one.via().replace('-', ' ')));
                servitor.out().println("\nAs " + last.person().name() + " saw it:\n");
                print(id, Client.as(ApprovalSheet.class, answer));
            }
            return 0;
        }
        if (!servitor.printed(answer)) {
            print(id, Client.as(ApprovalSheet.class, answer));
        }
        return 0;
    }

    Servitor servitor() {
        return servitor;
    }

    void print(String id, ApprovalSheet shown) {
        var out = servitor.out();
        ApprovalSummary summary = shown.summary();
        Sheet sheet = shown.sheet();
        out.println(summary.headline() + "  [" + summary.state() + "]");
        if (!summary.headline().startsWith(summary.question())) {
            out.println("  " + summary.question());
        }
        out.println("  " + id + ", case " + summary.caseId() + " ‘"
                + summary.caseSubject() + "’, asks "
                + (summary.quorum().isEmpty() ? "" : summary.quorum() + " ")
                + String.join(", ", summary.asks()));
        if (summary.handedTo() != null) {
            out.println("  handed to " + summary.handedTo().name());
        }
        if (summary.paused() != null) {
            out.println("  Paused: " + summary.paused() + ". Its time stands still.");
        }
        out.println("  by " + shown.agent() + " in ‘" + shown.pageTitle() + "’, step ‘" + shown.stepTitle() + "’");
        Call call = sheet.call();
        if (call != null) {
            out.println("\nWhat will happen: " + call.tool() + " (" + call.effect() + ")");
            out.println("  " + call.description());
            call.inputs()
                    .properties()
                    .forEach(input -> out.println("  " + input.getKey() + ": " + Output.plain(input.getValue())
                            + "   [from " + String.join(", ", all(call.origins().get(input.getKey())))
                            + place(call.places() == null ? "" : call.places().getOrDefault(input.getKey(), ""))
                            + "]"));
            out.println("  Asked because " + sheet.why());
        }
        for (Edit edit : all(sheet.edits())) {
            String model = shown.written() == null ? "" : shown.written().model();
            out.println("\nThe text ‘" + edit.key() + "’"
                    + (edit.written() ? ", written by a model" + (model.isEmpty() ? "" : ": " + model) : "")
                    + ":");
            out.println(Output.indent(edit.text()));
        }
        if (sheet.before() != null) {
            out.println("\nIt was sent back before with ‘" + sheet.before().said() + "’. It was then:");
            sheet.before().versions().values().forEach(text -> out.println(Output.indent(text)));
        }
        if (sheet.plan() != null) {
            out.println("\nWhat the agent means to do:");
            sheet.plan().forEach(line -> plan(out, line));
            out.println("  Nothing beyond this is done without asking again"
                    + ("freely".equals(sheet.looks()) ? ", but for looking at what isn’t personal" : "")
                    + ". What the mandate asks about is still asked.");
        }
        for (FormField field :
                sheet.form() == null ? List.<FormField>of() : sheet.form().fields()) {
            out.println("\nTo fill in: " + field.name() + " ("
                    + (all(field.options()).isEmpty() ? field.type() : "one of " + choices(field))
                    + "), with --form "
                    + field.name() + "=…");
        }
        if (shown.follows() != null && summary.state().equals("open")) {
            out.println("\nAfter a yes:  " + shown.follows().yes());
            out.println("After a no:   " + shown.follows().no());
            out.println("With silence: " + shown.follows().silence());
        }
        if (shown.maySendLate()) {
            out.println("\nNobody answered in time. You may still send it: servitor approval send-late " + id);
        }
        if (summary.rounds() > 0) {
            out.println("\nIt may be sent back " + summary.rounds() + " more times, with --feedback.");
        }
        out.println("\nThe request, by " + summary.requester().name() + " (" + shown.proof() + "):");
        shown.requestFields()
                .properties()
                .forEach(field -> out.println("  " + field.getKey() + ": " + Output.plain(field.getValue())));
        out.println(Output.indent(shown.requestText()));
        out.println("\nWhat is known:");
        shown.known()
                .forEach(known -> out.println("  " + known.name() + " [from "
                        + String.join(", ", known.origins()) + "]"
                        + Output.value(known.value(), "    ")));
        if (!shown.earlier().isEmpty()) {
            out.println("\nBefore, with " + summary.requester().name() + ":");
            shown.earlier()
                    .forEach(one -> out.println(
                            "  " + one.caseId() + "  " + Output.time(one.opened()) + "  " + one.kind() + ", "
                                    + one.state() + (one.did().isEmpty() ? "" : ": " + String.join("; ", one.did()))));
        }
        shown.answers()
                .forEach(given -> out.println(
                        "\n" + given.person().name() + SAID.getOrDefault(given.says(), "") + ". " + given.reason()));
        out.println("\nSheet " + shown.digest().substring(0, 12));
    }

    @Command(name = "hand", description = "Hand an approval to somebody else who may answer it; you still may, too.")
    int hand(
            @Parameters(paramLabel = "APPROVAL") String id,
            @Option(names = "--to", required = true, paramLabel = "PERSON", description = "Who is to answer.")
                    String to,
            @Option(names = "--reason", converter = Given.class, description = "Why, if that helps.") @Nullable
                    String reason) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("to", to);
        body.put("reason", reason);
        JsonNode handed = servitor.client().post("/api/approvals/" + Client.part(id) + "/hand", body);
        if (!servitor.printed(handed)) {
            servitor.out().println("It is handed to ‘" + to + "’; it stands in their list, and not in yours.");
        }
        return 0;
    }

    @Command(
            name = "deputy",
            description = {
                "Show or say who answers what asks you by name while you are away.",
                "A deputy is an approver who works at every desk of yours."
            })
    int deputy(
            @Parameters(paramLabel = "DEPUTY", arity = "0..1", description = "The id of a person.") @Nullable
                    String deputy,
            @Option(
                            names = "--from",
                            paramLabel = "DAY",
                            description = "The first day, such as 2026-12-21; now without it.")
                    @Nullable
                    LocalDate from,
            @Option(names = "--until", paramLabel = "DAY", description = "The day on which you answer yourself again.")
                    @Nullable
                    LocalDate until,
            @Option(names = "--of", paramLabel = "PERSON", description = "Of somebody else; for admins.") @Nullable
                    String of,
            @Option(names = "--none", description = "You answer yourself again.") boolean none) {
        String person = of != null
                ? of
                : servitor.client().get("/api/session").path("id").asString("");
        String path = "/api/people/" + Client.part(person) + "/deputy";
        if (none) {
            servitor.client().delete(path);
            servitor.out().println("Nobody answers for ‘" + person + "’ any more.");
            return 0;
        }
        if (deputy != null && until == null) {
            throw new Trouble(ExitCode.WRONG_USAGE, "Say with --until on which day you answer yourself again.");
        }
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("deputy", deputy);
        body.put("since", from == null ? null : midnight(from));
        body.put("until", until == null ? null : midnight(until));
        JsonNode answer =
                deputy == null ? servitor.client().get(path) : servitor.client().put(path, body);
        if (!servitor.printed(answer)) {
            show(person, Client.as(Deputy.class, answer));
        }
        return 0;
    }

    private static String midnight(LocalDate day) {
        return day.atStartOfDay(ZoneId.systemDefault()).toInstant().toString();
    }

    private void show(String person, Deputy shown) {
        var out = servitor.out();
        out.println(
                shown.deputy() == null
                        ? "Nobody answers for ‘" + person + "’."
                        : shown.deputy().name() + (shown.now() ? " answers" : " will answer") + " for ‘" + person
                                + "’ from " + Output.time(shown.since()) + " until " + Output.time(shown.until())
                                + ".");
        if (shown.deputy() == null && !shown.couldBe().isEmpty()) {
            out.println("Who could: "
                    + shown.couldBe().stream().map(one -> one.id()).collect(Collectors.joining(", ")));
        }
        if (!shown.standsInFor().isEmpty()) {
            out.println("‘" + person + "’ answers for "
                    + shown.standsInFor().stream().map(one -> one.name()).collect(Collectors.joining(", ")) + ", too.");
        }
    }

    private static String choices(FormField field) {
        List<String> choices = new ArrayList<>();
        for (int i = 0; i < all(field.options()).size(); i++) {
            String value = all(field.options()).get(i);
            String title = i < all(field.titles()).size() ? all(field.titles()).get(i) : value;
            choices.add(title.equals(value) ? value : value + " (" + title + ")");
        }
        return String.join(", ", choices);
    }

    private static <T> List<T> all(@Nullable List<T> list) {
        return list == null ? List.of() : list;
    }

    @Command(
            name = "send-late",
            description = "Send a text that lapsed because nobody answered in time, as your note to the requester.")
    int sendLate(
            @Parameters(paramLabel = "APPROVAL") String id,
            @Option(
                            names = "--edit",
                            converter = {UseDefaultConverter.class, Given.class},
                            paramLabel = "KEY=TEXT",
                            description = "The text as you want it.")
                    @Nullable
                    Map<String, String> texts) {
        String path = "/api/approvals/" + Client.part(id);
        Map<String, Object> body = new LinkedHashMap<>();
        body.put(
                "digest",
                Client.as(ApprovalSheet.class, servitor.client().get(path)).digest());
        body.put("texts", texts);
        JsonNode sent = servitor.client().post(path + "/late", body);
        if (!servitor.printed(sent)) {
            servitor.out()
                    .println("Sent to "
                            + Client.as(ApprovalSheet.class, sent)
                                    .summary()
                                    .requester()
                                    .name() + ".");
        }
        return 0;
    }

    @Command(
            name = "say",
            description = {
                "Answer an approval in your own words: go ahead, skip that, stop, or what should be different.",
                "How that is read is shown first, and counts when you say so."
            })
    int say(
            @Parameters(paramLabel = "APPROVAL") String id,
            @Option(names = "--text", converter = Given.class, required = true, description = "Your words.")
                    String text,
            @Option(names = "--yes", description = "Don't ask; for programs.") boolean yes) {
        String path = "/api/approvals/" + Client.part(id);
        String digest =
                Client.as(ApprovalSheet.class, servitor.client().get(path)).digest();
        JsonNode reading = servitor.client().post(path + "/reading", Map.of("text", text));
        AnswerReading read = Client.as(AnswerReading.class, reading);
        if (!ReadBack.counts(
                servitor, read.said(), read.words(), !read.decision().equals("nothing"), yes)) {
            servitor.printed(reading);
            return 1;
        }
        JsonNode answered = servitor.client()
                .post(
                        path + "/answers",
                        Map.of("decision", read.decision(), "digest", digest, "reason", read.reason()));
        if (!servitor.printed(answered)) {
            servitor.out()
                    .println(id + " is now "
                            + Client.as(ApprovalSheet.class, answered).summary().state() + ".");
        }
        return 0;
    }

    @Command(name = "decide", description = "Answer an approval.")
    int decide(
            @Parameters(paramLabel = "APPROVAL") String id,
            @ArgGroup(exclusive = true, multiplicity = "1") Choice choice,
            @Option(
                            names = "--reason",
                            converter = Given.class,
                            defaultValue = "",
                            description = "Why; needed when declining.")
                    String reason,
            @Option(
                            names = "--text",
                            converter = Given.class,
                            description = "The text as you want it, where there is one to edit.")
                    @Nullable
                    String text,
            @Option(
                            names = "--edit",
                            converter = {UseDefaultConverter.class, Given.class},
                            paramLabel = "KEY=TEXT",
                            description = "One of several texts; repeat for more.")
                    @Nullable
                    Map<String, String> texts,
            @Option(
                            names = "--form",
                            converter = {UseDefaultConverter.class, Given.class},
                            paramLabel = "NAME=VALUE",
                            description = "A field of the form; repeat for more.")
                    @Nullable
                    Map<String, String> form,
            @Option(names = "--sheet", description = "Only if the sheet is still this one (as ‘show’ printed it).")
                    @Nullable
                    String seen) {
        Client client = servitor.client();
        String path = "/api/approvals/" + Client.part(id);
        ApprovalSheet shown = Client.as(ApprovalSheet.class, client.get(path));
        String digest = shown.digest();
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
            body.put(
                    "form",
                    typed(
                            form,
                            shown.sheet().form() == null
                                    ? List.of()
                                    : shown.sheet().form().fields()));
        }
        JsonNode answered = client.post(path + "/answers", body);
        if (!servitor.printed(answered)) {
            servitor.out()
                    .println(id + " is now "
                            + Client.as(ApprovalSheet.class, answered).summary().state() + ".");
        }
        return 0;
    }

    /** A line of a plan: what is done, with which tool and inputs, and how often. Plans of earlier versions are words alone. */
    static void plan(PrintWriter out, JsonNode line) {
        out.println("  - " + Output.plain(line.isString() ? line : line.path("does")));
        if (line.has("tool")) {
            int most = line.path("at-most").asInt(1);
            out.println("      " + line.path("title").asString("") + " ("
                    + line.path("tool").asString("") + "), "
                    + (line.path("effect").asString("").equals("read") ? "only looks" : "changes something") + ", "
                    + (most == 1 ? "once" : "at most " + most + " times"));
            line.path("with")
                    .properties()
                    .forEach(input -> out.println("      " + input.getKey() + ": " + Output.plain(input.getValue())));
            if (!line.path("chosen-later").isEmpty()) {
                out.println("      chosen when it comes to it: "
                        + line.path("chosen-later")
                                .valueStream()
                                .map(name -> name.asString(""))
                                .collect(Collectors.joining(", ")));
            }
        }
    }
}
