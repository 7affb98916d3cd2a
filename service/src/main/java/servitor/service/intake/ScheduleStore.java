package servitor.service.intake;

import java.util.Optional;
import org.springframework.stereotype.Component;

/** When schedules have fired. */
@Component
public class ScheduleStore {
    private final ScheduleMapper schedules;

    ScheduleStore(ScheduleMapper schedules) {
        this.schedules = schedules;
    }

    Optional<ScheduleRow> find(String intake) {
        return Optional.ofNullable(schedules.find(intake));
    }

    void put(ScheduleRow row) {
        schedules.put(row);
    }
}
