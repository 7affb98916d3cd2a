package servitor.service.connections;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * Where an outside system is.
 *
 * @param atOnce how many calls may be under way over it at the same time
 * @param signIn what may be shown of how it is signed in to; empty when it isn't
 * @param sealed the credentials, encrypted; empty for none
 * @param inside whether it may lead into a private network
 * @param authorities whose certificates it takes, in PEM; empty for those of the machine
 * @param tokens what a sign-in there by browser gave, encrypted; empty for none
 * @param signedInBy who signed in there, and when; empty and null while nobody has
 * @param desk whose it is, or {@code house}; empty where nobody has said
 */
public record ConnectionRow(
        String name,
        String url,
        int atOnce,
        String signIn,
        String sealed,
        boolean inside,
        String authorities,
        String tokens,
        String signedInBy,
        @Nullable Instant signedInAt,
        String desk) {
    /** One that leads nowhere yet. */
    static ConnectionRow unset(String name, int atOnce) {
        return new ConnectionRow(name, "", atOnce, "", "", false, "", "", "", null, "");
    }

    /** The same with other credentials, both encrypted. */
    ConnectionRow sealed(String credentials, String givenTokens) {
        return new ConnectionRow(
                name, url, atOnce, signIn, credentials, inside, authorities, givenTokens, signedInBy, signedInAt, desk);
    }

    /** The same, signed in there by somebody. */
    ConnectionRow signedIn(String givenTokens, String person, Instant when) {
        return new ConnectionRow(
                name, url, atOnce, signIn, sealed, inside, authorities, givenTokens, person, when, desk);
    }

    @Override
    public String toString() {
        return "connection " + name + " to " + url;
    }
}
