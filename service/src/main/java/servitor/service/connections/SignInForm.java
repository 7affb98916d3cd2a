package servitor.service.connections;

import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.KeptTokens;
import servitor.connectors.signin.BrowserSignIn.Provider;

/**
 * How to sign in, as an admin gives it. Which fields are needed depends on the kind.
 *
 * @param kind {@code none}, {@code password}, {@code key} (of SSH), {@code bearer}, {@code api-key}, {@code signature}, {@code path} and {@code hmac} (of web
 *     hooks), {@code client-credentials} or
 *     {@code authorization-code} (somebody signs in there in a browser; what isn't given of the last six is found out)
 * @param issuer the authorization server's name for itself, whose description says the rest (RFC 8414)
 * @param resource what tokens are asked for (RFC 8707)
 */
public record SignInForm(
        String kind,
        @Nullable String user,
        @Nullable String secret,
        @Nullable String header,
        @Nullable String tokenUrl,
        @Nullable String scope,
        @Nullable String authorizeUrl,
        @Nullable String issuer,
        @Nullable String resource) {
    private static final int LONGEST = 4_000;
    static final String BY_BROWSER = "authorization-code";
    private static final Map<String, Set<String>> USED = Map.of(
            "none",
            Set.of(),
            "password",
            Set.of("user", "secret"),
            "key",
            Set.of("user", "secret"),
            "bearer",
            Set.of("secret"),
            "api-key",
            Set.of("header", "secret"),
            "signature",
            Set.of("secret"),
            "path",
            Set.of("secret"),
            "hmac",
            Set.of("header", "secret"),
            "client-credentials",
            Set.of("user", "secret", "tokenUrl", "scope"),
            BY_BROWSER,
            Set.of("user", "secret", "tokenUrl", "scope", "authorizeUrl", "issuer", "resource"));

    @Override
    public String toString() {
        return "sign-in of the kind " + kind;
    }

    /**
     * The credentials; throws {@link IllegalArgumentException} naming what is missing.
     *
     * @param tokens where those are kept that somebody's signing in there gave
     */
    Credentials credentials(KeptTokens tokens) {
        return switch (String.valueOf(kind)) {
            case "none" -> new Credentials.None();
            case "password" -> new Credentials.Password(needed("user", user), needed("secret", secret));
            case "key" -> new Credentials.Key(needed("user", user), pem());
            case "bearer" -> new Credentials.Bearer(needed("secret", secret));
            case "signature" -> new Credentials.Signing(needed("secret", secret));
            case "path" -> new Credentials.SecretPath(needed("secret", secret));
            case "hmac" -> new Credentials.Hmac(headerName(), needed("secret", secret));
            case "api-key" -> new Credentials.ApiKey(headerName(), needed("secret", secret));
            case "client-credentials" ->
                new Credentials.ClientCredentials(
                        URI.create(Address.http(needed("tokenUrl", tokenUrl))),
                        needed("user", user),
                        needed("secret", secret),
                        scope == null ? "" : scope);
            case BY_BROWSER -> byBrowser(tokens);
            default ->
                throw new IllegalArgumentException("‘" + kind
                        + "’ is no way of signing in; there are none, password, key, bearer, api-key, "
                        + "signature, path, hmac, client-credentials and authorization-code.");
        };
    }

    /** Throws {@link IllegalArgumentException} when something is given that this way of signing in has no use for. */
    void nothingUnused() {
        Set<String> used = USED.getOrDefault(String.valueOf(kind), Set.of());
        Map<String, String> given = new LinkedHashMap<>();
        given.put("user", text(user));
        given.put("secret", text(secret));
        given.put("header", text(header));
        given.put("tokenUrl", text(tokenUrl));
        given.put("scope", text(scope));
        given.put("authorizeUrl", text(authorizeUrl));
        given.put("issuer", text(issuer));
        given.put("resource", text(resource));
        given.forEach((name, value) -> {
            if (!value.isBlank() && !used.contains(name)) {
                throw new IllegalArgumentException(
                        "‘" + name + "’ says nothing for the way of signing in ‘" + kind + "’: leave it out.");
            }
        });
    }

    private static String text(@Nullable String value) {
        return value == null ? "" : value;
    }

    boolean isByBrowser() {
        return BY_BROWSER.equals(kind);
    }

    private Credentials.ByBrowser byBrowser(KeptTokens tokens) {
        Provider provider = provider();
        if (!provider.secret().isEmpty() && provider.client().isEmpty()) {
            throw new IllegalArgumentException("A secret needs the client's id: give it as ‘user’.");
        }
        return new Credentials.ByBrowser(
                URI.create(provider.tokenUrl()), provider.client(), provider.secret(), provider.resource(), tokens);
    }

    /** Who signs people in there, as far as it is known. */
    Provider provider() {
        return new Provider(
                httpOr(authorizeUrl),
                httpOr(tokenUrl),
                httpOr(issuer),
                httpOr(resource),
                given("scope", scope),
                given("user", user),
                given("secret", secret));
    }

    /** The same with everything that was found out. */
    SignInForm with(Provider found) {
        return new SignInForm(
                kind,
                found.client(),
                found.secret(),
                header,
                found.tokenUrl(),
                found.scope(),
                found.authorizeUrl(),
                found.issuer(),
                found.resource());
    }

    private static String httpOr(@Nullable String url) {
        return url == null || url.isBlank() ? "" : Address.http(url);
    }

    private static String given(String name, @Nullable String value) {
        return value == null || value.isBlank() ? "" : needed(name, value);
    }

    /** What may be shown of it. */
    String shown() {
        List<String> parts = new ArrayList<>(List.of(kind));
        if (user != null && !user.isBlank()) {
            parts.add("as " + user);
        }
        if (kind.equals("api-key") || kind.equals("hmac")) {
            parts.add("in " + header);
        }
        return kind.equals("none") ? "" : String.join(" ", parts);
    }

    private String headerName() {
        String name = needed("header", header);
        if (!name.matches("[A-Za-z0-9_-]{1,60}")) {
            throw new IllegalArgumentException("‘" + name + "’ can't be the name of a header.");
        }
        return name;
    }

    private String pem() {
        if (secret == null
                || secret.length() > LONGEST
                || !secret.strip().matches("(?s)-----BEGIN [A-Z ]{0,30}PRIVATE KEY-----.+")) {
            throw new IllegalArgumentException(
                    "‘secret’ must be a private key in PEM, beginning with ‘-----BEGIN … PRIVATE KEY-----’.");
        }
        return secret;
    }

    private static String needed(String name, @Nullable String value) {
        if (value == null
                || value.isBlank()
                || value.length() > LONGEST
                || value.chars().anyMatch(c -> c < ' ')) {
            throw new IllegalArgumentException("‘" + name + "’ is missing, too long, or holds a line break.");
        }
        return value;
    }
}
