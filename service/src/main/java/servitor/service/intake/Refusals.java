package servitor.service.intake;

import java.util.HashMap;
import java.util.Map;

/** Counts what is refused until it is written: whoever sends what is refused must not keep the writer busy. */
final class Refusals {
    private Map<Reason, Long> counted = new HashMap<>();

    /** Why messages to an intake were refused. */
    record Reason(String intake, String words) {}

    synchronized void add(String intake, String why) {
        counted.merge(new Reason(intake, why), 1L, Long::sum);
    }

    /** What was counted since the last time. */
    synchronized Map<Reason, Long> take() {
        Map<Reason, Long> taken = counted;
        counted = new HashMap<>();
        return taken;
    }
}
