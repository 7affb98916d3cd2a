package servitor.service.tries;

import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** What people try out; each sees their own. */
@Component
class TryStore {
    private final TryMapper tries;

    TryStore(TryMapper tries) {
        this.tries = tries;
    }

    /** Those of a person, the one worked on last first. */
    List<TryRow> all(String person) {
        return tries.all(person);
    }

    Optional<TryRow> find(String person, String id) {
        return Optional.ofNullable(tries.find(person, id));
    }

    void put(TryRow row) {
        tries.put(row);
    }

    void delete(String person, String id) {
        tries.delete(person, id);
    }
}
