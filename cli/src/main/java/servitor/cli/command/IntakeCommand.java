package servitor.cli.command;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Event;
import servitor.cli.client.Answers.EventPayload;
import servitor.cli.client.Answers.Events;
import servitor.cli.client.Answers.FollowedFile;
import servitor.cli.client.Answers.Forms;
import servitor.cli.client.Answers.Intake;
import servitor.cli.client.Answers.Mail;
import servitor.cli.client.Answers.Mailbox;
import servitor.cli.client.Answers.Refusal;
import servitor.cli.client.Answers.Taken;
import servitor.cli.client.Answers.Would;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/** {@code intake}: list, send, try, events, event, left-out, take-in. */
@Command(
        name = "intake",
        description = "Send messages of outside systems that become cases.",
        synopsisSubcommandLabel = "ACTION")
public final class IntakeCommand {
    private static final int MOST_BYTES = 1_000_000;
    private static final int MOST_OF_MAIL = 8_000_000;
    private static final String GIVEN = "A JSON file, or a mail's bytes for a mailbox; - for standard input.";

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List where messages can be sent, for the desks you work for.")
    int list() {
        JsonNode all = servitor.client().get("/api/intake");
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("INTAKE", "TITLE", "COMES BY", "BECOMES", "AT DESK", "A MESSAGE HOLDS, OR HOW FAR IT IS"),
                    Client.all(Intake.class, all).stream()
                            .map(item -> List.of(
                                    item.name(), item.title(), way(item), item.kind(), item.desk(), holds(item)))
                            .toList());
        }
        return 0;
    }

    private static String way(Intake intake) {
        Mailbox mailbox = intake.mailbox();
        if (intake.schedule() != null) {
            return "schedule, " + intake.schedule().cron();
        } else if (intake.file() != null) {
            return "lines of " + intake.file().path();
        } else if (mailbox == null) {
            return intake.from() + (intake.signedBy() == null ? "" : ", signed by " + intake.signedBy());
        }
        return "mail, " + mailbox.folder() + " of " + mailbox.connection();
    }

    private static String holds(Intake intake) {
        Mailbox mailbox = intake.mailbox();
        if (intake.schedule() != null) {
            String next = intake.schedule().next();
            return "next " + (next == null ? "never" : Output.time(next));
        } else if (intake.file() != null) {
            return howFar(intake.file());
        } else if (mailbox == null) {
            return String.join(", ", intake.message().path("properties").propertyNames());
        } else if (!mailbox.trouble().isEmpty()) {
            return mailbox.trouble();
        }
        return mailbox.looked() == null ? "not looked at yet" : "looked at " + Output.time(mailbox.looked());
    }

    private static String howFar(FollowedFile file) {
        return file.trouble().isEmpty()
                ? "read up to byte " + file.read() + ", at " + Output.time(file.looked())
                : file.trouble();
    }

    @Command(name = "left-out", description = "List mails of a mailbox that became no case, each with the reason.")
    int leftOut(@Parameters(paramLabel = "NAME") String name) {
        JsonNode all = servitor.client().get("/api/intake/" + Client.part(name) + "/left-out");
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("CAME", "SAYS IT IS FROM", "SUBJECT", "WHY NOT", "MAIL"),
                    Client.all(Mail.class, all).stream()
                            .map(mail -> List.of(
                                    Output.time(mail.received()),
                                    mail.sender(),
                                    Output.shorten(mail.subject(), 40),
                                    Output.shorten(mail.reason(), 80),
                                    mail.id()))
                            .toList());
        }
        return 0;
    }

    @Command(name = "events", description = "List what systems have posted, what became of each, and what was refused.")
    int events(@Parameters(paramLabel = "NAME") String name) {
        JsonNode all = servitor.client().get("/api/intake/" + Client.part(name) + "/events");
        if (!servitor.printed(all)) {
            Events events = Client.as(Events.class, all);
            Output.table(
                    servitor.out(),
                    List.of("CAME", "FROM", "ITS ID", "BECAME", "CASE OR REASON", "MESSAGE"),
                    events.events().stream()
                            .map(event -> List.of(
                                    Output.time(event.received()),
                                    event.sender(),
                                    Output.shorten((event.source() + " " + event.named()).strip(), 40),
                                    event.became(),
                                    event.caseId().isEmpty() ? Output.shorten(event.reason(), 80) : event.caseId(),
                                    event.id().substring(0, 12)))
                            .toList());
            events.refused().forEach(this::refused);
        }
        return 0;
    }

    private void refused(Refusal one) {
        servitor.out()
                .println("Refused " + one.times() + " since " + Output.time(one.since()) + ": " + one.reason() + ".");
    }

    @Command(name = "forms", description = "List forms of people who can't sign in, and how far each is.")
    int forms() {
        JsonNode all = servitor.client().get("/api/forms");
        if (!servitor.printed(all)) {
            Forms forms = Client.as(Forms.class, all);
            Output.table(
                    servitor.out(),
                    List.of("CAME", "KIND", "STATE", "CASE OR REASON"),
                    forms.forms().stream()
                            .map(form -> List.of(
                                    Output.time(form.received()),
                                    form.kind(),
                                    form.state(),
                                    form.caseId() == null ? Output.shorten(form.detail(), 80) : form.caseId()))
                            .toList());
            forms.refused().forEach(this::refused);
        }
        return 0;
    }

    @Command(name = "event", description = "Show what a message of a system said, as long as that is kept.")
    int event(
            @Parameters(paramLabel = "NAME") String name,
            @Parameters(paramLabel = "MESSAGE", description = "As ‘intake events’ lists it; its beginning is enough.")
                    String id) {
        JsonNode shown =
                servitor.client().get("/api/intake/" + Client.part(name) + "/events/" + Client.part(whole(name, id)));
        if (!servitor.printed(shown)) {
            EventPayload payload = Client.as(EventPayload.class, shown);
            servitor.out()
                    .println(
                            payload.payload() == null || payload.payload().isNull()
                                    ? "What it said isn't kept any more."
                                    : payload.payload().toPrettyString());
        }
        return 0;
    }

    /** The id that begins like this. */
    private String whole(String name, String id) {
        return Client.as(Events.class, servitor.client().get("/api/intake/" + Client.part(name) + "/events"))
                .events()
                .stream()
                .map(Event::id)
                .filter(one -> one.startsWith(id))
                .findFirst()
                .orElse(id);
    }

    @Command(name = "take-in", description = "Have a mail taken in that was left out, for somebody you name.")
    int takeIn(
            @Parameters(paramLabel = "NAME") String name,
            @Parameters(paramLabel = "MAIL", description = "As ‘intake left-out’ lists it.") String mail,
            @Option(names = "--for", required = true, paramLabel = "PERSON", description = "Whose case it is.")
                    String requester) {
        JsonNode taken = servitor.client()
                .post(
                        "/api/intake/" + Client.part(name) + "/left-out/" + Client.part(mail),
                        Map.of("requester", requester));
        if (!servitor.printed(taken)) {
            servitor.out().println("Opened " + Client.as(Taken.class, taken).id() + ".");
        }
        return 0;
    }

    @Command(name = "send", description = "Send one message, as an outside system would; for a mailbox, one mail.")
    int send(
            @Parameters(paramLabel = "NAME") String name,
            @Parameters(paramLabel = "FILE", description = GIVEN) Path file,
            @Option(names = "--try", description = "Only say what would become of it.") boolean dry) {
        return sent(name, file, dry);
    }

    @Command(name = "try", description = "Say what would become of a message or mail, and take nothing in.")
    int dry(
            @Parameters(paramLabel = "NAME") String name,
            @Parameters(paramLabel = "FILE", description = GIVEN) Path file) {
        return sent(name, file, true);
    }

    private int sent(String name, Path file, boolean dry) {
        String path = "/api/intake/" + Client.part(name);
        String how = dry ? "?try=true" : "";
        JsonNode taken = isMailbox(name)
                ? servitor.client().post(path + "/mails" + how, "message/rfc822", Given.bytes(file, MOST_OF_MAIL))
                : servitor.client().post(path + how, message(file));
        if (!servitor.printed(taken)) {
            say(Client.as(Taken.class, taken));
        }
        return 0;
    }

    private boolean isMailbox(String name) {
        return Client.all(Intake.class, servitor.client().get("/api/intake")).stream()
                .anyMatch(one -> one.name().equals(name) && one.mailbox() != null);
    }

    private void say(Taken what) {
        String id = String.valueOf(what.id());
        switch (what.outcome()) {
            case "opened" -> servitor.out().println("Opened " + id + ".");
            case "counted" -> servitor.out().println("It was counted on " + id + ".");
            case "joined" -> servitor.out().println("It is part of " + id + ".");
            case "known" ->
                servitor.out()
                        .println(
                                what.id() == null
                                        ? "This mail was read already, and left out: " + what.why() + "."
                                        : "This message has been taken in already, as " + id + ".");
            case "left-out" -> servitor.out().println("Left out: " + what.why() + ".");
            default -> would(Objects.requireNonNull(what.would()));
        }
    }

    private void would(Would would) {
        servitor.out()
                .println(
                        would.joins() == null
                                ? "This would open a case of kind " + would.kind() + " for " + would.requester() + "."
                                : "This would come to " + would.joins() + ".");
        if (would.subject() != null) {
            servitor.out().println("  " + would.subject());
        }
        would.text().lines().forEach(line -> servitor.out().println("  " + line));
        JsonNode fields = would.fields();
        if (fields != null) {
            fields.properties()
                    .forEach(field -> servitor.out()
                            .println("  " + field.getKey() + ": "
                                    + field.getValue().asString(field.getValue().toString())));
        }
        List<String> ignored = would.ignored();
        if (ignored != null && !ignored.isEmpty()) {
            servitor.out().println("Not read: " + String.join(", ", ignored) + ".");
        }
    }

    private static JsonNode message(Path file) {
        try {
            return Client.JSON.readTree(Given.text(file, MOST_BYTES));
        } catch (JacksonException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " isn't JSON: " + e.getOriginalMessage());
        }
    }
}
