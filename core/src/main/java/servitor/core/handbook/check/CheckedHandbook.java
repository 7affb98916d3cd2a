package servitor.core.handbook.check;

import java.util.List;
import java.util.Map;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.finding.Finding;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.read.HandbookReader;

/** A handbook with all that checking found. */
public record CheckedHandbook(Handbook handbook, List<Finding> findings) {

    public CheckedHandbook {
        findings = List.copyOf(findings);
    }

    /**
     * Reads and checks the files of a handbook folder. Never throws, whatever the files hold.
     *
     * @param files text by path relative to the folder, with forward slashes
     */
    public static CheckedHandbook of(Map<String, String> files) {
        Findings findings = new Findings();
        Handbook handbook = HandbookReader.read(files, findings);
        new Checker(handbook, findings).check();
        return new CheckedHandbook(handbook, findings.sorted());
    }

    /** Whether it may be published. */
    public boolean sound() {
        return findings.stream().noneMatch(finding -> finding.severity() == Finding.Severity.ERROR);
    }
}
