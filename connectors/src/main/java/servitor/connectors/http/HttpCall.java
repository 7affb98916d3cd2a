package servitor.connectors.http;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.connectors.access.Deadline;

/**
 * One request that asks for JSON.
 *
 * @param headers by name, in the order they are sent
 * @param body null for none
 * @param text whether an answer that is text is taken, too, as {@code {text: …}}
 * @param deadline when it has to be over, to the last byte of the answer
 */
public record HttpCall(
        String method,
        URI url,
        Map<String, String> headers,
        @Nullable Body body,
        boolean text,
        Deadline deadline) {
    public HttpCall {
        headers = new LinkedHashMap<>(headers);
    }

    /** What is sent, and as which media type. */
    @SuppressWarnings("ArrayRecordComponent") // never compared
    public record Body(String type, byte[] bytes) {}

    /** Asks {@code method} of what is at {@code url}, without a body. */
    public static HttpCall of(String method, URI url, Deadline deadline) {
        return new HttpCall(method, url, Map.of("Accept", "application/json"), null, false, deadline);
    }

    /** Asks for what is at {@code url}. */
    public static HttpCall get(URI url, Deadline deadline) {
        return of("GET", url, deadline);
    }

    /** Sends {@code body} there. */
    public static HttpCall post(URI url, String type, String body, Deadline deadline) {
        return of("POST", url, deadline).sending(type, body.getBytes(StandardCharsets.UTF_8));
    }

    public HttpCall with(String name, String value) {
        Map<String, String> more = new LinkedHashMap<>(headers);
        more.put(name, value);
        return new HttpCall(method, url, more, body, text, deadline);
    }

    public HttpCall sending(String type, byte[] bytes) {
        return new HttpCall(method, url, headers, new Body(type, bytes), text, deadline);
    }

    /** Takes an answer that is text, too. */
    public HttpCall takingText() {
        return new HttpCall(method, url, headers, body, true, deadline)
                .with("Accept", "text/*, application/json;q=0.9");
    }
}
