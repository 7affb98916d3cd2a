package servitor.service.connections;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials.ByBrowser;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Tokens;
import servitor.connectors.signin.BrowserSignIn;
import servitor.connectors.signin.BrowserSignIn.Provider;
import servitor.connectors.signin.SignIn;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ServitorSettings;
import servitor.service.connections.Connections.Shown;
import servitor.service.ledger.Writer;

/**
 * Admins sign in at an outside system in their own browser, for a connection. Coming back from there keeps nothing yet: whoever began
 * says so once more in the console. What is needed in between goes with the browser, sealed.
 */
@Service
public class BrowserSignIns {
    /** Where browsers come back to, below the service's own address: a page of the console. */
    public static final String PATH = "/connections/sign-in";

    private static final Duration ASK = Duration.ofSeconds(10);
    private static final Duration GOOD_FOR = Duration.ofMinutes(15);
    private static final String STATE = "a sign-in under way";
    private static final int LONGEST = 8_000;

    private final BrowserSignIn signIn = new BrowserSignIn();
    private final Connections connections;
    private final ConnectionStore store;
    private final KeyRing keys;
    private final Writer writer;
    private final ServitorSettings settings;
    private final Clock clock;

    BrowserSignIns(
            Connections connections,
            ConnectionStore store,
            KeyRing keys,
            Writer writer,
            ServitorSettings settings,
            Clock clock) {
        this.connections = connections;
        this.store = store;
        this.keys = keys;
        this.writer = writer;
        this.settings = settings;
        this.clock = clock;
    }

    /**
     * What an admin opens in a browser.
     *
     * @param provider the host that signs people in
     * @param client what the service is known as there
     */
    public record Begun(String address, String provider, String client) {}

    /** What a sign-in under way is about; it goes with the browser, sealed. */
    private record Pending(
            String connection, String person, String verifier, String tokenUrl, String client, Instant until) {}

    /**
     * Where to sign in for {@code name}; empty when it isn't set up.
     *
     * @throws IllegalArgumentException saying why nobody can sign in there
     */
    public Optional<Begun> begin(String name, String person) throws InterruptedException {
        Optional<ConnectionRow> row = store.find(name);
        if (row.isEmpty()) {
            return Optional.empty();
        }
        Provider provider = completed(row.get());
        String verifier = BrowserSignIn.verifier();
        Pending pending = new Pending(
                name,
                person,
                verifier,
                provider.tokenUrl(),
                provider.client(),
                clock.instant().plus(GOOD_FOR));
        URI address = BrowserSignIn.address(provider, redirect(), state(pending), verifier);
        return Optional.of(new Begun(address.toString(), address.getAuthority(), provider.client()));
    }

    /** What is found out, and a client that was registered, is kept with the connection. */
    private Provider completed(ConnectionRow row) throws InterruptedException {
        SignInForm form = connections
                .form(row)
                .filter(SignInForm::isByBrowser)
                .orElseThrow(() -> new IllegalArgumentException("‘" + row.name()
                        + "’ isn't signed in to by browser: set ‘authorization-code’ as its way of signing in."));
        try {
            Provider given = form.provider();
            Provider found =
                    signIn.completed(reached(connections.access(row), row.name()), given, redirect(), Deadline.in(ASK));
            if (!found.equals(given)) {
                keep(row, form.with(found));
            }
            return found;
        } catch (SignIn.Failed e) {
            throw failed(row.name(), e);
        }
    }

    private void keep(ConnectionRow row, SignInForm form) {
        writer.write(tx -> {
            ConnectionRow now = unchanged(row);
            store.put(now.sealed(connections.sealed(row.name(), form), now.tokens()));
            return now;
        });
    }

    private ConnectionRow unchanged(ConnectionRow row) {
        return store.find(row.name())
                .filter(now -> now.sealed().equals(row.sealed()) && now.url().equals(row.url()))
                .orElseThrow(() ->
                        new IllegalArgumentException("‘" + row.name() + "’ was set anew meanwhile: begin again."));
    }

    /**
     * What a browser came back with.
     *
     * @param state what it was sent there with
     * @param code stands for the tokens; missing when nobody signed in
     * @param iss who says so (RFC 9207); often missing
     * @param error why nobody signed in (RFC 6749, section 4.1.2.1)
     */
    public record Return(
            @Nullable String state,
            @Nullable String code,
            @Nullable String iss,
            @Nullable String error) {}

