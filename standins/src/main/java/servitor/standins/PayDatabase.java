package servitor.standins;

import java.net.URI;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import org.h2.engine.SysProperties;
import org.h2.tools.Server;

/** The pay office's database, in memory; the service signs in as somebody who may only read. */
public final class PayDatabase implements AutoCloseable {
    public static final String USER = "reader";
    public static final String SECRET = "pay-day";

    private final Server server;
    private final Connection keeper;
    private final URI url;

    static {
        System.setProperty("h2.bindAddress", "127.0.0.1"); // read once, when H2 is first used: see there, too
    }

    PayDatabase(int port) {
        if (!"127.0.0.1".equals(SysProperties.BIND_ADDRESS)) {
            throw new IllegalStateException(
                    "The stand-in pay database would listen on every address: start Java with -Dh2.bindAddress=127.0.0.1.");
        }
        try {
            server = Server.createTcpServer("-tcpPort", String.valueOf(port), "-ifNotExists")
                    .start();
            url = URI.create("jdbc:h2:tcp://127.0.0.1:" + server.getPort() + "/mem:pay-" + server.getPort());
            keeper = DriverManager.getConnection(url.toString(), "owner", "owner");
            try (Statement statement = keeper.createStatement()) {
                statement.execute("create table payslip (account varchar(20), paid_on date, gross decimal(10, 2), "
                        + "deductions decimal(10, 2), net decimal(10, 2), iban varchar(34), remark varchar(200))");
                statement.execute("insert into payslip values "
                        + "('E-217', date '2026-08-31', 2410.00, 512.40, 1897.60, 'XX12 0001 0002 0217', ''), "
                        + "('E-217', date '2026-09-30', 2410.00, 512.40, 1897.60, 'XX12 0001 0002 0217', ''), "
                        + "('E-217', date '2026-10-31', 2110.00, 512.40, 1597.60, 'XX12 0001 0002 0217', 'two night watches missing'), "
                        + "('E-118', date '2026-10-31', 2380.00, 501.10, 1878.90, 'XX12 0001 0002 0118', ''), "
                        + "('E-221', date '2026-10-31', 2295.00, 488.70, 1806.30, 'XX12 0001 0002 0221', ''), "
                        + "('E-223', date '2026-10-31', 3120.00, 702.00, 2418.00, 'XX12 0001 0002 0223', 'sea allowance'), "
                        + "('E-225', date '2026-10-31', 2150.00, 451.50, 1698.50, 'XX12 0001 0002 0225', '')");
                statement.execute("create user " + USER + " password '" + SECRET + "'");
                statement.execute("grant select on payslip to " + USER);
            }
        } catch (SQLException e) {
            throw new IllegalStateException("the stand-in pay database can't be started", e);
        }
    }

    public URI url() {
        return url;
    }

    @Override
    public void close() {
        try {
            keeper.close();
        } catch (SQLException e) {
            // it is in memory; it goes with the process
        }
        server.stop();
    }
}
