package servitor.connectors.access;

import java.io.Serial;
import java.net.Inet4Address;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.Arrays;

/**
 * Where a name leads. It is looked up once, and the very address that was looked at is the one that is talked to. Addresses inside
 * of a private network, or that only stand for one, are no way out unless the connection says that it leads inside.
 */
public final class Route {
    private Route() {}

    /** The name leads into a private network, and the connection doesn't say that it should. */
    public static final class LeadsInside extends UnknownHostException {
        @Serial
        private static final long serialVersionUID = 1L;

        LeadsInside(String host) {
            super(host + " leads into a private network, and the connection doesn't say that it should");
        }
    }

    /** The addresses of a host that may be talked to; throws {@link LeadsInside} when one of them may not. */
    public static InetAddress[] of(String host, boolean inside) throws UnknownHostException {
        InetAddress[] all = InetAddress.getAllByName(host);
        if (!inside && Arrays.stream(all).anyMatch(Route::leadsInside)) {
            throw new LeadsInside(host);
        }
        return all;
    }

    /** Whether an address is of a private network, of this machine, or nobody's (RFC 6890), or stands for such a one. */
    static boolean leadsInside(InetAddress address) {
        byte[] bytes = address.getAddress();
        if (address.isLoopbackAddress()
                || address.isAnyLocalAddress()
                || address.isLinkLocalAddress()
                || address.isSiteLocalAddress()
                || address.isMulticastAddress()) {
            return true;
        }
        return address instanceof Inet4Address ? isInside4(bytes) : isInside6(bytes);
    }

    private static boolean isInside4(byte[] bytes) {
        int first = bytes[0] & 0xff;
        int second = bytes[1] & 0xff;
        int third = bytes[2] & 0xff;
        return first == 0 // this network
                || first >= 240 // reserved
                || first == 100 && (second & 0xc0) == 64 // shared, RFC 6598
                || first == 192 && second == 0 && third == 0 // protocol assignments
                || first == 198 && (second & 0xfe) == 18; // benchmarks
    }

    private static boolean isInside6(byte[] bytes) {
        boolean uniqueLocal = (bytes[0] & 0xfe) == 0xfc;
        boolean sixToFour = starts(bytes, 0x20, 0x02); // RFC 3056: an IPv4 address in other clothes
        boolean teredo = starts(bytes, 0x20, 0x01, 0x00, 0x00);
        boolean nat64 = starts(bytes, 0x00, 0x64, 0xff, 0x9b); // RFC 6052 and RFC 8215
        boolean compatible = starts(bytes, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0);
        return uniqueLocal || sixToFour || teredo || nat64 || compatible;
    }

    private static boolean starts(byte[] bytes, int... with) {
        for (int i = 0; i < with.length; i++) {
            if ((bytes[i] & 0xff) != with[i]) {
                return false;
            }
        }
        return true;
    }
}
