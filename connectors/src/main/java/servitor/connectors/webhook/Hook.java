package servitor.connectors.webhook;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.http.HttpCall;
import servitor.connectors.http.JsonOverHttp;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * Sends a message to a web hook. It carries an id that is the same for every try, so that a receiver knows a repetition, and a signature
 * of id, time and body where the connection has a secret for that (Standard Webhooks 1.0: headers {@code webhook-id}, {@code
 * webhook-timestamp}, {@code webhook-signature}).
 */
public final class Hook {
    private final JsonOverHttp http = new JsonOverHttp();

    /** Sends {@code body}; whatever is answered with a status of 2xx counts as taken. */
    public Reply send(Access access, String id, JsonNode body, Instant now, Deadline deadline)
            throws InterruptedException {
        byte[] bytes = Json.write(body).getBytes(StandardCharsets.UTF_8);
        String seconds = String.valueOf(now.getEpochSecond());
        HttpCall call = HttpCall.of("POST", address(access), deadline)
                .takingText()
                .sending("application/json", bytes)
                .with("webhook-id", id)
                .with("webhook-timestamp", seconds);
        if (access.credentials() instanceof Credentials.Signing signing) {
            call = call.with("webhook-signature", "v1," + signing.sign(id, seconds, bytes));
        } else if (access.credentials() instanceof Credentials.Bearer bearer) {
            call = call.with("Authorization", "Bearer " + bearer.secret());
        } else if (access.credentials() instanceof Credentials.ApiKey key) {
            call = call.with(key.header(), key.secret());
        }
        Reply reply = http.send(call, access.inside(), access.trust());
        boolean taken = reply instanceof Reply.Answered
                || reply instanceof Reply.Unreadable; // what it says to it is nobody's concern
        return taken ? new Reply.Answered(200, Json.object()) : hidden(access, reply);
    }

    /** Some hooks have their secret in the address. */
    private static URI address(Access access) {
        return access.credentials() instanceof Credentials.SecretPath path
                ? URI.create(access.address().toString().replaceAll("/+$", "") + "/" + path.secret())
                : access.address();
    }

    private static Reply hidden(Access access, Reply reply) {
        return reply instanceof Reply.Failed failed
                ? new Reply.Failed(failed.status(), access.credentials().hidden(failed.detail()), failed.again())
                : reply;
    }
}
