package servitor.core.handbook.finding;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import servitor.core.handbook.Place;
import servitor.core.handbook.finding.Finding.Severity;

/** Collects findings while a handbook is read and checked, so that one pass reports all of them. */
public final class Findings {
    private static final int MOST = 1_000;
    private final java.util.Set<Finding> list = new java.util.LinkedHashSet<>();

    public void error(Place place, Code code, String what, String remedy) {
        add(new Finding(Severity.ERROR, place, code, what, remedy));
    }

    public void warning(Place place, Code code, String what, String remedy) {
        add(new Finding(Severity.WARNING, place, code, what, remedy));
    }

    public void hint(Place place, Code code, String what, String remedy) {
        add(new Finding(Severity.HINT, place, code, what, remedy));
    }

    private void add(Finding finding) {
        if (list.size() < MOST) {
            list.add(finding);
        }
    }

    /** Reports {@code name} when it isn't among {@code known}; an empty name is a missing one, reported elsewhere. */
    public void unknown(Code code, String name, Collection<String> known, Place place) {
        if (!name.isEmpty() && !known.contains(name)) {
            String sort = code.word().replaceFirst("^unknown-", "").replace("option", "choice");
            error(place, code, "There is no " + sort + " ‘" + name + "’.", Suggest.remedy(name, known));
        }
    }

    /** All of them, in the order of the files. */
    public List<Finding> sorted() {
        return list.stream()
                .sorted(Comparator.comparing(Finding::place).thenComparing(Finding::severity))
                .toList();
    }
}
