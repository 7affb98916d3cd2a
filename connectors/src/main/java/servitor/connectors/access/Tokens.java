package servitor.connectors.access;

import java.time.Instant;

/**
 * What whoever signs people in gave for one who did (RFC 6749, section 5.1).
 *
 * @param access shown with every request until {@code until}
 * @param refresh gives the next ones; empty when there is none, so that somebody has to sign in again
 */
public record Tokens(String access, Instant until, String refresh) {
    /** The same, the access token not to be used any more. */
    public Tokens runOut() {
        return new Tokens(access, Instant.EPOCH, refresh);
    }

    @Override
    public String toString() {
        return "tokens until " + until;
    }
}
