package servitor.cli.command;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Intake;
import servitor.cli.client.Answers.Mail;
import servitor.cli.client.Answers.Mailbox;
import servitor.cli.client.Answers.Taken;
import servitor.cli.client.Answers.Would;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/** {@code intake}: list, send. */
@Command(
        name = "intake",
        description = "Send messages of outside systems that become cases.",
        synopsisSubcommandLabel = "ACTION")
public final class IntakeCommand {
    private static final int MOST_BYTES = 1_000_000;

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List where messages can be sent, for the desks you work for.")
    int list() {
        JsonNode all = servitor.client().get("/api/intake");
        if (!servitor.printed(all)) {
            Output.table(
                    servitor.out(),
                    List.of("INTAKE", "TITLE", "COMES BY", "BECOMES", "AT DESK", "A MESSAGE HOLDS"),
                    Client.all(Intake.class, all).stream()
                            .map(item -> List.of(
                                    item.name(),
                                    item.title(),
                                    way(item),
                                    item.kind(),
                                    item.desk(),
                                    String.join(
                                            ", ",
                                            item.message().path("properties").propertyNames())))
                            .toList());
        }
        return 0;
    }

    private static String way(Intake intake) {
        Mailbox mailbox = intake.mailbox();
        if (mailbox == null) {
            return intake.from();
        }
        String state = !mailbox.trouble().isEmpty()
                ? mailbox.trouble()
                : mailbox.looked() == null ? "not looked at yet" : "looked at " + Output.time(mailbox.looked());
        return "mail, " + mailbox.folder() + " of " + mailbox.connection() + ": " + state;
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

    @Command(name = "send", description = "Send one message, as an outside system would.")
    int send(
            @Parameters(paramLabel = "NAME") String name,
            @Parameters(paramLabel = "FILE", description = "A JSON file; - for standard input.") Path file,
            @Option(names = "--try", description = "Only say what would be opened.") boolean dry) {
        JsonNode taken =
                servitor.client().post("/api/intake/" + Client.part(name) + (dry ? "?try=true" : ""), message(file));
        if (servitor.printed(taken)) {
            return 0;
        }
        Taken what = Client.as(Taken.class, taken);
        String id = String.valueOf(what.id());
        switch (what.outcome()) {
            case "opened" -> servitor.out().println("Opened " + id + ".");
            case "known" -> servitor.out().println("This message has been taken in already, as " + id + ".");
            case "left-out" -> servitor.out().println("Left out: " + what.why() + ".");
            default -> {
                Would would = Objects.requireNonNull(what.would());
                servitor.out()
                        .println("This would open a case of kind " + would.kind() + " for " + would.requester() + ".");
                servitor.out().println("  " + would.subject());
                would.text().lines().forEach(line -> servitor.out().println("  " + line));
                would.fields()
                        .properties()
                        .forEach(field -> servitor.out()
                                .println("  " + field.getKey() + ": "
                                        + field.getValue()
                                                .asString(field.getValue().toString())));
            }
        }
        return 0;
    }

    private static JsonNode message(Path file) {
        try {
            return Client.JSON.readTree(Given.text(file, MOST_BYTES));
        } catch (JacksonException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " isn't JSON: " + e.getOriginalMessage());
        }
    }
}
