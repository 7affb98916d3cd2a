package servitor.service.connections;

import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import servitor.connectors.access.Credentials;

/**
 * How to sign in, as an admin gives it. Which fields are needed depends on the kind.
 *
 * @param kind {@code none}, {@code password}, {@code key} (of SSH), {@code bearer}, {@code api-key} or {@code client-credentials}
 */
public record SignInForm(
        String kind,
        @Nullable String user,
        @Nullable String secret,
        @Nullable String header,
        @Nullable String tokenUrl,
        @Nullable String scope) {
    private static final int LONGEST = 4_000;

    @Override
    public String toString() {
        return "sign-in of the kind " + kind;
    }

    /** The credentials; throws {@link IllegalArgumentException} naming what is missing. */
    Credentials credentials() {
        return switch (String.valueOf(kind)) {
            case "none" -> new Credentials.None();
            case "password" -> new Credentials.Password(needed("user", user), needed("secret", secret));
            case "key" -> new Credentials.Key(needed("user", user), pem());
            case "bearer" -> new Credentials.Bearer(needed("secret", secret));
            case "api-key" -> new Credentials.ApiKey(headerName(), needed("secret", secret));
            case "client-credentials" ->
                new Credentials.ClientCredentials(
                        URI.create(Address.http(needed("tokenUrl", tokenUrl))),
                        needed("user", user),
                        needed("secret", secret),
                        scope == null ? "" : scope);
            default ->
                throw new IllegalArgumentException(
                        "‘" + kind
                                + "’ is no way of signing in; there are none, password, key, bearer, api-key and client-credentials.");
        };
    }

    /** What may be shown of it. */
    String shown() {
        List<String> parts = new ArrayList<>(List.of(kind));
        if (user != null && !user.isBlank()) {
            parts.add("as " + user);
        }
        if (kind.equals("api-key")) {
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
