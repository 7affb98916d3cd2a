package servitor.core.handbook.read;

import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import servitor.core.handbook.WorkingHours;
import servitor.core.handbook.WorkingHours.Span;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;

/** Reads when a desk works: {@code hours: { mon-fri: "08:00-17:00" }} and {@code holidays: [2026-12-25]}. */
final class HoursReader {
    private static final List<String> DAYS = List.of("mon", "tue", "wed", "thu", "fri", "sat", "sun");
    private static final String SPAN = "([0-2][0-9]:[0-5][0-9])\\s*-\\s*([0-2][0-9]:[0-5][0-9])";

    private final Findings findings;

    HoursReader(Findings findings) {
        this.findings = findings;
    }

    WorkingHours read(Keys desk) {
        Map<DayOfWeek, Span> days = new EnumMap<>(DayOfWeek.class);
        desk.entries("hours").forEach((names, value) -> days(names, value, days));
        Set<LocalDate> holidays = new HashSet<>();
        for (Yaml one : desk.value("holidays").items()) {
            try {
                holidays.add(LocalDate.parse(one.text()));
            } catch (DateTimeException e) {
                findings.error(
                        one.place(), Code.HOURS, "‘" + one.text() + "’ is no day.", "Write it as in 2026-12-25.");
            }
        }
        return new WorkingHours(days, holidays);
    }

    private void days(String names, Yaml value, Map<DayOfWeek, Span> days) {
        String[] range = names.split("-", -1);
        int first = DAYS.indexOf(range[0]);
        int last = DAYS.indexOf(range[range.length - 1]);
        if (range.length > 2 || first < 0 || last < first) {
            findings.error(
                    value.place(),
                    Code.HOURS,
                    "‘" + names + "’ is no day of the week, and no days in a row.",
                    "Write mon, tue, wed, thu, fri, sat or sun, or two of them as in ‘mon-fri’.");
            return;
        }
        try {
            if (!value.text().matches(SPAN)) {
                throw new DateTimeException("no span");
            }
            String[] times = value.text().split("\\s*-\\s*");
            Span span = new Span(LocalTime.parse(times[0]), LocalTime.parse(times[1]));
            for (int day = first; day <= last; day++) {
                days.put(DayOfWeek.of(day + 1), span);
            }
        } catch (DateTimeException | IllegalArgumentException e) {
            findings.error(
                    value.place(),
                    Code.HOURS,
                    "‘" + value.text() + "’ says no time of the day when work begins and a later one when it ends.",
                    "Write it as in \"08:00-17:00\", with quotes.");
        }
    }
}
