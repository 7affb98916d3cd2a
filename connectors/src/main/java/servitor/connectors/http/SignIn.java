package servitor.connectors.http;

import com.nimbusds.oauth2.sdk.AccessTokenResponse;
import com.nimbusds.oauth2.sdk.ClientCredentialsGrant;
import com.nimbusds.oauth2.sdk.ParseException;
import com.nimbusds.oauth2.sdk.Scope;
import com.nimbusds.oauth2.sdk.TokenRequest;
import com.nimbusds.oauth2.sdk.auth.ClientSecretBasic;
import com.nimbusds.oauth2.sdk.auth.Secret;
import com.nimbusds.oauth2.sdk.http.HTTPRequest;
import com.nimbusds.oauth2.sdk.id.ClientID;
import com.nimbusds.oauth2.sdk.token.AccessToken;
import com.nimbusds.oauth2.sdk.util.JSONObjectUtils;
import java.io.Serial;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Base64;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Credentials.ClientCredentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** Sends requests that are signed in. Fetched tokens are kept until shortly before they run out. */
public final class SignIn {
    private static final int UNAUTHORIZED = 401;
    private static final Duration LIMIT = Duration.ofSeconds(10);
    private static final long EARLY = 30;
    private static final long LONGEST_TOKEN = 86_400;
    /** How long a token is good for whose server doesn't say, in seconds. */
    private static final long UNSAID = 60;

    private final JsonOverHttp http = new JsonOverHttp();
    private final Map<ClientCredentials, Token> tokens = new ConcurrentHashMap<>();

    /** {@code until} is told by what measures how time passes, whatever clocks say. */
    private record Token(String value, long until) {}

    /** Signing in failed, and nothing else was sent. */
    public static final class Failed extends Exception {
        @Serial
        private static final long serialVersionUID = 1L;

        Failed(String message) {
            super(message);
        }
    }

    /** Sends a request with the access's credentials added. */
    public Reply send(Access access, HttpCall call) throws InterruptedException {
        HttpCall signed = call;
        try {
            for (Map.Entry<String, String> header :
                    headers(access, call.deadline()).entrySet()) {
                signed = signed.with(header.getKey(), header.getValue());
            }
        } catch (Failed e) {
            return new Reply.NotSent(String.valueOf(e.getMessage()));
        }
        Reply reply = http.send(signed, access.inside(), access.trust());
        if (reply instanceof Reply.Failed failed
                && failed.status() == UNAUTHORIZED
                && access.credentials() instanceof ClientCredentials client) {
            tokens.remove(client); // a token that wasn't accepted isn't used again
        }
        return reply instanceof Reply.Failed failed
                ? new Reply.Failed(failed.status(), access.credentials().hidden(failed.detail()), failed.again())
                : reply;
    }

    /** The headers that sign a request in; throws {@link Failed} when a token can't be had by {@code deadline}. */
    public Map<String, String> headers(Access access, Deadline deadline) throws Failed, InterruptedException {
        Credentials credentials = access.credentials();
        if (credentials instanceof Credentials.Password password) {
            return Map.of("Authorization", "Basic " + base64(password.user() + ":" + password.secret()));
        } else if (credentials instanceof Credentials.Bearer bearer) {
            return Map.of("Authorization", "Bearer " + bearer.secret());
        } else if (credentials instanceof Credentials.ApiKey key) {
            return Map.of(key.header(), key.secret());
        } else if (credentials instanceof ClientCredentials client) {
            return Map.of("Authorization", "Bearer " + token(client, access, deadline));
        }
        return Map.of();
    }

    private String token(ClientCredentials client, Access access, Deadline deadline)
            throws Failed, InterruptedException {
        Token known = tokens.get(client);
        if (known != null && System.nanoTime() - known.until() < 0) {
            return known.value();
        }
        URI url = client.tokenUrl();
        HTTPRequest form = request(client);
        HttpCall call = HttpCall.post(
                url, "application/x-www-form-urlencoded", String.valueOf(form.getBody()), deadline.orIn(LIMIT));
        Reply reply = http.send(
                call.with("Authorization", String.valueOf(form.getAuthorization())), access.inside(), access.trust());
        if (reply instanceof Reply.Answered answered) {
            Token token = read(url, answered.body());
            tokens.put(client, token);
            return token.value();
        }
        throw new Failed(
                reply instanceof Reply.Refused refused
                        ? refused.detail()
                        : url.getAuthority() + " gave no token for the connection's client");
    }

    /** What asks for a token of one's own (RFC 6749, 4.4), signed in by HTTP Basic (2.3.1). */
    private static HTTPRequest request(ClientCredentials client) {
        var builder = new TokenRequest.Builder(
                client.tokenUrl(),
                new ClientSecretBasic(new ClientID(client.client()), new Secret(client.secret())),
                new ClientCredentialsGrant());
        return (client.scope().isBlank() ? builder : builder.scope(Scope.parse(client.scope())))
                .build()
                .toHTTPRequest();
    }

    private static Token read(URI url, JsonNode body) throws Failed {
        try {
            AccessToken token = AccessTokenResponse.parse(JSONObjectUtils.parse(Json.write(body)))
                    .getTokens()
                    .getBearerAccessToken();
            long lasts = Math.min(LONGEST_TOKEN, token.getLifetime() > 0 ? token.getLifetime() : UNSAID);
            return new Token(
                    token.getValue(), System.nanoTime() + TimeUnit.SECONDS.toNanos(Math.max(0, lasts - EARLY)));
        } catch (ParseException | RuntimeException e) {
            throw new Failed(url.getAuthority() + " answered with something that is no bearer token of RFC 6749");
        }
    }

    private static String base64(String text) {
        return Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8));
    }
}
