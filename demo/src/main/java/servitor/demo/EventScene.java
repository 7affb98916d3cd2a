package servitor.demo;

import java.io.IOException;
import java.io.PrintStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Map;
import java.util.UUID;
import servitor.cli.client.Client;
import servitor.cli.client.Profile;
import servitor.connectors.access.Credentials;
import tools.jackson.databind.json.JsonMapper;

/** The monitor of the kiosks posts what it sees: one that freezes and is restarted, one without power, and somebody who only says so. */
final class EventScene {
    private static final int REPEATS = 14;

    private final Profile teun;
    private final Monitor monitor;
    private final URI control;
    private final PrintStream out;
    private final HttpClient http = HttpClient.newHttpClient();

    EventScene(Path profiles, URI control, PrintStream out) throws IOException {
        this.teun = DemoSeeder.profileOf(profiles, "teun");
        this.monitor = new Monitor(URI.create(teun.url()));
        this.control = control;
        this.out = out;
    }

    void play() throws IOException, InterruptedException {
        set("stennis-1", "dark");
        String dark = sees("stennis-1", "dark");
        for (int i = 0; i < REPEATS; i++) {
            sees("stennis-1", "dark");
        }
        out.println(dark + ": stennis-1 has no power. The monitor has said so " + REPEATS
                + " times more, which is counted; the harbour office hears of it, and it is handed over.");
        set("varra-1", "frozen");
        String frozen = sees("varra-1", "frozen");
        out.println(frozen + ": varra-1 is frozen, and restarted.");
        awaitUp("varra-1");
        awaitWaiting(frozen);
        sees("varra-1", "up");
        out.println(frozen + ": the monitor sees it up again, which the page waits for; the case is resolved.");
        var another = new Credentials.Signing(Credentials.Signing.PREFIX + "AAAA".repeat(8));
        int status = monitor.post(Monitor.event("varra-2", "dark", "made-up"), another, Instant.now())
                .statusCode();
        out.println("Somebody else says that varra-2 is dark, and signs with another secret: " + status
                + ", nothing becomes of it.");
        out.println();
        out.println(
                "Look at " + dark + " as teun, at Intake, and at ./servitor --as teun intake events " + Monitor.INTAKE);
    }

    /** Posts as the monitor does, and says which case it is about. */
    private String sees(String kiosk, String state) throws IOException, InterruptedException {
        Monitor.Answer answer = monitor.sees(kiosk, state, UUID.randomUUID().toString());
        if (answer.caseId().isEmpty()) {
            throw new IllegalStateException("nothing came of what the monitor posted: " + answer);
        }
        return answer.caseId();
    }

    private void set(String kiosk, String state) throws IOException, InterruptedException {
        http.send(
                HttpRequest.newBuilder(control)
                        .POST(BodyPublishers.ofString(
                                JsonMapper.shared().writeValueAsString(Map.of("kiosk", kiosk, "state", state))))
                        .build(),
                BodyHandlers.ofString());
    }

    private void awaitUp(String kiosk) throws IOException, InterruptedException {
        Scenes.await(() -> JsonMapper.shared()
                .readTree(http.send(HttpRequest.newBuilder(control).build(), BodyHandlers.ofString())
                        .body())
                .path("kiosks")
                .path(kiosk)
                .asString("")
                .equals("up"));
    }

    private void awaitWaiting(String caseId) throws IOException, InterruptedException {
        Client client = new Client(teun);
        Scenes.await(() -> client.get("/api/cases/" + caseId)
                .path("summary")
                .path("waitingFor")
                .asString("")
                .contains(Monitor.INTAKE));
    }
}
