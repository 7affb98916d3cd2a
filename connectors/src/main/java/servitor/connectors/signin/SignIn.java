package servitor.connectors.signin;

import java.io.Serial;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Credentials.ByBrowser;
import servitor.connectors.access.Credentials.ClientCredentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Tokens;
import servitor.connectors.http.HttpCall;
import servitor.connectors.http.JsonOverHttp;
import servitor.connectors.signin.TokenEndpoint.Issued;
import servitor.core.engine.Reply;

/**
 * Sends requests that are signed in. Fetched tokens are used until shortly before they run out.
 */
public final class SignIn {
    private static final int UNAUTHORIZED = 401;
    /** How long before its end a token isn't used any more. */
    private static final Duration EARLY = Duration.ofSeconds(30);

    /** Tokens that somebody allowed are renewed by one caller at a time, whichever connector asks. */
    private static final Map<Client, ReentrantLock> RENEWALS = new ConcurrentHashMap<>();

    private final JsonOverHttp http = new JsonOverHttp();
    private final TokenEndpoint endpoint = new TokenEndpoint();
    private final Map<ClientCredentials, Token> own = new ConcurrentHashMap<>();

    /** {@code until} is told by what measures how time passes, whatever clocks say. */
    private record Token(String value, long until) {}

    private record Client(String tokenUrl, String id) {}

    /** Signing in failed, and nothing else was sent. */
    public static final class Failed extends Exception {
        @Serial
        private static final long serialVersionUID = 1L;

        private final boolean answered;

        Failed(String message) {
            this(message, false);
        }

        /**
         * @param answered whether whoever signs people in said no, so that asking again changes nothing
         */
        Failed(String message, boolean answered) {
            super(message);
            this.answered = answered;
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
        if (reply instanceof Reply.Failed failed && failed.status() == UNAUTHORIZED) {
            wasRefused(access);
        }
        return reply instanceof Reply.Failed failed
                ? new Reply.Failed(failed.status(), access.credentials().hidden(failed.detail()), failed.again())
                : reply;
    }

    /** A token that wasn't accepted isn't used again. */
    public void wasRefused(Access access) {
        if (access.credentials() instanceof ClientCredentials client) {
            own.remove(client);
        } else if (access.credentials() instanceof ByBrowser client) {
            client.tokens()
                    .now()
                    .filter(now -> !now.refresh().isEmpty())
                    .ifPresent(now -> client.tokens().renew(now, now.runOut()));
        }
    }

    /** The headers that sign a request in; throws {@link Failed} when a token can't be had by {@code deadline}. */
    public Map<String, String> headers(Access access, Deadline deadline) throws Failed, InterruptedException {
        Credentials credentials = access.credentials();
        if (credentials instanceof Credentials.Password password) {
            return Map.of("Authorization", "Basic " + base64(password.user() + ":" + password.secret()));
        } else if (credentials instanceof Credentials.Bearer bearer) {
            return bearer(bearer.secret());
        } else if (credentials instanceof Credentials.ApiKey key) {
            return Map.of(key.header(), key.secret());
        } else if (credentials instanceof ClientCredentials client) {
            return bearer(own(client, access, deadline));
        } else if (credentials instanceof ByBrowser client) {
            return bearer(allowed(client, access, deadline));
        }
        return Map.of();
    }

    private static Map<String, String> bearer(String token) {
        return Map.of("Authorization", "Bearer " + token);
    }

    private String own(ClientCredentials client, Access access, Deadline deadline) throws Failed, InterruptedException {
        Token known = own.get(client);
        if (known != null && System.nanoTime() - known.until() < 0) {
            return known.value();
        }
        Issued issued = endpoint.own(client, access, deadline);
        long lasts = Math.max(0, issued.lasts().minus(EARLY).toNanos());
        own.put(client, new Token(issued.access(), System.nanoTime() + lasts));
        return issued.access();
    }

    /** The token of whoever signed in, renewed by one caller while the others wait, as a refresh token may be good only once. */
    private String allowed(ByBrowser client, Access access, Deadline deadline) throws Failed, InterruptedException {
        ReentrantLock turn = RENEWALS.computeIfAbsent(
                new Client(client.tokenUrl().toString(), client.client()), key -> new ReentrantLock());
        if (!turn.tryLock(deadline.left().toNanos(), TimeUnit.NANOSECONDS)) {
            throw new Failed(client.tokenUrl().getAuthority() + " gave no token in time");
        }
        try {
            Tokens now = client.tokens()
                    .now()
                    .orElseThrow(() ->
                            new Failed("nobody has signed in there yet; an admin does by ‘connection sign-in’", true));
            return Instant.now().plus(EARLY).isBefore(now.until())
                    ? now.access()
                    : renewed(client, now, access, deadline).access();
        } finally {
            turn.unlock();
        }
    }

    private Tokens renewed(ByBrowser client, Tokens now, Access access, Deadline deadline)
            throws Failed, InterruptedException {
        if (now.refresh().isEmpty()) {
            if (Instant.now().isBefore(now.until())) {
                return now;
            }
            throw new Failed("the sign-in there has run out; an admin signs in again by ‘connection sign-in’", true);
        }
        try {
            Tokens renewed = tokens(endpoint.next(client, now.refresh(), access, deadline));
            client.tokens().renew(now, renewed);
            return renewed;
        } catch (Failed e) {
            Tokens kept = client.tokens().now().orElse(now);
            if (!kept.equals(now)) {
                return kept; // another service was faster, and made the refresh token void
            }
            throw e.answered
                    ? new Failed(
                            "the sign-in there doesn't hold any more (" + e.getMessage()
                                    + "); an admin signs in again by ‘connection sign-in’",
                            true)
                    : e;
        }
    }

    static Tokens tokens(Issued issued) {
        return new Tokens(issued.access(), Instant.now().plus(issued.lasts()), issued.refresh());
    }

    private static String base64(String text) {
        return Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8));
    }
}
