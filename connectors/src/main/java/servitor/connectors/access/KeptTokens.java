package servitor.connectors.access;

import java.util.Optional;

/** Where the tokens of one connection are kept, as each renewal may make the ones before void. */
public interface KeptTokens {
    /** Those that were kept last; empty while nobody has signed in. */
    Optional<Tokens> now();

    /** Keeps {@code renewed} in place of {@code before}, durably; does nothing when others are kept there meanwhile. */
    void renew(Tokens before, Tokens renewed);
}
