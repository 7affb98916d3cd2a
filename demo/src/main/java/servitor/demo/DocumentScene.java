package servitor.demo;

import java.awt.Color;
import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;
import java.util.UUID;
import servitor.cli.client.Client;
import servitor.demo.Papers.Load;
import tools.jackson.databind.JsonNode;

/** Papers come by mail: a harmless declaration, one with fuel on it, the wrong paper in place of a certificate, and a photo. */
final class DocumentScene {
    private final Client sunniva;
    private final Client priya;
    private final URI control;
    private final PrintStream out;

    DocumentScene(Path profiles, URI control, PrintStream out) throws IOException {
        this.sunniva = new Client(DemoSeeder.profileOf(profiles, "sunniva"));
        this.priya = new Client(DemoSeeder.profileOf(profiles, "priya"));
        this.control = control;
        this.out = out;
    }

    /** The cases it came to. */
    record Played(String harmless, String fuel, String medical, String lost) {}

    Played play() throws IOException, InterruptedException {
        JsonNode mail = Scenes.get(control).path("mail");
        Correspondent writes = new Correspondent(URI.create(mail.path("smtp").asString()));
        String mark = UUID.randomUUID().toString().substring(0, 4);
        String harmless = "Declaration of goods, hay and timber " + mark;
        writes.send(
                "tomas",
                "passengers",
                harmless,
                "Two vehicles for Saturday.",
                "",
                Papers.declaration(
                        "declaration.xlsx",
                        "S-402",
                        List.of(new Load("AL 1204", "Hay", "none", 0), new Load("AL 77", "Timber", "none", 0))));
        String first = caseOf(sunniva, harmless);
        await(sunniva, first, "resolved");
        out.println(first + ": Tomas declares hay and timber. No row meets a limit, so it is noted at once.");
        String fuel = "Declaration of goods, drums " + mark;
        writes.send(
                "edda",
                "passengers",
                fuel,
                "Three vehicles for Saturday, the safety sheet is with it.",
                "",
                Papers.declaration(
                        "declaration.xlsx",
                        "S-402",
                        List.of(
                                new Load("VA 310", "Paint", "3", 120),
                                new Load("VA 311", "Marine fuel", "3", 600),
                                new Load("VA 312", "Nets", "none", 0))),
                Papers.safetySheet());
        String second = caseOf(sunniva, fuel);
        await(sunniva, second, "waiting");
        out.println(second
                + ": Edda declares 600 litres of fuel. Row 6 is over the limit: the safety officer is asked, with that row, "
                + "what the safety sheet says, and both files.");
        String medical = "My certificate " + mark;
        writes.send("ewan", "people", medical, "Here it is.", "", Papers.paySlip());
        String third = caseOf(priya, medical);
        await(priya, third, "waiting");
        out.println(third
                + ": Ewan sends a pay slip by mistake. He is told what it looks like, and asked for his certificate.");
        writes.send(
                "ewan",
                "people",
                "Re: " + medical,
                "Sorry, here is the right one.",
                markOf(mail, third),
                Papers.seaMedical("Ewan Mirza", "14 November 2028"));
        Scenes.await(() -> priya.get("/api/cases/" + third).path("documents").size() == 2
                && priya.get("/api/approvals")
                        .path("items")
                        .valueStream()
                        .anyMatch(one -> one.path("caseId").asString("").equals(third)));
        out.println(
                third
                        + ": the right one came. A people partner sees on which page it says until when, before it is entered.");
        String lost = "I left my umbrella on the boat " + mark;
        writes.send(
                "bram",
                "passengers",
                lost,
                "On Tuesday, on the Grey Heron. Here is a photo of it.",
                "",
                Papers.photo("umbrella.jpg", new Color(0x1f, 0x4e, 0xb4)));
        String fourth = caseOf(sunniva, lost);
        await(sunniva, fourth, "waiting");
        out.println(
                fourth
                        + ": Bram lost an umbrella and sends a photo. A model that sees says of which colour it is, so he isn't asked.");
        out.println();
        out.println("Decide about the fuel:        ./servitor --as dagny approval list");
        out.println("Enter the certificate:        ./servitor --as priya approval list");
        out.println("Read a file of a case:        ./servitor --as sunniva document list " + second);
        return new Played(first, second, third, fourth);
    }

    private static void await(Client who, String id, String state) throws IOException, InterruptedException {
        Scenes.await(() -> who.get("/api/cases/" + id)
                .path("summary")
                .path("state")
                .asString()
                .equals(state));
    }

    private static String caseOf(Client who, String subject) throws IOException, InterruptedException {
        String[] found = new String[1];
        Scenes.await(() -> {
            for (JsonNode one : who.get("/api/cases").path("items")) {
                if (one.path("subject").asString().equals(subject)) {
                    found[0] = one.path("id").asString();
                }
            }
            return found[0] != null;
        });
        return found[0];
    }

    /** The Message-ID of the mail that asks Ewan again. */
    private static String markOf(JsonNode mail, String id) throws IOException, InterruptedException {
        URI box = URI.create(mail.path("page").asString() + "/mails.json?box=" + DemoSeeder.address("ewan"));
        String[] found = {""};
        Scenes.await(() -> {
            for (JsonNode one : Scenes.get(box)) {
                if (one.path("subject").asString().contains(id)) {
                    found[0] = one.path("id").asString();
                }
            }
            return !found[0].isEmpty();
        });
        return found[0];
    }
}