    /**
     * Fetches and keeps the tokens for what the browser of {@code person} came back with.
     *
     * @throws IllegalArgumentException saying why there are none
     */
    public Shown finish(Return back, String person) throws InterruptedException {
        Pending pending = pending(back.state(), person);
        ConnectionRow row = store.find(pending.connection())
                .orElseThrow(() -> new IllegalArgumentException("‘" + pending.connection() + "’ is gone."));
        SignInForm form = connections.form(row).filter(SignInForm::isByBrowser).orElseThrow(() -> begunElsewhere(row));
        Provider provider = form.provider();
        if (!provider.tokenUrl().equals(pending.tokenUrl())
                || !provider.client().equals(pending.client())) {
            throw begunElsewhere(row);
        }
        if (back.iss() != null && !provider.issuer().isEmpty() && !back.iss().equals(provider.issuer())) {
            throw new IllegalArgumentException("The answer isn't from " + provider.issuer() + ", where you were sent.");
        }
        if (back.code() == null || back.code().isBlank() || back.code().length() > LONGEST) {
            throw new IllegalArgumentException("Nobody signed in for ‘" + row.name() + "’: "
                    + (back.error() == null
                            ? "no code came back"
                            : back.error().replaceAll("[^\\w .,:-]", " ").strip())
                    + ".");
        }
        return keep(row, provider, tokens(row, back.code(), pending), person);
    }

    private static IllegalArgumentException begunElsewhere(ConnectionRow row) {
        return new IllegalArgumentException(
                "How ‘" + row.name() + "’ is signed in to was set anew meanwhile: begin again.");
    }

    private Tokens tokens(ConnectionRow row, String code, Pending pending) throws InterruptedException {
        Access access = reached(connections.access(row), row.name());
        try {
            return signIn.tokens(
                    (ByBrowser) access.credentials(), code, pending.verifier(), redirect(), access, Deadline.in(ASK));
        } catch (SignIn.Failed e) {
            throw failed(row.name(), e);
        }
    }

    private Shown keep(ConnectionRow row, Provider provider, Tokens tokens, String person) {
        return writer.write(tx -> {
            ConnectionRow signedIn = unchanged(row).signedIn(connections.sealed(row.name(), tokens), person, tx.now());
            store.put(signedIn);
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            TrailEvent.person(person),
                            TrailWord.CONNECTION_SIGNED_IN,
                            "",
                            Json.object()
                                    .put("connection", row.name())
                                    .put(
                                            "provider",
                                            URI.create(provider.tokenUrl()).getAuthority())
                                    .put("client", provider.client())));
            return Shown.of(signedIn);
        });
    }

    private static Access reached(Access access, String name) {
        access.refused().ifPresent(why -> {
            throw new IllegalArgumentException("‘" + name + "’ can't be reached: " + why + ".");
        });
        return access;
    }

    private static IllegalArgumentException failed(String name, SignIn.Failed e) {
        return new IllegalArgumentException("‘" + name + "’ can't be signed in to: " + e.getMessage() + ".", e);
    }

    private URI redirect() {
        return URI.create(settings.address().toString().replaceAll("/+$", "") + PATH);
    }

    private String state(Pending pending) {
        String sealed = keys.seal(STATE, Json.write(pending));
        return Base64.getUrlEncoder().withoutPadding().encodeToString(sealed.getBytes(StandardCharsets.UTF_8));
    }

    private Pending pending(@Nullable String state, String person) {
        Pending pending;
        try {
            byte[] sealed = Base64.getUrlDecoder().decode(state == null || state.length() > LONGEST ? "" : state);
            pending = Json.read(keys.open(STATE, new String(sealed, StandardCharsets.UTF_8)), Pending.class);
        } catch (RuntimeException e) {
            throw new IllegalArgumentException("This belongs to no sign-in that was begun here.", e);
        }
        if (!pending.person().equals(person)) {
            throw new IllegalArgumentException("Somebody else began this sign-in: begin your own.");
        }
        if (pending.until().isBefore(clock.instant())) {
            throw new IllegalArgumentException("This sign-in took longer than a quarter of an hour: begin again.");
        }
        return pending;
    }
}
