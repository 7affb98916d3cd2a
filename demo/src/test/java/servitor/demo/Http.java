package servitor.demo;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import servitor.cli.client.Client;
import tools.jackson.databind.JsonNode;

/** Plain HTTP, for tests that look at statuses, headers and ill-formed bodies. */
final class Http {
    private final HttpClient http = HttpClient.newHttpClient();
    private final URI base;
    private final Map<String, String> headers = new LinkedHashMap<>();

    Http(URI base) {
        this.base = base;
        headers.put("Content-Type", "application/json");
    }

    static Http as(Household household, String person) {
        return new Http(household.url()).with("Authorization", "Bearer " + household.token(person));
    }

    Http with(String name, String value) {
        headers.put(name, value);
        return this;
    }

    record Answer(int status, String body, HttpResponse<String> response) {
        JsonNode json() {
            return Client.JSON.readTree(body);
        }

        String title() {
            return json().path("title").asString();
        }

        String detail() {
            return json().path("detail").asString();
        }
    }

    Answer get(String path) {
        return send("GET", path, null);
    }

    Answer post(String path, String body) {
        return send("POST", path, body);
    }

    Answer send(String method, String path, String body) {
        HttpRequest.Builder request = HttpRequest.newBuilder(base.resolve(path))
                .timeout(Duration.ofMinutes(1))
                .method(
                        method,
                        body == null ? HttpRequest.BodyPublishers.noBody() : HttpRequest.BodyPublishers.ofString(body));
        headers.forEach(request::header);
        try {
            HttpResponse<String> response = http.send(request.build(), HttpResponse.BodyHandlers.ofString());
            return new Answer(response.statusCode(), response.body(), response);
        } catch (IOException | InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }
}
