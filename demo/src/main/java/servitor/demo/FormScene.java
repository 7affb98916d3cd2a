package servitor.demo;

import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.nio.file.Path;
import java.util.Map;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.cli.client.Profile;
import tools.jackson.databind.JsonNode;

/** Somebody without an account asks by the form for everybody: asked by mail, confirmed, followed by a link. */
final class FormScene {
    private static final Pattern LINK = Pattern.compile("(http\\S+/form/)(confirm|case)#(\\S+)");

    private final URI service;
    private final URI control;
    private final PrintStream out;

    FormScene(Path profiles, URI control, PrintStream out) throws IOException {
        Profile sunniva = DemoSeeder.profileOf(profiles, "sunniva");
        this.service = URI.create(sunniva.url());
        this.control = control;
        this.out = out;
    }

    /** What became of it. */
    record Played(String address, String caseId, String confirming, String following) {}

    Played play() throws IOException, InterruptedException {
        String address = "odile." + UUID.randomUUID().toString().substring(0, 6) + "@varra-post.example";
        Scenes.post(control, Map.of("box", address));
        Scenes.post(
                service.resolve("/api/public/forms/lost-thing"),
                Map.of(
                        "name", "Odile Sand",
                        "address", address,
                        "subject", "A green umbrella",
                        "text", "I left it on the Grey Heron on Tuesday.",
                        "fields", Map.of("thing", "a green umbrella")));
        out.println(
                "Odile has filled in the form ‘Something lost’. No case is opened: she is asked by mail whether it is hers.");
        Matcher asked = mailed(address, "confirm");
        String confirming = asked.group(3);
        URI confirmation = service.resolve("/api/public/confirmation");
        Scenes.fetch(URI.create(asked.group(1) + "confirm"));
        JsonNode shown = Scenes.get(confirmation, "Form-Link", confirming);
        out.println("A mail scanner fetches every link it sees. It finds ‘"
                + shown.path("subject").asString() + "’, still "
                + shown.path("state").asString() + ": looking does nothing.");
        Scenes.post(confirmation, Map.of(), "Form-Link", confirming);
        Matcher told = mailed(address, "case");
        String following = told.group(3);
        JsonNode mine = Scenes.get(service.resolve("/api/public/case"), "Form-Link", following);
        out.println(mine.path("id").asString() + ": she confirms it, and is sent a link to follow it by.");
        JsonNode again = Scenes.post(confirmation, Map.of(), "Form-Link", confirming);
        out.println("Somebody else finds the first link and presses the button, too: it is "
                + again.path("state").asString() + " already, and nothing of it is shown.");
        out.println();
        out.println("Follow it as Odile:  " + told.group());
        out.println("Fill in the form:    " + service.resolve("/form/lost-thing"));
        out.println(
                "Look at " + mine.path("id").asString() + " as sunniva, and at ./servitor --as sunniva intake forms");
        return new Played(address, mine.path("id").asString(), confirming, following);
    }

    /** The link of a sort that a mail to the address holds, once one has come. */
    private Matcher mailed(String address, String sort) throws IOException, InterruptedException {
        URI box = URI.create(Scenes.get(control).path("mail").path("page").asString() + "/mails.json?box=" + address);
        Matcher[] found = new Matcher[1];
        Scenes.await(() -> {
            for (JsonNode mail : Scenes.get(box)) {
                Matcher link = LINK.matcher(mail.path("text").asString(""));
                while (link.find()) {
                    if (link.group(2).equals(sort)) {
                        found[0] = link;
                        return true;
                    }
                }
            }
            return false;
        });
        return found[0];
    }
}
