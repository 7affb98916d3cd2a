package servitor.connectors.sql;

import java.util.Properties;
import org.postgresql.ssl.WrappedFactory;
import servitor.connectors.access.Trust;

/** TLS of PostgreSQL's driver, taking the certificates that the connection names. The driver makes it, and checks the host's name. */
public final class PostgresqlTls extends WrappedFactory {
    static final String AUTHORITIES = "servitor.authorities";

    public PostgresqlTls(Properties settings) {
        factory = new Trust(settings.getProperty(AUTHORITIES, "")).context().getSocketFactory();
    }
}
