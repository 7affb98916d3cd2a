package servitor.service.editions;

import java.util.List;
import servitor.core.handbook.finding.Finding;

/** A handbook with errors can't be published; carries all that was found. */
public final class HandbookRefused extends RuntimeException {
    private final transient List<Finding> findings;

    HandbookRefused(List<Finding> findings) {
        super("The handbook has errors, so nothing was published.");
        this.findings = List.copyOf(findings);
    }

    public List<Finding> findings() {
        return findings;
    }
}
