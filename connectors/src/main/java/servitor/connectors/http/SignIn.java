package servitor.connectors.http;

import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpRequest;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import servitor.connectors.Access;
import servitor.connectors.Credentials;
import servitor.connectors.Credentials.ClientCredentials;
import servitor.core.engine.Reply;

/** Sends requests that are signed in. Fetched tokens are kept until shortly before they run out. */
public final class SignIn {
    private static final int UNAUTHORIZED = 401;
    private static final Duration LIMIT = Duration.ofSeconds(10);
    private static final long EARLY = 30;

    private final JsonOverHttp http = new JsonOverHttp();
    private final Map<ClientCredentials, Token> tokens = new ConcurrentHashMap<>();

    private record Token(String value, Instant until) {}

    /** Signing in failed, and nothing else was sent. */
    private static final class Failed extends Exception {
        Failed(String message) {
            super(message);
        }
    }

    /** Sends a request with the access's credentials added. */
    public Reply send(Access access, HttpRequest.Builder request) throws InterruptedException {
        try {
            add(request, access.credentials());
        } catch (Failed e) {
            return new Reply.NotSent(e.getMessage());
        }
        Reply reply = http.send(request.build());
        if (reply instanceof Reply.Failed failed
                && failed.status() == UNAUTHORIZED
                && access.credentials() instanceof ClientCredentials client) {
            tokens.remove(client); // a token that wasn't accepted isn't used again
        }
        return reply;
    }

    private void add(HttpRequest.Builder request, Credentials credentials) throws Failed, InterruptedException {
        if (credentials instanceof Credentials.Password password) {
            request.header("Authorization", "Basic " + base64(password.user() + ":" + password.secret()));
        } else if (credentials instanceof Credentials.Bearer bearer) {
            request.header("Authorization", "Bearer " + bearer.secret());
        } else if (credentials instanceof Credentials.ApiKey key) {
            request.header(key.header(), key.secret());
        } else if (credentials instanceof ClientCredentials client) {
            request.header("Authorization", "Bearer " + token(client));
        }
    }

    private String token(ClientCredentials client) throws Failed, InterruptedException {
        Token known = tokens.get(client);
        if (known != null && Instant.now().isBefore(known.until())) {
            return known.value();
        }
        String form =
                "grant_type=client_credentials" + (client.scope().isBlank() ? "" : "&scope=" + encode(client.scope()));
        URI url = client.tokenUrl();
        Reply reply = http.send(JsonOverHttp.request(url, LIMIT)
                .header("Content-Type", "application/x-www-form-urlencoded")
                .header("Authorization", "Basic " + base64(encode(client.client()) + ":" + encode(client.secret())))
                .POST(HttpRequest.BodyPublishers.ofString(form))
                .build());
        if (reply instanceof Reply.Answered answered
                && answered.body().path("access_token").isString()) {
            long lasts = Math.max(0, answered.body().path("expires_in").asLong(60));
            Token token = new Token(
                    answered.body().get("access_token").stringValue(),
                    Instant.now().plusSeconds(lasts - EARLY));
            tokens.put(client, token);
            return token.value();
        }
        throw new Failed(url.getAuthority() + " gave no token for the connection's client");
    }

    private static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    private static String base64(String text) {
        return Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8));
    }
}
