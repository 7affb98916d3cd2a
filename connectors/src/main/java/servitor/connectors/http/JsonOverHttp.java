package servitor.connectors.http;

import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpConnectTimeoutException;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.channels.UnresolvedAddressException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import servitor.core.json.MalformedJson;
import tools.jackson.databind.JsonNode;

/**
 * Sends one request and reads one JSON answer. Follows no redirects, reads a bounded number of bytes, and tells apart
 * what was provably never sent from what may have arrived.
 */
public final class JsonOverHttp {
    private static final int MOST_BYTES = 1_000_000;
    private static final Duration LONGEST = Duration.ofSeconds(60);
    private static final ScheduledExecutorService WATCH = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "answer-watch");
        thread.setDaemon(true);
        return thread;
    });

    private final HttpClient client = HttpClient.newBuilder()
            .connectTimeout(Duration.ofSeconds(3))
            .followRedirects(HttpClient.Redirect.NEVER)
            .version(HttpClient.Version.HTTP_1_1)
            .build();

    /** Starts a request to {@code url} that gives up after {@code limit}. */
    public static HttpRequest.Builder request(URI url, Duration limit) {
        return HttpRequest.newBuilder(url).timeout(limit).header("Accept", "application/json");
    }

    public Reply send(HttpRequest request) throws InterruptedException {
        String where = request.uri().getAuthority();
        try {
            HttpResponse<InputStream> response = client.send(request, HttpResponse.BodyHandlers.ofInputStream());
            return read(where, response, request.timeout().orElse(LONGEST));
        } catch (HttpConnectTimeoutException e) {
            return new Reply.NotSent(where + " doesn't accept connections");
        } catch (HttpTimeoutException e) {
            return new Reply.Unknown(where + " didn't answer in time", true);
        } catch (ConnectException | UnresolvedAddressException e) {
            return new Reply.NotSent(where + " can't be reached");
        } catch (IOException e) {
            return new Reply.Unknown("the connection to " + where + " broke: " + e.getMessage(), false);
        }
    }

    private static Reply read(String where, HttpResponse<InputStream> response, Duration limit) throws IOException {
        int status = response.statusCode();
        byte[] bytes;
        // The client's own limit ends with the headers; a body that drips in for ever is ended here.
        InputStream body = response.body();
        AtomicBoolean ended = new AtomicBoolean();
        ScheduledFuture<?> end = WATCH.schedule(
                () -> {
                    ended.set(true); // first, so that whoever reads the body knows why it was closed
                    close(body);
                },
                limit.toMillis(),
                TimeUnit.MILLISECONDS);
        try (body) {
            bytes = body.readNBytes(MOST_BYTES + 1);
        } catch (IOException e) {
            return new Reply.Unknown(where + " began to answer and didn't end: " + e.getMessage(), ended.get());
        } finally {
            end.cancel(false);
        }
        if (bytes.length > MOST_BYTES) {
            return new Reply.Unreadable(where + " answered with more than " + MOST_BYTES + " bytes");
        }
        String text = new String(bytes, StandardCharsets.UTF_8);
        if (status < 200 || status > 299) {
            return new Reply.Failed(status, where + " answered " + status + detail(text));
        }
        try {
            return new Reply.Answered(status, text.isBlank() ? Json.object() : Json.read(text));
        } catch (MalformedJson e) {
            return new Reply.Unreadable(
                    where + " answered " + status + " with something that isn't JSON: " + e.getMessage());
        }
    }

    private static void close(InputStream body) {
        try {
            body.close();
        } catch (IOException e) {
            // what was wanted: nobody reads it any more
        }
    }

    /** The words of a problem answer (RFC 9457), shortened; anything else from outside is left out. */
    private static String detail(String text) {
        try {
            JsonNode body = Json.read(text);
            String detail = body.path("detail").asString(body.path("title").asString(""));
            return detail.isEmpty() ? "" : ": " + detail.substring(0, Math.min(300, detail.length()));
        } catch (MalformedJson e) {
            return "";
        }
    }
}
