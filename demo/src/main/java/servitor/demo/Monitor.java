package servitor.demo;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Map;
import java.util.UUID;
import servitor.connectors.access.Credentials;
import servitor.standins.Kiosks;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Posts to a service what the monitor of the kiosks sees: CloudEvents, signed by the Standard Webhooks convention. */
public final class Monitor {
    /** The intake it posts to. */
    public static final String INTAKE = "kiosk-alarms";
    /** Where the kiosks' log goes. */
    public static final String LOG = "kiosk-log";

    private final URI service;
    private final HttpClient http = HttpClient.newHttpClient();

    public Monitor(URI service) {
        this.service = service;
    }

    /** What is answered; {@code outcome} and {@code caseId} are empty when nothing was taken. */
    public record Answer(int status, String outcome, String caseId) {
        static Answer of(HttpResponse<String> response) {
            JsonNode taken =
                    JsonMapper.shared().readTree(response.body()).path("taken").path(0);
            return new Answer(
                    response.statusCode(),
                    taken.path("outcome").asString(""),
                    taken.path("id").asString(""));
        }
    }

    /** Posts how a kiosk is, as an event of this id. */
    public Answer sees(String kiosk, String state, String event) throws IOException, InterruptedException {
        return Answer.of(post(event(kiosk, state, event), new Credentials.Signing(Kiosks.SECRET), Instant.now()));
    }

    /** Posts what kiosks have written into their log. */
    public Answer log(String lines) throws IOException, InterruptedException {
        return Answer.of(post(LOG, "text/plain", lines, new Credentials.Signing(Kiosks.SECRET), Instant.now()));
    }

    /** Posts an event, signed with a secret for a time. */
    public HttpResponse<String> post(String body, Credentials.Signing signing, Instant when)
            throws IOException, InterruptedException {
        return post(INTAKE, "application/cloudevents+json", body, signing, when);
    }

    private HttpResponse<String> post(
            String intake, String type, String body, Credentials.Signing signing, Instant when)
            throws IOException, InterruptedException {
        String id = "msg_" + UUID.randomUUID();
        String seconds = String.valueOf(when.getEpochSecond());
        return http.send(
                HttpRequest.newBuilder(service.resolve("/api/hooks/" + intake))
                        .header("Content-Type", type)
                        .header("webhook-id", id)
                        .header("webhook-timestamp", seconds)
                        .header(
                                "webhook-signature",
                                "v1," + signing.sign(id, seconds, body.getBytes(StandardCharsets.UTF_8)))
                        .POST(BodyPublishers.ofString(body))
                        .build(),
                BodyHandlers.ofString());
    }

    /** The event that a kiosk is in a state; its harbour is the first part of its name. */
    public static String event(String kiosk, String state, String id) {
        String harbour =
                kiosk.substring(0, 1).toUpperCase(java.util.Locale.ROOT) + kiosk.substring(1, kiosk.indexOf('-'));
        return JsonMapper.shared()
                .writeValueAsString(Map.of(
                        "specversion",
                        "1.0",
                        "id",
                        id,
                        "source",
                        "/kiosks/" + kiosk,
                        "type",
                        "example.skerryline.kiosk." + state,
                        "time",
                        Instant.now().toString(),
                        "data",
                        Map.of("kiosk", kiosk, "harbour", harbour, "state", state)));
    }
}
