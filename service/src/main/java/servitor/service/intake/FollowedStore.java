package servitor.service.intake;

import java.util.Optional;
import org.springframework.stereotype.Component;

/** How far followed files are read, as it is kept. */
@Component
public class FollowedStore {
    private final FollowedMapper rows;

    FollowedStore(FollowedMapper rows) {
        this.rows = rows;
    }

    public Optional<FollowedRow> find(String intake) {
        return Optional.ofNullable(rows.find(intake));
    }

    void put(FollowedRow row) {
        rows.put(row);
    }
}
