package servitor.service.connections;

import java.net.URI;
import java.net.URISyntaxException;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.json.Json;
import servitor.core.trail.Happening;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.ConnectionRow;
import servitor.service.ledger.Writer;

/** Where outside systems are. */
@Service
public class Connections {
    private static final int AT_ONCE = 8;
    private static final int MOST_AT_ONCE = 100;

    private final Ledger ledger;
    private final Writer writer;

    Connections(Ledger ledger, Writer writer) {
        this.ledger = ledger;
        this.writer = writer;
    }

    public Optional<URI> url(String name) {
        return ledger.connection(name).map(row -> URI.create(row.url()));
    }

    public List<ConnectionRow> all() {
        return ledger.connections();
    }

    /** How many calls may be under way over a connection at the same time. */
    public int atOnce(String name) {
        return ledger.connection(name).map(ConnectionRow::atOnce).orElse(AT_ONCE);
    }

    /**
     * Sets where {@code name} is; throws {@link IllegalArgumentException} when that can't be an HTTP address.
     *
     * @param atOnce how many calls may be under way at the same time; null leaves it as it was
     */
    public ConnectionRow put(String name, String url, @Nullable Integer atOnce, String person) {
        if (!name.matches("[a-z0-9][a-z0-9-]{0,59}")) {
            throw new IllegalArgumentException(
                    "‘" + name + "’ can't be the name of a connection: use lower-case letters, digits and ‘-’.");
        }
        if (atOnce != null && (atOnce < 1 || atOnce > MOST_AT_ONCE)) {
            throw new IllegalArgumentException("‘atOnce’ must be from 1 to " + MOST_AT_ONCE + ".");
        }
        ConnectionRow row = new ConnectionRow(name, checked(url), atOnce == null ? atOnce(name) : atOnce);
        writer.write(writing -> {
            writing.putConnection(row);
            writing.trail(
                    "",
                    "",
                    new Happening(
                            Happening.person(person),
                            "connection-set",
                            "",
                            Json.object()
                                    .put("connection", name)
                                    .put("url", row.url())
                                    .put("atOnce", row.atOnce())));
            return null;
        });
        return row;
    }

    private static String checked(String url) {
        try {
            URI uri = new URI(url);
            if (!List.of("http", "https").contains(String.valueOf(uri.getScheme()))
                    || uri.getHost() == null
                    || uri.getUserInfo() != null) {
                throw new IllegalArgumentException("‘" + url
                        + "’ must be an http or https address with a host, and without a name or password in it.");
            }
            return uri.toString();
        } catch (URISyntaxException e) {
            throw new IllegalArgumentException("‘" + url + "’ is not an address: " + e.getReason() + ".", e);
        }
    }
}
