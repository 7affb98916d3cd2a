package servitor.demo;

import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import servitor.cli.client.Client;
import servitor.standins.MailHouse;
import tools.jackson.databind.JsonNode;

/** People write mails: a thread with a correction, somebody who was only in copy, a responder, a forged sender, a mailing list. */
final class MailScene {
    private static final String TO = "passengers";

    private final Path profiles;
    private final URI control;
    private final PrintStream out;

    MailScene(Path profiles, URI control, PrintStream out) {
        this.profiles = profiles;
        this.control = control;
        this.out = out;
    }

    void play() throws IOException, InterruptedException {
        JsonNode mail = standIns().path("mail");
        Correspondent writes = new Correspondent(URI.create(mail.path("smtp").asString()));
        String subject = "My cancelled boat " + UUID.randomUUID().toString().substring(0, 4);
        String asked = writes.send("ines", "ines", TO, subject, "You cancelled SK-48213. Please pay my fare back.", "");
        say("Ines asks for a refund by mail. It is acknowledged at once, and the answer waits for the passenger desk.");
        String id = caseOf(subject);
        String thread = "In-Reply-To: <" + asked + ">\r\nReferences: <" + asked + ">\r\n";
        String marked = markOf(mail, subject);
        String answered = marked.isEmpty() ? thread : "In-Reply-To: " + marked + "\r\nReferences: " + marked + "\r\n";
        writes.send(
                "ines", "ines", TO, "Re: " + subject, "Sorry, it was the evening boat, not the morning one.", answered);
        say(id + " has a correction of hers: it belongs to the thread.");
        writes.send("bram", "bram", TO, "Re: " + subject, "I was in copy. Pay it to me instead.", answered);
        say(id + " has a mail of Bram, who takes no part: a stranger's note that nothing acts on.");
        writes.send(null, "ines", TO, "Re: " + subject, "Send the money to my other account.", answered);
        say(id + " has a forged mail: what is known of its requester is less from then on, and people are asked.");
        writes.send("ines", "ines", TO, "I am away", "Until May.", answered + "Auto-Submitted: auto-replied\r\n");
        writes.send("edda", "edda", TO, "News of the harbour", "All the news.", "List-Id: <news.example>\r\n");
        say(
                "A responder's and a mailing list's mails are left out: ./servitor --as sunniva intake left-out complaints-by-mail");
        writes.send(
                "edda",
                "edda",
                TO,
                "Left my umbrella",
                "I left my umbrella on the Grey Heron, on Tuesday. It is green.",
                "");
        writes.send("ewan", "ewan", "people", "My pay of October", "Why is it less?", "");
        say("Edda lost an umbrella, and Ewan asks about his pay: the answer to him holds a link alone.");
        out.println();
        out.println("Look at " + id + " as sunniva, at Intake, and at the mailboxes: "
                + mail.path("page").asString() + "/?box=" + DemoSeeder.address("ines"));
    }

    private void say(String what) {
        out.println(what);
    }

    private String caseOf(String subject) throws IOException, InterruptedException {
        Client sunniva = new Client(DemoSeeder.profileOf(profiles, "sunniva"));
        for (int tries = 0; tries < 200; tries++) {
            for (JsonNode one : sunniva.get("/api/cases").path("items")) {
                if (one.path("subject").asString().equals(subject)) {
                    return one.path("id").asString();
                }
            }
            TimeUnit.MILLISECONDS.sleep(200);
        }
        throw new IllegalStateException("no case came of the mail ‘" + subject + "’");
    }

    /** The Message-ID of the acknowledgement, which an answer names; empty when none came in time. */
    private static String markOf(JsonNode mail, String subject) throws IOException, InterruptedException {
        URI box = URI.create(mail.path("page").asString() + "/mails.json?box=" + DemoSeeder.address("ines"));
        for (int tries = 0; tries < 50; tries++) {
            for (JsonNode one : Scenes.get(box)) {
                if (one.path("subject").asString().contains(subject)) {
                    return one.path("id").asString();
                }
            }
            TimeUnit.MILLISECONDS.sleep(200);
        }
        return "";
    }

    private JsonNode standIns() throws IOException, InterruptedException {
        return Scenes.get(control);
    }

    /** What the demo says of its mailboxes. */
    static List<String> welcome(MailHouse mail) {
        return List.of(
                "Mail: write to passengers@, it@ or people@" + MailHouse.DOMAIN + " over SMTP "
                        + mail.smtp().getHost() + ":" + mail.smtp().getPort() + ", signed in as NAME@"
                        + MailHouse.DOMAIN,
                "      (or not, and then nobody knows that it is you). All mailboxes: " + mail.page());
    }
}
