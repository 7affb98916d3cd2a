package servitor.connectors;

import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.util.Optional;

/**
 * An outside system as calls reach it.
 *
 * @param address where it is
 * @param credentials how to sign in there
 * @param inside whether it is meant to be in a private network; otherwise an address that leads into one isn't reached
 */
public record Access(URI address, Credentials credentials, boolean inside) {

    /** Why nothing may be sent there; empty when it may. */
    public Optional<String> refused() {
        if (inside || address.getHost() == null) {
            return Optional.empty();
        }
        try {
            for (InetAddress one : InetAddress.getAllByName(address.getHost())) {
                if (isPrivate(one)) {
                    return Optional.of(address.getHost()
                            + " leads into a private network, and the connection doesn't say that it should");
                }
            }
            return Optional.empty();
        } catch (UnknownHostException e) {
            return Optional.empty(); // it can't be reached either, which whoever tries says better
        }
    }

    private static boolean isPrivate(InetAddress address) {
        byte[] bytes = address.getAddress();
        boolean uniqueLocal = bytes.length == 16 && (bytes[0] & 0xfe) == 0xfc;
        boolean shared = bytes.length == 4 && (bytes[0] & 0xff) == 100 && (bytes[1] & 0xc0) == 64;
        return address.isLoopbackAddress()
                || address.isAnyLocalAddress()
                || address.isLinkLocalAddress()
                || address.isSiteLocalAddress()
                || uniqueLocal
                || shared;
    }
}
