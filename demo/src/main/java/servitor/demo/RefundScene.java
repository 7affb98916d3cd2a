package servitor.demo;

import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import servitor.cli.client.Client;

/** Opens the refund cases: one for each way the page can go. */
public final class RefundScene {
    private final Path profiles;
    private final URI control;
    private final PrintStream out;

    public RefundScene(Path profiles, URI control, PrintStream out) {
        this.profiles = profiles;
        this.control = control;
        this.out = out;
    }

    /** One case of the scene, with what is to be seen in it. */
    private record Part(
            String by,
            @Nullable String forPerson,
            String booking,
            String language,
            String subject,
            String text,
            String see) {}

    private static final List<Part> PARTS = List.of(
            new Part(
                    "ines",
                    null,
                    "SK-48213",
                    "en",
                    "Refund for the cancelled morning boat",
                    "You cancelled the Friday morning sailing to Varra. Please pay my fare back.",
                    "84.50 EUR is below the purser's limit: paid alone. The answer waits for the passenger desk (Osei, Lucja or Sunniva)."),
            new Part(
                    "bram",
                    null,
                    "SK-51077",
                    "en",
                    "Refund for four and a car",
                    "Our sailing from Quillport was called off, we were four people and a car.",
                    "310.00 EUR is above the limit: a duty manager decides (Osei or Lucja); approve it."),
            new Part(
                    "edda",
                    null,
                    "SK-51190",
                    "de",
                    "Erstattung der Überfahrt",
                    "Die Fahrt von Quillport wurde abgesagt. Bitte erstatten Sie den Fahrpreis.",
                    "268.00 EUR is above the limit as well: decline it with a reason, and read the refusal that is drafted, in German."),
            new Part(
                    "tomas",
                    null,
                    "SK-47001",
                    "en",
                    "I missed my boat",
                    "I could not travel on the 14th. Can I have the money back?",
                    "The sailing was not cancelled: a refusal is drafted and waits for the passenger desk."),
            new Part(
                    "ewan",
                    null,
                    "SK-99999",
                    "en",
                    "Refund for my sister's ticket",
                    "My sister's sailing did not go. Please pay the fare back to her.",
                    "There is no such booking: handed over with what is known."),
            new Part(
                    "sunniva",
                    "bram",
                    "SK-48400",
                    "en",
                    "Refund, asked for at the counter",
                    "Mr Okafor asked at the counter for the fare of the cancelled sailing to Varra.",
                    "Opened by the clerk, so who asks is only claimed: even the lookup waits for a duty manager."));

    private static final Part WHILE_AWAY = new Part(
            "ines",
            null,
            "SK-48377",
            "en",
            "The second ticket of the cancelled morning boat",
            "I had bought a second ticket for the Friday morning sailing. Please pay that one back as well.",
            "The fares system is away for 20 s: the lookup is tried again until it answers, then it goes on as usual.");

    /** Opens all cases; the last one while the fares system is away. Returns their ids in order. */
    public List<String> play() throws IOException, InterruptedException {
        List<String> opened = new ArrayList<>();
        for (Part part : PARTS) {
            opened.add(open(part));
        }
        awaitNoWork(opened);
        tell("{\"away-seconds\": 20}");
        opened.add(open(WHILE_AWAY));
        out.println();
        out.println("Look at Today and Approvals as osei, at Cases as sunniva, or: ./servitor --as osei approval list");
        return opened;
    }

    private String open(Part part) throws IOException {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("kind", "refund");
        body.put("subject", part.subject());
        body.put("text", part.text());
        body.put("language", part.language());
        body.put("fields", Map.of("booking", part.booking()));
        body.put("requester", part.forPerson());
        String id = new Client(DemoSeeder.profileOf(profiles, part.by()))
                .post("/api/cases", body, UUID.randomUUID().toString())
                .path("summary")
                .path("id")
                .asString();
        out.println(id + "  " + part.subject());
        out.println("        " + part.see());
        return id;
    }

    /** Waits until no agent is at work on these cases any more, so that the outage concerns the last case only. */
    private void awaitNoWork(List<String> ids) throws IOException, InterruptedException {
        Client noor = new Client(DemoSeeder.profileOf(profiles, "noor"));
        for (int tries = 0; tries < 300; tries++) {
            boolean working = false;
            for (String id : ids) {
                working |= noor.get("/api/cases/" + id)
                        .path("summary")
                        .path("state")
                        .asString()
                        .equals("working");
            }
            if (!working) {
                return;
            }
            TimeUnit.MILLISECONDS.sleep(200);
        }
    }

    private void tell(String json) throws IOException, InterruptedException {
        HttpRequest request = HttpRequest.newBuilder(control)
                .POST(HttpRequest.BodyPublishers.ofString(json))
                .build();
        HttpClient.newHttpClient().send(request, HttpResponse.BodyHandlers.discarding());
    }
}
