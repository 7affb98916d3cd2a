package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.OutputStream;
import java.net.Socket;
import java.net.SocketException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Values and manners that would stop a house, sent to the started service: each is refused, and the others are served on. */
class HostileTests {
    private static final int DEEP = 60;
    private final Household household = Household.shared();
    private final List<Socket> open = new ArrayList<>();

    @AfterEach
    void close() throws IOException {
        for (Socket socket : open) {
            socket.close();
        }
    }

    private static String nested(int depth) {
        return "[".repeat(depth) + "]".repeat(depth);
    }

    private void everythingMoves() {
        assertThat(Http.as(household, "osei").get("/api/today").status()).isEqualTo(200);
        Http.Answer health = new Http(household.url()).get("/api/manage/health");
        assertThat(health.status()).as(health.body()).isEqualTo(200);
        assertThat(household.run("--as", "noor", "trail", "verify").code()).isZero();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "{\"booking\":\"SK-660001\",\"more\":%s}",
                "{\"booking\":%s}",
                "{\"booking\":1e-999999999}",
                "{\"booking\":1e999999999}",
                "{\"booking\":0.000000000000000000000000000000000000000000000000000000000001}",
                "{\"booking\":\"\\u0000\"}"
            })
    void aMonstrousFieldOpensNothing(String fields) {
        String body = "{\"kind\":\"refund\",\"subject\":\"x\",\"text\":\"y\",\"fields\":"
                + fields.formatted(nested(DEEP)) + "}";
        Http.Answer answer = Http.as(household, "ines").post("/api/cases", body);
        assertThat(answer.status()).as(answer.body()).isIn(400, 422);
        everythingMoves();
    }

    @ParameterizedTest
    @ValueSource(strings = {"%s", "{\"a\":1e-999999999}", "{\"a\":%s}"})
    void aMonstrousEventOfASystemIsNotKept(String data) {
        String id = household.openRefund("ines", "SK-660010");
        Http.Answer answer = Http.as(household, "sunniva")
                .post(
                        "/api/cases/" + id + "/events",
                        "{\"name\":\"arrived\",\"data\":" + data.formatted(nested(DEEP)) + "}");
        assertThat(answer.status()).as(answer.body()).isIn(400, 422);
        everythingMoves();
    }

    @Test
    void aMonstrousArgumentOfATriedToolIsNotSent() {
        for (String args : List.of("{\"number\":" + nested(DEEP) + "}", "{\"number\":1e-999999999}")) {
            Http.Answer answer = Http.as(household, "maren").post("/api/tools/fares.find-sailing/try", args);
            assertThat(answer.status()).as(answer.body()).isIn(400, 422);
        }
        everythingMoves();
    }

    @Test
    void nestingDeeperThanAnyReaderIsRefused() {
        Http.Answer answer = Http.as(household, "ines").post("/api/cases", "{\"fields\":" + nested(100_000) + "}");
        assertThat(answer.status()).as(answer.body()).isIn(400, 413, 422);
        everythingMoves();
    }

    @Test
    void peopleWhoSignInSlowlyTakeNothingFromOthers() throws Exception {
        for (int i = 0; i < 70; i++) {
            Socket socket =
                    new Socket(household.url().getHost(), household.url().getPort());
            open.add(socket);
            OutputStream out = socket.getOutputStream();
            out.write(
                    "POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 60\r\n\r\n{\"per"
                            .getBytes(StandardCharsets.US_ASCII));
            out.flush();
        }
        everythingMoves();
        assertThat(Http.as(household, "ines").get("/api/cases").status()).isEqualTo(200);
    }

    @Test
    void aHeaderThatDripsInHasAnEnd() throws Exception {
        Socket socket = new Socket(household.url().getHost(), household.url().getPort());
        open.add(socket);
        socket.setSoTimeout(30_000);
        OutputStream out = socket.getOutputStream();
        out.write("GET / HTTP/1.1\r\nSlow: ".getBytes(StandardCharsets.US_ASCII));
        ScheduledExecutorService dripping = Executors.newSingleThreadScheduledExecutor();
        try {
            dripping.scheduleAtFixedRate(
                    () -> {
                        try {
                            out.write('x');
                        } catch (IOException e) {
                            throw new IllegalStateException(e); // ends the dripping
                        }
                    },
                    0,
                    200,
                    TimeUnit.MILLISECONDS);
            assertThat(socket.getInputStream().read()).as("it is closed").isEqualTo(-1);
        } catch (SocketException e) {
            assertThat(e).hasMessageContaining("reset");
        } finally {
            dripping.shutdownNow();
        }
    }

    @Test
    void onePersonDoesNotTakeAllLiveStreams() throws Exception {
        for (int i = 0; i < 12; i++) {
            Socket socket =
                    new Socket(household.url().getHost(), household.url().getPort());
            open.add(socket);
            socket.setSoTimeout(20_000);
            socket.getOutputStream()
                    .write(("GET /api/live HTTP/1.1\r\nHost: x\r\nAccept: text/event-stream\r\nAuthorization: Bearer "
                                    + household.token("bram") + "\r\n\r\n")
                            .getBytes(StandardCharsets.US_ASCII));
            byte[] head = socket.getInputStream().readNBytes("HTTP/1.1 200".length());
            assertThat(new String(head, StandardCharsets.US_ASCII)).endsWith("200");
        }
        for (Socket older : open.subList(0, 6)) {
            String rest = new String(older.getInputStream().readAllBytes(), StandardCharsets.US_ASCII);
            assertThat(rest).as("it has ended").contains("hello").endsWith("0\r\n\r\n");
        }
        everythingMoves();
    }
}
