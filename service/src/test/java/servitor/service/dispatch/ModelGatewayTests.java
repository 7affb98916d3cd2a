package servitor.service.dispatch;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.math.BigDecimal;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Outcome;
import servitor.core.handbook.House;
import servitor.core.handbook.ModelSettings;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.prompt.Prompt;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelFailed;
import servitor.service.connections.Connections;
import servitor.service.runs.Stops;

/** Models that stand in for those that can't be had, over real connections on loopback. */
class ModelGatewayTests {
    private final Connections connections = mock(Connections.class);
    private final Stops stops = mock(Stops.class);
    private final ModelGateway gateway = new ModelGateway(connections, stops, new RecordedAnswers("", ""));
    private final Map<String, House.Model> models = new LinkedHashMap<>();
    private final List<HttpServer> servers = new ArrayList<>();
    private final CountDownLatch over = new CountDownLatch(1);

    @AfterEach
    void stop() {
        over.countDown();
        servers.forEach(server -> server.stop(0));
    }

    private void model(String name, @Nullable String otherwise, URI at) {
        models.put(
                name, new House.Model(name + "-server", name, ModelSettings.USUAL, 16_000, null, Set.of(), otherwise));
        when(connections.access(name + "-server"))
                .thenReturn(Optional.of(new Access(at, new Credentials.None(), true)));
    }

    private URI answering(int status) throws IOException {
        return served(status, false);
    }

    private URI served(int status, boolean hangs) throws IOException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
        server.setExecutor(Executors.newCachedThreadPool());
        server.createContext("/", exchange -> {
            try (exchange) {
                exchange.getRequestBody().readAllBytes();
                if (hangs) {
                    over.await();
                }
                byte[] body = ("{\"model\":\"it\",\"choices\":[{\"message\":{\"role\":\"assistant\",\"content\":"
                                + "\"{\\\"text\\\":\\\"Good day.\\\"}\"},\"finish_reason\":\"stop\"}],\"usage\":{\"prompt_tokens\":6,\"completion_tokens\":3,\"total_tokens\":9}}")
                        .getBytes(StandardCharsets.UTF_8);
                exchange.getResponseHeaders().add("Content-Type", "application/json");
                exchange.sendResponseHeaders(status, body.length);
                exchange.getResponseBody().write(body);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        });
        server.start();
        servers.add(server);
        return URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/v1");
    }

    private Outcome ask(String name) throws InterruptedException {
        return ask(gateway, name, "u");
    }

    private Outcome ask(ModelGateway of, String name, String asked) throws InterruptedException {
        var schema = Json.object().put("type", "object");
        schema.putObject("properties").putObject("text").put("type", "string");
        Prompt prompt = new Prompt(
                name, 3, "s", asked, new Prompt.Contract(schema, 0), List.of(), List.of(), List.of(), List.of());
        House house = new House("H", ZoneId.of("UTC"), "EUR", false, List.of(), models);
        return of.ask(house, prompt, picture -> Optional.empty(), "c1", Deadline.in(Duration.ofSeconds(4)));
    }

    @Test
    void anotherStandsInForOneThatIsTooBusyOrGone() throws Exception {
        model("first", "second", answering(503));
        model("second", "third", URI.create("http://127.0.0.1:9/v1"));
        model("third", "first", answering(200));
        assertThat(ask("first"))
                .isInstanceOfSatisfying(
                        Outcome.Done.class, done -> assertThat(done.input()).isInstanceOf(ModelAnswered.class));
    }

    @Test
    void whatTokensCostIsSaidByWhoAnswered() throws Exception {
        model("first", "second", answering(503));
        URI at = answering(200);
        models.put(
                "second",
                new House.Model(
                        "second-server",
                        "second",
                        ModelSettings.USUAL,
                        16_000,
                        new House.Price(new BigDecimal("2"), new BigDecimal("10")),
                        Set.of(),
                        null));
        when(connections.access("second-server")).thenReturn(Optional.of(new Access(at, new Credentials.None(), true)));
        ModelAnswered answered = (ModelAnswered) ((Outcome.Done) ask("first")).input();
        assertThat(answered.tokens()).isEqualTo(9);
        assertThat(answered.cost()).as("6 asked and 3 answered").isEqualByComparingTo("0.000042");
    }

    @Test
    void whatWasRecordedIsAnsweredWithoutTheModelAndAnotherPromptIsANamedMiss(@TempDir Path folder) throws Exception {
        model("first", null, answering(200));
        ModelGateway recording = new ModelGateway(
                connections,
                stops,
                new RecordedAnswers(folder.resolve("answers").toString(), ""));
        Outcome said = ask(recording, "first", "# Instruction\nSay good day.\n");
        servers.forEach(server -> server.stop(0));
        ModelGateway replaying = new ModelGateway(
                connections,
                stops,
                new RecordedAnswers("", folder.resolve("answers").toString()));
        assertThat(ask(replaying, "first", "# Instruction\nSay good day.\n"))
                .usingRecursiveComparison()
                .ignoringFields("input.estimated")
                .isEqualTo(said);
        assertThat(((Outcome.Done) ask(replaying, "first", "# Instruction\nSay good night.\n")).input())
                .isInstanceOfSatisfying(
                        ModelFailed.class,
                        failed -> assertThat(failed.detail()).contains("no answer is recorded", "‘Say good night.’"));
    }

    @Test
    void answersAreRecordedOrReplayedAndNotBoth() {
        assertThatIllegalArgumentException().isThrownBy(() -> new RecordedAnswers("a", "b"));
    }

    @Test
    void oneThatHangsLeavesTimeForTheOther() throws Exception {
        model("first", "second", served(200, true));
        model("second", null, answering(200));
        assertThat(ask("first")).isInstanceOf(Outcome.Done.class);
    }

    @Test
    void whatAModelRefusesNoOtherIsAsked() throws Exception {
        model("first", "second", answering(400));
        model("second", null, answering(200));
        assertThat(((Outcome.Done) ask("first")).input())
                .isInstanceOfSatisfying(
                        ModelFailed.class,
                        failed -> assertThat(failed.problem()).isEqualTo(Problem.INVALID));
    }

    @Test
    void aStoppedConnectionStandsInForNobody() throws Exception {
        model("first", "second", answering(503));
        model("second", null, answering(200));
        when(stops.holdsConnection("second-server")).thenReturn(true);
        assertThat(ask("first")).isInstanceOf(Outcome.TryAgain.class);
    }

    @Test
    void whereNobodyCanBeHadItIsTriedAgainLater() throws Exception {
        model("first", "second", answering(503));
        model("second", "first", answering(503));
        assertThat(ask("first")).isInstanceOf(Outcome.TryAgain.class);
    }
}
