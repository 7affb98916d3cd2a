package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.Socket;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Predicate;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.demo.Http.Answer;

/** What HTTP itself promises: tags, ids, streams that go on, and errors that programs can read whoever made them. */
class ProtocolTests {
    private static final Household HOUSEHOLD = Household.shared();

    private static String tag(Answer answer) {
        return answer.response().headers().firstValue("ETag").orElseThrow();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "admin | /api/connections/tags-1 | {\"url\": \"https://one.example\"} | {\"atOnce\": 3} | {\"atOnce\": 4}",
                "admin | /api/people/tags-1 | {\"name\": \"One\"} | {\"name\": \"Two\"} | {\"name\": \"Three\"}",
                "maren | /api/handbook/draft/file?path=tools/tags-1.yaml | {\"text\": \"a\"} | {\"text\": \"b\"} | {\"text\": \"c\"}",
            })
    void whoeverChangesWhatSomebodyElseChangedMeanwhileIsTold(
            String person, String path, String first, String second, String third) {
        assertThat(Http.as(HOUSEHOLD, person)
                        .with("If-Match", "*")
                        .send("PUT", path, first)
                        .status())
                .as("there is none yet")
                .isEqualTo(412);
        String begun = tag(Http.as(HOUSEHOLD, person).with("If-None-Match", "*").send("PUT", path, first));
        assertThat(Http.as(HOUSEHOLD, person)
                        .with("If-None-Match", "*")
                        .send("PUT", path, second)
                        .status())
                .as("there is one now")
                .isEqualTo(412);
        String seen = tag(Http.as(HOUSEHOLD, person).get(path));
        assertThat(seen).isEqualTo(begun);

        String newer = tag(Http.as(HOUSEHOLD, person).with("If-Match", seen).send("PUT", path, second));
        Answer late = Http.as(HOUSEHOLD, person).with("If-Match", seen).send("PUT", path, third);
        assertThat(late.status()).isEqualTo(412);
        assertThat(late.detail()).contains("changed meanwhile");
        assertThat(tag(late)).isEqualTo(newer).isNotEqualTo(seen);
        assertThat(tag(Http.as(HOUSEHOLD, person).get(path)))
                .as("nothing was changed")
                .isEqualTo(newer);
        assertThat(Http.as(HOUSEHOLD, person)
                        .with("If-Match", "\"other\", " + newer)
                        .send("PUT", path, third)
                        .status())
                .isEqualTo(200);
        if (person.equals("maren")) {
            assertThat(Http.as(HOUSEHOLD, person)
                            .with("If-Match", newer)
                            .send("DELETE", path, null)
                            .status())
                    .isEqualTo(412);
            Http.as(HOUSEHOLD, person).send("DELETE", path, null);
        }
    }

    @Test
    void aConnectionInUseIsNotDeletedAndOneThatIsNotIs() {
        Answer used = Http.as(HOUSEHOLD, "admin").send("DELETE", "/api/connections/fares", null);
        assertThat(used.status()).isEqualTo(409);
        assertThat(used.detail()).contains("fares.pay-refund");
        HOUSEHOLD.as("admin").put("/api/connections/unused", Map.of("url", "https://one.example"));
        assertThat(HOUSEHOLD
                        .run("--as", "admin", "connection", "delete", "unused")
                        .out())
                .contains("‘unused’ is deleted");
        assertThat(HOUSEHOLD
                        .run("--as", "admin", "connection", "delete", "unused")
                        .err())
                .contains("There is no connection ‘unused’");
    }

    /** What the web server refuses by itself. {@code _} stands for the end of a line. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "GET /api/session HTTP/1.1_Host: a b c__ | 400",
                "TRACE /api/session HTTP/1.1_Host: x__ | 405",
                "PROPFIND /api/session HTTP/1.1_Host: x__ | 400",
                "GET /api/session HTTP/1.1_Host: x_X-Long: LONG__ | 400",
                "GET /api/[x HTTP/1.1_Host: x__ | 400",
                "GET /api/a%2fb HTTP/1.1_Host: x__ | 400",
                "GET /api/;a/x HTTP/1.1_Host: x__ | 400",
                "GET / HTTP/9.1_Host: x__ | 505",
                "POST /api/session HTTP/1.1_Host: x_Expect: wonders_Content-Length: 0__ | 417",
                "POST /api/session HTTP/1.1_Host: x_Transfer-Encoding: foo__ | 501",
                "FOO__ | 400",
            })
    void whatTheWebServerRefusesIsAProblemToo(String request, int status) throws IOException {
        String raw = request.replace("LONG", "a".repeat(20_000)).replace("_", "\r\n");
        try (Socket socket = new Socket("127.0.0.1", HOUSEHOLD.port)) {
            socket.getOutputStream().write(raw.getBytes(StandardCharsets.ISO_8859_1));
            socket.shutdownOutput();
            String answer = new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            assertThat(answer)
                    .startsWith("HTTP/1.1 " + status)
                    .containsIgnoringCase("content-type: application/problem+json")
                    .contains("\"status\":" + status, "\"title\":", "\"detail\":")
                    .doesNotContain("<html", "Apache");
        }
    }

    @Test
    void aRequestKeepsTheIdThatItCameWith() {
        Answer named = Http.as(HOUSEHOLD, "ines")
                .with("X-Request-Id", "from-the-kiosk.7")
                .send("POST", "/api/cases", "{\"kind\": 3}");
        assertThat(named.response().headers().firstValue("X-Request-Id")).contains("from-the-kiosk.7");
        Answer hostile =
                Http.as(HOUSEHOLD, "ines").with("X-Request-Id", "two words [x]").get("/api/session");
        assertThat(hostile.response().headers().firstValue("X-Request-Id").orElseThrow())
                .matches("[0-9a-f]{8}");
    }

    /** Reads a stream of events until one is there that is waited for; says what it read. */
    private static List<String> heard(String last, Predicate<String> until, Runnable meanwhile) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(HOUSEHOLD.url().resolve("/api/live"))
                .header("Accept", "text/event-stream")
                .header("Authorization", "Bearer " + HOUSEHOLD.token("bram"));
        HttpResponse<InputStream> stream = HttpClient.newHttpClient()
                .send(
                        (last == null ? request : request.header("Last-Event-ID", last)).build(),
                        HttpResponse.BodyHandlers.ofInputStream());
        List<String> lines = new ArrayList<>();
        try (BufferedReader reader = new BufferedReader(new InputStreamReader(stream.body(), StandardCharsets.UTF_8))) {
            boolean told = false;
            for (String line = reader.readLine(); line != null; line = reader.readLine()) {
                lines.add(line);
                if (!told && line.startsWith("data:")) {
                    told = true;
                    meanwhile.run();
                }
                if (until.test(line)) {
                    break;
                }
            }
        }
        return lines;
    }

    private static String lastId(List<String> lines) {
        return lines.stream()
                .filter(line -> line.startsWith("id:"))
                .reduce((first, second) -> second)
                .orElseThrow()
                .substring(3);
    }

    @Test
    void whoeverComesBackToTheLiveChangesHearsWhatTheyMissed() throws Exception {
        String[] first = new String[1];
        List<String> before = heard(
                null,
                line -> first[0] != null && line.contains(first[0]),
                () -> first[0] = HOUSEHOLD.openRefund("bram", "SK-690101"));
        String missed = HOUSEHOLD.openRefund("bram", "SK-690102");
        String others = HOUSEHOLD.openRefund("ines", "SK-690103");

        List<String> after = heard(lastId(before), line -> line.contains(missed), () -> {});
        assertThat(String.join("\n", after)).contains(missed).doesNotContain(others, "\"missed\": true");
        assertThat(heard("00000000-7", Objects::nonNull, () -> {}))
                .as("of an earlier start of the service")
                .isNotEmpty();
        assertThat(heard("00000000-7", line -> line.startsWith("data:"), () -> {}))
                .contains("data:{\"missed\": true}");
    }
}
