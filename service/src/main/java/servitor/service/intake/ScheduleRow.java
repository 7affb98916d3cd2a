package servitor.service.intake;

import java.time.Instant;

/** When a schedule fired last, or was first seen. */
record ScheduleRow(String intake, String cron, Instant fired) {}
