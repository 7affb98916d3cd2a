package servitor.connectors.sql;

import java.io.Serial;
import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.sql.Connection;
import java.sql.Driver;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.Route;

/**
 * The databases that queries may be asked of, each by its server and never by a file, a script or a setting of the driver but a few
 * that are safe: {@code jdbc:postgresql://host:port/name?sslmode=verify-full}, {@code jdbc:h2:tcp://host:port/name}, and others whose
 * driver was put into the folder of {@link Drivers}. No other driver is used, even where it is there; nor is {@code jdbc:h2:ssl}, whose driver doesn't look at the name on the
 * certificate.
 */
public final class Database {
    private static final Pattern H2 = Pattern.compile(
            "jdbc:(h2:tcp):(//([^/:]+|\\[[0-9a-fA-F:.]+])(?::(\\d{1,5}))?/([A-Za-z0-9_./-]{1,100}|mem:[A-Za-z0-9_-]{1,60}))");
    private static final Pattern POSTGRESQL = Pattern.compile(
            "jdbc:postgresql:(//(?:[^/:@?]+|\\[[0-9a-fA-F:.]+])(?::\\d{1,5})?/[A-Za-z0-9_.-]{1,100})(?:\\?([a-zA-Z0-9=&_,-]{1,200}))?");

    /** One whose driver lies in a folder: without any setting. */
    private static final Pattern OTHER = Pattern.compile(
            "jdbc:(?!h2:|postgresql:)[a-z][a-z0-9]{1,30}:(//(?:[^/:@?;]+|\\[[0-9a-fA-F:.]+])(?::\\d{1,5})?/[A-Za-z0-9_.-]{1,100})");

    /** What may be said of how PostgreSQL is talked to, and how each may be said. */
    private static final Map<String, Pattern> SETTINGS = Map.of(
            "sslmode", Pattern.compile("verify-full|disable"),
            "currentSchema", Pattern.compile("[A-Za-z0-9_,]{1,100}"));

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
        Matcher postgresql = POSTGRESQL.matcher(url);
        return !url.contains("..")
                && (H2.matcher(url).matches()
                        || OTHER.matcher(url).matches()
                        || postgresql.matches() && areSafe(postgresql.group(2)));
    }

    private static boolean areSafe(@Nullable String settings) {
        return settings == null
                || List.of(settings.split("&")).stream().allMatch(setting -> {
                    String[] parts = setting.split("=", 2);
                    Pattern form = SETTINGS.get(parts[0]);
                    return form != null
                            && parts.length == 2
                            && form.matcher(parts[1]).matches();
                });
    }

    static Connection connect(Access access, Drivers drivers, Deadline deadline) throws SQLException {
        String url = access.address().toString();
        if (!isServer(url)) {
            throw new NoWayThere(
                    "only servers of declared databases are asked, as in jdbc:postgresql://host:5432/name");
        }
        Properties settings = new Properties();
        if (access.credentials() instanceof Credentials.Password password) {
            settings.setProperty("user", password.user());
            settings.setProperty("password", password.secret());
        }
        if (OTHER.matcher(url).matches()) {
            return other(access, drivers, settings);
        }
        return H2.matcher(url).matches()
                ? DriverManager.getConnection(routed(access), settings)
                : postgresql(access, settings, deadline);
    }

    /** A driver of others looks names up by itself, so that it is let out to where names lead anywhere inside, and nowhere else. */
    private static Connection other(Access access, Drivers drivers, Properties settings) throws SQLException {
        if (!access.inside()) {
            throw new NoWayThere(
                    "a driver from the folder of drivers is used for databases inside only: set the connection with --inside");
        }
        String url = access.address().toString();
        Driver driver = drivers.taking(url)
                .orElseThrow(() -> new NoWayThere("there is no driver for " + url.substring(0, url.indexOf("://"))
                        + ": put its jar into the folder ‘drivers’ of the data folder, and start the service again"));
        Connection connection = driver.connect(url, settings);
        if (connection == null) {
            throw new SQLException("the driver doesn't take the address", "08001");
        }
        return connection;
    }

    /** For a host outside, the address that was looked at instead of its name. */
    private static String routed(Access access) throws SQLException {
        String url = access.address().toString();
        Matcher matcher = H2.matcher(url);
        if (!matcher.matches()) {
            throw new NoWayThere("‘" + url + "’ is no server of H2");
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

    /** TLS with a certificate of that host, unless a server inside says that there is none. */
    private static Connection postgresql(Access access, Properties settings, Deadline deadline) throws SQLException {
        String url = access.address().toString();
        boolean plain = url.contains("sslmode=disable");
        if (plain && !access.inside()) {
            throw new NoWayThere("a database outside is talked to over TLS: leave out sslmode=disable");
        }
        settings.setProperty("sslmode", plain ? "disable" : "verify-full");
        settings.setProperty("sslfactory", PostgresqlTls.class.getName());
        settings.setProperty(PostgresqlTls.AUTHORITIES, access.trust().pem());
        settings.setProperty("socketFactory", RoutedSockets.class.getName());
        settings.setProperty("socketFactoryArg", String.valueOf(access.inside()));
        settings.setProperty("stringtype", "unspecified"); // the server knows whether a text is a date or a UUID
        settings.setProperty("ApplicationName", "servitor");
        settings.setProperty(
                "loginTimeout", String.valueOf(Math.max(1, deadline.left().toSeconds())));
        settings.setProperty("connectTimeout", "3");
        settings.setProperty(
                "socketTimeout", String.valueOf(Math.max(1, deadline.left().toSeconds() + 1)));
        try {
            return DriverManager.getConnection(url, settings);
        } catch (SQLException e) {
            throw why(e);
        }
    }

    /** A driver says of whatever kept it from connecting that it did; what that was is told apart here. */
    private static SQLException why(SQLException e) {
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof Route.LeadsInside) {
                return new NoWayThere(String.valueOf(cause.getMessage()));
            }
        }
        return e;
    }
}
