package servitor.core.handbook;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import servitor.core.handbook.Finding.Severity;

/** Collects findings while a handbook is read and checked, so that one pass reports all of them. */
final class Findings {
    private static final int MOST = 1_000;
    private final List<Finding> list = new ArrayList<>();

    void error(Place place, String code, String what, String mend) {
        add(new Finding(Severity.ERROR, place, code, what, mend));
    }

    void warning(Place place, String code, String what, String mend) {
        add(new Finding(Severity.WARNING, place, code, what, mend));
    }

    private void add(Finding finding) {
        if (list.size() < MOST && !list.contains(finding)) {
            list.add(finding);
        }
    }

    List<Finding> sorted() {
        return list.stream()
                .sorted(Comparator.comparing(Finding::place).thenComparing(Finding::severity))
                .toList();
    }
}
