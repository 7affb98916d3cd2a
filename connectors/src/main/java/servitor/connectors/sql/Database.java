package servitor.connectors.sql;

import java.io.Serial;
import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.sql.SQLException;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.connectors.access.Access;
import servitor.connectors.access.Route;

/**
 * The databases that queries may be asked of, each by its server and never by a file, a script or a setting of the driver: {@code
 * jdbc:h2:tcp://host:port/name}. A driver that isn't declared here isn't used, even where it is there; nor is {@code jdbc:h2:ssl},
 * whose driver doesn't look at the name on the certificate.
 */
public final class Database {
    private static final Pattern SERVER = Pattern.compile(
            "jdbc:(h2:tcp):(//([^/:]+|\\[[0-9a-fA-F:.]+])(?::(\\d{1,5}))?/([A-Za-z0-9_./-]{1,100}|mem:[A-Za-z0-9_-]{1,60}))");

    private Database() {}

    /** The connection leads nowhere that is talked to. */
    static final class NoWayThere extends SQLException {
        @Serial
        private static final long serialVersionUID = 1L;

        NoWayThere(String message) {
            super(message);
        }
    }

    /** Whether an address names a server of a declared database; nothing else is ever connected to. */
    public static boolean isServer(String url) {
        return SERVER.matcher(url).matches() && !url.contains("..");
    }

    /** What is connected to: for a host outside, the address that was looked at instead of its name. */
    static String url(Access access) throws SQLException {
        String url = access.address().toString();
        Matcher matcher = SERVER.matcher(url);
        if (!matcher.matches() || url.contains("..")) {
            throw new NoWayThere("only servers of declared databases are asked, as in jdbc:h2:tcp://host:9092/name");
        }
        URI server = URI.create(matcher.group(2));
        try {
            InetAddress address = Route.of(server.getHost(), access.inside())[0];
            String port = server.getPort() < 0 ? "" : ":" + server.getPort();
            return access.inside()
                    ? url
                    : "jdbc:" + matcher.group(1) + "://" + literal(address) + port + "/" + matcher.group(5);
        } catch (Route.LeadsInside e) {
            throw new NoWayThere(String.valueOf(e.getMessage()));
        } catch (UnknownHostException e) {
            throw new SQLException("the host isn't known", "08001", e);
        }
    }

    private static String literal(InetAddress address) {
        return address.getAddress().length == 16 ? "[" + address.getHostAddress() + "]" : address.getHostAddress();
    }
}
