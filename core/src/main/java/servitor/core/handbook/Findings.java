package servitor.core.handbook;

import java.util.Comparator;
import java.util.List;
import servitor.core.handbook.Finding.Severity;

/** Collects findings while a handbook is read and checked, so that one pass reports all of them. */
final class Findings {
    private static final int MOST = 1_000;
    private final java.util.Set<Finding> list = new java.util.LinkedHashSet<>();

    void error(Place place, Code code, String what, String mend) {
        add(new Finding(Severity.ERROR, place, code, what, mend));
    }

    void warning(Place place, Code code, String what, String mend) {
        add(new Finding(Severity.WARNING, place, code, what, mend));
    }

    void hint(Place place, Code code, String what, String mend) {
        add(new Finding(Severity.HINT, place, code, what, mend));
    }

    private void add(Finding finding) {
        if (list.size() < MOST) {
            list.add(finding);
        }
    }

    List<Finding> sorted() {
        return list.stream()
                .sorted(Comparator.comparing(Finding::place).thenComparing(Finding::severity))
                .toList();
    }
}
