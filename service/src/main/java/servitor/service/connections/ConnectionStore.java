package servitor.service.connections;

import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Outside systems by name, as they are kept. */
@Component
public class ConnectionStore {
    private final ConnectionMapper connections;

    ConnectionStore(ConnectionMapper connections) {
        this.connections = connections;
    }

    public Optional<ConnectionRow> find(String name) {
        return Optional.ofNullable(connections.find(name));
    }

    public List<ConnectionRow> all() {
        return connections.all();
    }

    /** Whether there was one. */
    boolean delete(String name) {
        return connections.delete(name) > 0;
    }

    void put(ConnectionRow row) {
        connections.put(row);
    }
}
