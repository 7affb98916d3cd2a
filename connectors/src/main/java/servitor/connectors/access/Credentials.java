package servitor.connectors.access;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Locale;

/** How to sign in at an outside system. No secret ever shows in a text made of one. */
public sealed interface Credentials {
    /** Shorter ones stand in too many words. */
    int SHORTEST_HIDDEN = 4;

    /** What nobody may read; empty when there is nothing. */
    default String secret() {
        return "";
    }

    /** {@code text} from outside without the secret, should somebody have said it again. */
    default String hidden(String text) {
        return without(text, secret());
    }

    private static String without(String text, String secret) {
        return secret.length() < SHORTEST_HIDDEN ? text : text.replace(secret, "…");
    }

    /** Nobody signs in. */
    record None() implements Credentials {}

    /** A name and a password: HTTP Basic (RFC 7617), a directory's simple bind, a database's or terminal's sign-in. */
    record Password(String user, String secret) implements Credentials {
        @Override
        public String toString() {
            return "password of " + user;
        }
    }

    /** A name and a private key, in PEM as OpenSSH writes it or in PKCS #8, without a passphrase: a terminal's sign-in. */
    record Key(String user, String secret) implements Credentials {
        @Override
        public String toString() {
            return "key of " + user;
        }
    }

    /** A bearer token (RFC 6750). */
    record Bearer(String secret) implements Credentials {
        @Override
        public String toString() {
            return "bearer token";
        }
    }

    /** What messages to a web hook are signed with (Standard Webhooks): {@code whsec_} and the key in base 64. */
    record Signing(String secret) implements Credentials {
        public static final String PREFIX = "whsec_";

        /** Throws {@link IllegalArgumentException} when it isn't a key of from 16 to 64 bytes. */
        public Signing {
            int length = bytes(secret).length;
            if (length < 16 || length > 64) {
                throw new IllegalArgumentException("A signing secret has from 16 to 64 bytes.");
            }
        }

        /** What {@code body} is signed with, in base 64: an HMAC with SHA-256 of id, time and body. */
        public String sign(String id, String seconds, byte[] body) {
            return Base64.getEncoder()
                    .encodeToString(Digests.hmac(
                            "HmacSHA256",
                            bytes(secret),
                            (id + "." + seconds + ".").getBytes(StandardCharsets.UTF_8),
                            body));
        }

        private static byte[] bytes(String secret) {
            if (!secret.startsWith(PREFIX)) {
                throw new IllegalArgumentException("A signing secret begins with ‘" + PREFIX + "’.");
            }
            return Base64.getDecoder().decode(secret.substring(PREFIX.length()));
        }

        @Override
        public String toString() {
            return "signature";
        }
    }

    /** What messages of a system are signed with in a header of its own: an HMAC (RFC 2104) of the body. */
    record Hmac(String header, String secret) implements Credentials {
        private static final int SHORTEST = 16;

        /** Throws {@link IllegalArgumentException} when the secret could be guessed. */
        public Hmac {
            if (secret.length() < SHORTEST) {
                throw new IllegalArgumentException("A signing secret has at least " + SHORTEST + " characters.");
            }
        }

        /** The HMAC of {@code body}; {@code algorithm} is sha256, sha384 or sha512. */
        public byte[] sign(String algorithm, byte[] body) {
            return Digests.hmac(
                    "Hmac" + algorithm.toUpperCase(Locale.ROOT), secret.getBytes(StandardCharsets.UTF_8), body);
        }

        @Override
        public String toString() {
            return "signature in " + header;
        }
    }

    /** The end of the path of a web hook whose address is its secret. */
    record SecretPath(String secret) implements Credentials {
        /** Throws {@link IllegalArgumentException} when it isn't some steps of a path, all downwards. */
        public SecretPath {
            if (!secret.matches("[A-Za-z0-9_~=-]{1,200}(/[A-Za-z0-9_~=-]{1,200}){0,8}")) {
                throw new IllegalArgumentException(
                        "The end of an address is some words with slashes between them, as in T0/B0/x.");
            }
        }

        @Override
        public String toString() {
            return "end of the address";
        }
    }

    /** A key sent in a header of the system's own. */
    record ApiKey(String header, String secret) implements Credentials {
        @Override
        public String toString() {
            return "key in " + header;
        }
    }

    /**
     * What somebody allowed who signed in there in a browser (authorization code, RFC 6749 section 4.1, with PKCE, RFC 7636).
     *
     * @param client the id that the service is known by there
     * @param secret empty for a client that has none
     * @param resource what the tokens are for (RFC 8707); empty when that isn't said
     */
    record ByBrowser(URI tokenUrl, String client, String secret, String resource, KeptTokens tokens)
            implements Credentials {
        @Override
        public String hidden(String text) {
            String hidden = Credentials.without(text, secret);
            Tokens kept = tokens.now().orElse(null);
            return kept == null
                    ? hidden
                    : Credentials.without(Credentials.without(hidden, kept.access()), kept.refresh());
        }

        @Override
        public String toString() {
            return "sign-in by browser of client " + client;
        }
    }

    /** A token fetched with a client's own credentials (OAuth 2.0, RFC 6749 section 4.4). */
    record ClientCredentials(URI tokenUrl, String client, String secret, String scope) implements Credentials {
        @Override
        public String toString() {
            return "client credentials of " + client;
        }
    }
}
