package servitor.service.intake;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Intake;
import servitor.core.intake.OutsideEvent;
import servitor.core.intake.Schedule;
import servitor.core.json.Json;
import servitor.service.Unavailable;
import servitor.service.editions.Editions;
import servitor.service.ledger.Writer;

/**
 * Opens cases when their time has come: each firing once, also with several services on one database, and however often the service is
 * started anew. What was missed while no service ran is made up for, the latest of it when it is much.
 */
@Service
public class ScheduledIntake {
    private static final Logger LOG = LoggerFactory.getLogger(ScheduledIntake.class);
    /** More missed firings than these are left out, but for the latest. */
    private static final int MOST_MADE_UP = 24;

    private static final Duration AGAIN = Duration.ofMinutes(1);
    private static final int MOST_COUNTED = 10_000;
    private static final String SENDER = "schedule";

    private final Editions editions;
    private final ScheduleStore schedules;
    private final EventIntake events;
    private final Intakes intakes;
    private final Writer writer;
    private final Clock clock;
    /** Those that failed, and when they are tried again. Used by the dispatcher's thread alone. */
    private final Map<String, Instant> later = new HashMap<>();

    ScheduledIntake(
            Editions editions,
            ScheduleStore schedules,
            EventIntake events,
            Intakes intakes,
            Writer writer,
            Clock clock) {
        this.editions = editions;
        this.schedules = schedules;
        this.events = events;
        this.intakes = intakes;
        this.writer = writer;
        this.clock = clock;
    }

    /** Fires what is due. */
    public void look() {
        editions.current()
                .ifPresent(edition -> edition.handbook().intake().values().stream()
                        .filter(intake -> intake.schedule() != null)
                        .forEach(intake -> look(edition, intake)));
    }

    /** When an intake fires next; empty for never, and for what comes another way. */
    public Optional<Instant> next(Intake intake) {
        Schedule schedule = intake.schedule();
        return schedule == null
                ? Optional.empty()
                : editions.current()
                        .flatMap(edition -> schedule.after(
                                clock.instant(), edition.handbook().house().timeZone()));
    }

    private void look(Edition edition, Intake intake) {
        if (clock.instant().isBefore(later.getOrDefault(intake.name(), Instant.MIN))) {
            return;
        }
        try {
            ZoneId zone = edition.handbook().house().timeZone();
            List<Instant> due = due(intake, zone);
            if (due.size() > MOST_MADE_UP) {
                fire(intake, zone, due.get(due.size() - 1), due.size() - 1);
            } else {
                due.forEach(at -> fire(intake, zone, at, 0));
            }
        } catch (Unavailable e) {
            throw e;
        } catch (RuntimeException e) {
            LOG.error("What is due by the schedule ‘{}’ isn't seen to; it is tried again.", intake.name(), e);
            later.put(intake.name(), clock.instant().plus(AGAIN));
        }
    }

    /** The firings that have come and that nobody has seen to. */
    private List<Instant> due(Intake intake, ZoneId zone) {
        Schedule schedule = Objects.requireNonNull(intake.schedule());
        Instant now = clock.instant();
        Optional<ScheduleRow> seen =
                schedules.find(intake.name()).filter(row -> row.cron().equals(schedule.text()));
        if (seen.isEmpty()) {
            seen(intake, now);
            return List.of();
        }
        List<Instant> due = new ArrayList<>();
        Optional<Instant> next = schedule.after(seen.get().fired(), zone);
        while (next.isPresent() && !next.get().isAfter(now) && due.size() < MOST_COUNTED) {
            due.add(next.get());
            next = schedule.after(next.get(), zone);
        }
        return due;
    }

    /** Its time is the id of what becomes of it, so that it becomes one thing however often it is tried. */
    private void fire(Intake intake, ZoneId zone, Instant at, int missed) {
        intakes.find(intake.name()).ifPresent(known -> {
            Taken taken = events.take(known, Sender.ofSchedule(), List.of(event(intake, zone, at)))
                    .get(0);
            if (taken.outcome() == Taken.Outcome.INVALID) {
                LOG.warn("The schedule ‘{}’ opened no case: {}", intake.name(), taken.why());
            }
        });
        if (missed > 0) {
            LOG.warn(
                    "{} firings of the schedule ‘{}’ were missed, and all but the latest left out.",
                    missed,
                    intake.name());
        }
        seen(intake, at);
    }

    private void seen(Intake intake, Instant at) {
        writer.write(tx -> {
            schedules.put(new ScheduleRow(
                    intake.name(), Objects.requireNonNull(intake.schedule()).text(), at));
            return at;
        });
    }

    private static OutsideEvent event(Intake intake, ZoneId zone, Instant at) {
        ZonedDateTime local = at.atZone(zone);
        return new OutsideEvent(
                at.toString(),
                SENDER,
                "",
                intake.name(),
                at.toString(),
                Json.object()
                        .put("at", local.toOffsetDateTime().toString())
                        .put("date", local.toLocalDate().toString())
                        .put("time", local.format(DateTimeFormatter.ofPattern("HH:mm"))));
    }
}
