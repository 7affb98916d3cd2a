package servitor.connectors.http;

import java.net.URI;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.connectors.access.Deadline;

/**
 * One request that asks for JSON.
 *
 * @param headers by name, in the order they are sent
 * @param body null for none
 * @param deadline when it has to be over, to the last byte of the answer
 */
public record HttpCall(
        String method,
        URI url,
        Map<String, String> headers,
        @Nullable String body,
        Deadline deadline) {
    public HttpCall {
        headers = new LinkedHashMap<>(headers);
    }

    /** Asks for what is at {@code url}. */
    public static HttpCall get(URI url, Deadline deadline) {
        return new HttpCall("GET", url, Map.of("Accept", "application/json"), null, deadline);
    }

    /** Sends {@code body} there. */
    public static HttpCall post(URI url, String type, String body, Deadline deadline) {
        return get(url, deadline).with("Content-Type", type).sending("POST", body);
    }

    public HttpCall with(String name, String value) {
        Map<String, String> more = new LinkedHashMap<>(headers);
        more.put(name, value);
        return new HttpCall(method, url, more, body, deadline);
    }

    public HttpCall sending(String by, @Nullable String text) {
        return new HttpCall(by, url, headers, text, deadline);
    }
}
