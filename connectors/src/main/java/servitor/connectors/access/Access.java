package servitor.connectors.access;

import java.net.URI;
import java.net.UnknownHostException;
import java.util.Optional;

/**
 * An outside system as calls reach it.
 *
 * @param address where it is
 * @param credentials how to sign in there
 * @param inside whether it is meant to be in a private network; otherwise an address that leads into one isn't reached
 * @param trust whose certificates are taken
 */
public record Access(URI address, Credentials credentials, boolean inside, Trust trust) {
    /** The same, trusting whom the machine trusts. */
    public Access(URI address, Credentials credentials, boolean inside) {
        this(address, credentials, inside, Trust.MACHINE);
    }

    private static final String JDBC = "jdbc:";

    /** Why nothing may be sent there; empty when it may. Whoever connects asks {@link Route} once more for the address itself. */
    public Optional<String> refused() {
        Optional<String> host = host();
        if (inside || host.isEmpty()) {
            return Optional.empty();
        }
        try {
            Route.of(host.get(), false);
            return Optional.empty();
        } catch (Route.LeadsInside e) {
            return Optional.of(String.valueOf(e.getMessage()));
        } catch (UnknownHostException e) {
            return Optional.empty(); // it can't be reached either, which whoever tries says better
        }
    }

    /** The host that the address names; empty for a program of this machine. */
    private Optional<String> host() {
        String text = address.toString();
        URI named = text.startsWith(JDBC)
                ? URI.create(text.substring(text.indexOf("//") < 0 ? 0 : text.indexOf("//")))
                : address;
        return Optional.ofNullable(named.getHost());
    }
}
