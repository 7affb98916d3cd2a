package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.cli.command.HandbookFolder;
import servitor.core.json.Json;

/** Work that an outside system does after it has answered, and calls back about. */
class CallbackTests {
    private static final Map<String, String> FILES = Map.of(
            "tools/depot.openapi.yaml",
            """
            openapi: 3.1.0
            info: { title: Depot, version: "1" }
            paths:
              /orders:
                post:
                  operationId: refit
                  requestBody: { required: true, content: { application/json: { schema: { type: object, required: [ship, tell],
                    properties: { ship: { type: string }, tell: { type: string, format: uri } } } } } }
                  responses: { "201": { description: ok, content: { application/json: { schema: { type: object, required: [order],
                    properties: { order: { type: string } } } } } } }
              /orders/{order}:
                get:
                  operationId: orderState
                  parameters: [{ name: order, in: path, required: true, schema: { type: string } }]
                  responses: { "200": { description: ok, content: { application/json: { schema: { type: object, required: [state, bill],
                    properties: { state: { type: string }, bill: { type: number } } } } } } }
            """,
            "tools/depot.yaml",
            """
            desk: passengers
            connection: depot
            openapi: depot.openapi.yaml
            tools:
              refit:
                operation: refit
                effect: once
                description: Has a ship's gear refitted, which takes the depot some days.
                examples: [{ ship: Grey Heron }]
                job:
                  look: depot.order-state
                  with: { order: "${answer.order}" }
                  done: found.state == "done"
                  result: { bill: "${found.bill}" }
                  outputs: { bill: number }
                  every: P2D
                  within: P9D
                  calls-back: tell
              order-state:
                operation: orderState
                effect: read
                description: Says how far the depot is with an order.
                examples: [{ order: O-1 }]
            """,
            "kinds/refit.yaml",
            "title: Gear to be refitted\ndesk: passengers\nopen-to: [everybody]\n",
            "runbooks/refit.md",
            """
            ---
            title: Have gear refitted
            desk: passengers
            agent: purser
            starts:
              - on: case-opened
                kind: refit
            limits: { calls: 2, time: P10D }
            ---
            ## Refit
            ```step
            call: depot.refit
            with: { ship: Grey Heron }
            save: refit
            ```

            ## Done
            ```step
            finish: resolved
            summary: "The bill is ${refit.bill}."
            ```
            """);

    private final HttpClient http = HttpClient.newHttpClient();
    private volatile String told = "";
    private volatile String state = "at it";

    private void depot(HttpExchange exchange) throws IOException {
        boolean ordered = exchange.getRequestMethod().equals("POST");
        if (ordered) {
            told = Json.mapper()
                    .readTree(exchange.getRequestBody().readAllBytes())
                    .path("tell")
                    .asString("");
        }
        byte[] answer = (ordered ? "{\"order\":\"O-7\"}" : "{\"state\":\"" + state + "\",\"bill\":84.5}")
                .getBytes(StandardCharsets.UTF_8);
        exchange.getResponseHeaders().set("Content-Type", "application/json");
        exchange.sendResponseHeaders(ordered ? 201 : 200, answer.length);
        exchange.getResponseBody().write(answer);
        exchange.close();
    }

    private HttpResponse<String> post(String address) throws Exception {
        return http.send(
                HttpRequest.newBuilder(URI.create(address))
                        .POST(HttpRequest.BodyPublishers.ofString("{\"state\":\"done\",\"bill\":99999}"))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    @Test
    void whoCallsBackMakesItLookedAtAndIsBelievedNothing() throws Exception {
        HttpServer depot = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        depot.createContext("/", this::depot);
        depot.start();
        try (Household household = new Household()) {
            household
                    .as("admin")
                    .put(
                            "/api/connections/depot",
                            Map.of(
                                    "url",
                                    "http://127.0.0.1:" + depot.getAddress().getPort(),
                                    "inside",
                                    true));
            Map<String, String> files = new LinkedHashMap<>(HandbookFolder.read(Path.of("handbook")));
            files.putAll(FILES);
            files.compute(
                    "mandates/purser.yaml",
                    (name, text) -> text.replace(
                            "grants:\n", "grants:\n  - { name: depot, tools: [depot.*], verdict: allow }\n"));
            household.publish("maren", files, "With a depot");

            String id = household.open("ines", "refit", "The winch", "It groans.", Map.of());
            Household.await("the depot to be at work", () -> household.state(id).equals("waiting"));
            assertThat(told).startsWith(household.service.url() + "/api/callbacks/");
            String token = told.substring(told.lastIndexOf('/') + 1);
            assertThat(household
                            .run("--as", "noor", "trail", "show", "--case", id, "--json")
                            .out())
                    .as("the trail")
                    .contains("call-back.invalid")
                    .doesNotContain(token.substring(token.indexOf('.') + 1));

            assertThat(post(told.substring(0, told.length() - 3) + "xyz").statusCode())
                    .isEqualTo(404);
            assertThat(post(told).body()).contains("true");
            Household.await(
                    "it to be looked at, and waited for again",
                    () -> household.state(id).equals("waiting")
                            && trail(household, id).contains("at it"));
            state = "done";
            assertThat(post(told).statusCode()).isEqualTo(202);
            Household.await("the work to be done", () -> household.state(id).equals("resolved"));
            assertThat(trail(household, id)).contains("The bill is 84.5.").doesNotContain("99999");
            assertThat(post(told).body()).as("nobody waits any more").contains("false");
            assertThat(http.send(HttpRequest.newBuilder(URI.create(told)).build(), HttpResponse.BodyHandlers.ofString())
                            .statusCode())
                    .as("looking at it does nothing")
                    .isEqualTo(405);
        } finally {
            depot.stop(0);
        }
    }

    private static String trail(Household household, String id) {
        return household.as("noor").get("/api/trail?case=" + id).toString();
    }
}
