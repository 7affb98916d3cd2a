package servitor.connectors.http;

import java.net.URI;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * One request that asks for JSON.
 *
 * @param headers by name, in the order they are sent
 * @param body null for none
 * @param limit how long it may take, from the first try to connect to the last byte of the answer
 */
public record HttpCall(
        String method,
        URI url,
        Map<String, String> headers,
        @Nullable String body,
        Duration limit) {
    public HttpCall {
        headers = new LinkedHashMap<>(headers);
    }

    /** Asks for what is at {@code url}. */
    public static HttpCall get(URI url, Duration limit) {
        return new HttpCall("GET", url, Map.of("Accept", "application/json"), null, limit);
    }

    /** Sends {@code body} there. */
    public static HttpCall post(URI url, String type, String body, Duration limit) {
        return get(url, limit).with("Content-Type", type).sending("POST", body);
    }

    public HttpCall with(String name, String value) {
        Map<String, String> more = new LinkedHashMap<>(headers);
        more.put(name, value);
        return new HttpCall(method, url, more, body, limit);
    }

    public HttpCall sending(String by, @Nullable String text) {
        return new HttpCall(by, url, headers, text, limit);
    }
}
