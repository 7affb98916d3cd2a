package servitor.core.rehearsal;

import java.util.List;
import java.util.Map;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;

/** All rehearsals of a handbook. */
public final class Rehearsals {
    private static final int MOST = 2;

    private Rehearsals() {}

    /** Plays all of them, in order of their names. */
    public static List<Played> play(Handbook handbook) {
        Edition edition = new Edition(1, handbook);
        return handbook.rehearsals().entrySet().stream()
                .sorted(Map.Entry.comparingByKey())
                .map(one -> Rehearsing.play(edition, one.getValue()))
                .toList();
    }

    /** What stops publishing: each rehearsal in which something isn't as it must be. */
    public static List<Finding> findings(List<Played> plays) {
        return plays.stream()
                .filter(play -> !play.passed())
                .map(Rehearsals::finding)
                .toList();
    }

    /** The differences that tell most; the play tells all. */
    private static String inShort(List<String> differences) {
        int more = differences.size() - MOST;
        return String.join("; ", differences.subList(0, Math.min(MOST, differences.size())))
                + (more > 0 ? "; and " + more + " more" : "");
    }

    private static Finding finding(Played play) {
        Rehearsal rehearsal = play.rehearsal();
        return new Finding(
                Finding.Severity.ERROR,
                rehearsal.place(),
                Code.NOT_AS_REHEARSED,
                "‘" + rehearsal.title() + "’ isn't as rehearsed: " + inShort(play.differences()) + ".",
                "Mend the page, or say in the rehearsal what must hold now.");
    }
}
