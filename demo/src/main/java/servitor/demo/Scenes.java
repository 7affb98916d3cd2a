package servitor.demo;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What scenes ask over HTTP, and what they wait for. */
final class Scenes {
    private Scenes() {}

    /** Something that comes to be so. */
    interface Condition {
        boolean holds() throws IOException, InterruptedException;
    }

    private static final HttpClient HTTP = HttpClient.newHttpClient();

    /** Fetches whatever is at an address. */
    static String fetch(URI address) throws IOException, InterruptedException {
        return HTTP.send(request(address).build(), BodyHandlers.ofString()).body();
    }

    static JsonNode get(URI address, String... headers) throws IOException, InterruptedException {
        return read(request(address, headers).GET());
    }

    static JsonNode post(URI address, Map<String, ?> body, String... headers) throws IOException, InterruptedException {
        return read(request(address, headers)
                .header("Content-Type", "application/json")
                .POST(BodyPublishers.ofString(JsonMapper.shared().writeValueAsString(body))));
    }

    private static HttpRequest.Builder request(URI address, String... headers) {
        HttpRequest.Builder request = HttpRequest.newBuilder(address);
        return headers.length == 0 ? request : request.headers(headers);
    }

    private static JsonNode read(HttpRequest.Builder request) throws IOException, InterruptedException {
        return JsonMapper.shared()
                .readTree(HTTP.send(request.build(), BodyHandlers.ofString()).body());
    }

    static void await(Condition condition) throws IOException, InterruptedException {
        for (int tries = 0; tries < 300; tries++) {
            if (condition.holds()) {
                return;
            }
            TimeUnit.MILLISECONDS.sleep(100);
        }
        throw new IllegalStateException("it didn't come to that within half a minute");
    }
}
