package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import servitor.cli.client.Client;
import servitor.connectors.access.Credentials;
import servitor.standins.Kiosks;
import tools.jackson.databind.JsonNode;

/** A monitor posts to the running service, and others try to. */
class EventTests {
    private static final Credentials.Signing RIGHT = new Credentials.Signing(Kiosks.SECRET);

    private final Household household = Household.shared();
    private final Monitor monitor = new Monitor(household.url());
    private final Client teun = household.as("teun");

    private long cases(String kiosk) {
        return teun.get("/api/cases?kind=kiosk-down&limit=200")
                .path("items")
                .valueStream()
                .filter(one -> one.path("subject").asString().startsWith(kiosk + " "))
                .count();
    }

    @Test
    void aKioskThatFreezesIsRestartedAndTheMonitorsWordIsWaitedFor() throws Exception {
        household.standins.kiosks().set("varra-1", "frozen");
        String id = monitor.sees("varra-1", "frozen", "freezes").caseId();
        Household.await(
                "the kiosk",
                () -> teun.get("/api/cases/" + id)
                        .path("summary")
                        .path("waitingFor")
                        .asString("")
                        .contains(Monitor.INTAKE));
        assertThat(household.standins.kiosks().states()).containsEntry("varra-1", "up");
        assertThat(monitor.sees("varra-1", "up", "is up")).isEqualTo(new Monitor.Answer(200, "joined", id));
        Household.await(
                "the kiosk",
                () -> teun.get("/api/cases/" + id)
                        .path("summary")
                        .path("state")
                        .asString("")
                        .equals("resolved"));
        assertThat(household.standins.room().said()).anyMatch(text -> text.contains("varra-1"));
    }

    @Test
    void whatIsPlayedAgainIsKnownAndWhatIsUpOpensNothing() throws Exception {
        household.standins.kiosks().set("quillport-1", "dark");
        Monitor.Answer first = monitor.sees("quillport-1", "dark", "played");
        assertThat(first.outcome()).isEqualTo("opened");
        assertThat(monitor.sees("quillport-1", "dark", "played"))
                .isEqualTo(new Monitor.Answer(200, "known", first.caseId()));
        assertThat(monitor.sees("quillport-1", "dark", "again"))
                .isEqualTo(new Monitor.Answer(200, "counted", first.caseId()));
        assertThat(monitor.sees("sandholm-1", "up", "always up")).isEqualTo(new Monitor.Answer(200, "left-out", ""));
        assertThat(cases("quillport-1")).isEqualTo(1);
        assertThat(cases("sandholm-1")).isZero();
        assertThat(teun.get("/api/cases/" + first.caseId())
                        .path("repeats")
                        .path(0)
                        .path("times")
                        .asLong())
                .isEqualTo(1);
        assertThat(household.run("--as", "teun", "case", "show", first.caseId()).out())
                .contains("1 more of ‘What the monitor");
    }

    @Test
    void aLogThatRepeatsItselfIsOneCaseWithACount() throws Exception {
        household.standins.kiosks().set("quillport-2", "dark");
        String error = "09:02 ERROR quillport-2 at Quillport: out of paper\n";
        Monitor.Answer first = monitor.log(error + ("09:02 INFO all is well\n" + error).repeat(14));
        assertThat(first.outcome()).isEqualTo("opened");
        JsonNode shown = teun.get("/api/cases/" + first.caseId());
        assertThat(shown.path("repeats").path(0).path("times").asLong()).isEqualTo(14);
        assertThat(shown.path("summary").path("channel").asString()).isEqualTo("lines");
        assertThat(cases("quillport-2:")).isEqualTo(1);
        assertThat(household
                        .run("--as", "teun", "intake", "events", Monitor.LOG)
                        .out())
                .contains("29 lines");
    }

    @Test
    void whoDoesNotSignAsAgreedIsRefused() throws Exception {
        String event = Monitor.event("stennis-1", "dark", "forged");
        Credentials.Signing other = new Credentials.Signing(Credentials.Signing.PREFIX + "AAAA".repeat(8));
        assertThat(monitor.post(event, other, Instant.now()).statusCode()).isEqualTo(401);
        assertThat(monitor.post(event, RIGHT, Instant.now().minus(Duration.ofMinutes(6)))
                        .statusCode())
                .as("kept for six minutes")
                .isEqualTo(401);
        assertThat(monitor.post(event, RIGHT, Instant.now().plus(Duration.ofMinutes(6)))
                        .statusCode())
                .as("by a clock that is six minutes ahead")
                .isEqualTo(401);
        assertThat(bare("/api/hooks/" + Monitor.INTAKE, event).statusCode())
                .as("unsigned")
                .isEqualTo(401);
        assertThat(bare("/api/hooks/harbour-kiosks", "{}").statusCode())
                .as("where nobody signs")
                .isEqualTo(404);
        assertThat(bare("/api/hooks/it-by-mail", "{}").statusCode())
                .as("where mails come")
                .isEqualTo(404);
        assertThat(cases("stennis-1")).isZero();
        JsonNode refused = teun.get("/api/intake/" + Monitor.INTAKE + "/events").path("refused");
        assertThat(refused.valueStream()
                        .mapToLong(one -> one.path("times").asLong())
                        .sum())
                .isGreaterThanOrEqualTo(4);
        assertThat(household
                        .run("--as", "teun", "intake", "events", Monitor.INTAKE)
                        .out())
                .contains("Refused", "the signature doesn't match", "minutes from ours");
    }

    @Test
    void whatIsNoEventOrTooLargeIsSaidToBeSo() throws Exception {
        assertThat(monitor.post("{\"specversion\": \"1.0\"}", RIGHT, Instant.now())
                        .statusCode())
                .isEqualTo(422);
        HttpResponse<String> large = monitor.post("\"" + "x".repeat(1_100_000) + "\"", RIGHT, Instant.now());
        assertThat(large.statusCode()).isEqualTo(413);
        assertThat(monitor.post("\"" + "x".repeat(10_000_000) + "\"", RIGHT, Instant.now())
                        .statusCode())
                .isEqualTo(413);
        String unknown = Monitor.event("stennis-2", "dark", "unknown fields")
                .replace("\"state\"", "\"firmware\": {\"secret\": \"never read\"}, \"state\"");
        Monitor.Answer taken = Monitor.Answer.of(monitor.post(unknown, RIGHT, Instant.now()));
        assertThat(taken.outcome()).isEqualTo("opened");
        assertThat(teun.get("/api/cases/" + taken.caseId()).toString()).doesNotContain("never read");
        Monitor.Answer wrong =
                Monitor.Answer.of(monitor.post(Monitor.event("stennis-3", "on fire", "wrong"), RIGHT, Instant.now()));
        assertThat(wrong.outcome()).isEqualTo("invalid");
        assertThat(household
                        .run("--as", "teun", "intake", "events", Monitor.INTAKE)
                        .out())
                .contains("invalid");
    }

    private HttpResponse<String> bare(String path, String body) throws Exception {
        return HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(household.url() + path))
                                .header("Content-Type", "application/json")
                                .POST(BodyPublishers.ofString(body))
                                .build(),
                        BodyHandlers.ofString());
    }
}
